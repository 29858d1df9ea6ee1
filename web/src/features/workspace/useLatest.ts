// One request in flight, the newest wish next: old ones are dropped, the last one wins.
import { useEffect, useRef, useState } from "react";

export function useLatest<W, R>(
  wish: W | null,
  key: string,
  run: (wish: W, signal: AbortSignal) => Promise<R>,
) {
  const [state, setState] = useState<{ result: R | null; error: unknown; key: string | null }>({
    result: null,
    error: null,
    key: null,
  });
  const slot = useRef<{
    busy: boolean;
    next: { wish: W; key: string } | null;
    alive: boolean;
    abort: AbortController | null;
  }>({ busy: false, next: null, alive: true, abort: null });
  const runner = useRef(run);
  useEffect(() => {
    runner.current = run;
  });
  useEffect(() => {
    const s = slot.current;
    s.alive = true;
    return () => {
      s.alive = false;
      s.abort?.abort();
    };
  }, []);
  useEffect(() => {
    if (wish === null) return;
    const s = slot.current;
    s.next = { wish, key };
    const pump = async () => {
      if (s.busy) return;
      s.busy = true;
      while (s.next && s.alive) {
        const { wish: now, key: nowKey } = s.next;
        s.next = null;
        s.abort = new AbortController();
        try {
          const result = await runner.current(now, s.abort.signal);
          if (s.alive) setState({ result, error: null, key: nowKey });
        } catch (error) {
          if (s.alive) setState((old) => ({ ...old, error, key: nowKey }));
        }
      }
      s.busy = false;
    };
    void pump();
    // The key stands for the wish: the same key is the same question.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return { ...state, fresh: state.key === key };
}
