// Long work whose answer comes as lines of JSON, the last one whole: run, progress, stop.
import { useCallback, useEffect, useRef, useState } from "react";
import { ask, type Streamed } from "./client";

export type Lines<T> = { last: T | null; running: boolean; problem: string | null };

/** Lines belong to what `of` names: when that changes they are taken away and the work is stopped. */
export function useLines<T>(of: string) {
  const none: Lines<T> = { last: null, running: false, problem: null };
  const [state, setState] = useState(none);
  const abort = useRef<AbortController | null>(null);
  const stop = useCallback(() => abort.current?.abort(), []);
  const clear = useCallback(() => {
    stop();
    setState({ last: null, running: false, problem: null });
  }, [stop]);
  useEffect(() => stop, [stop, of]);
  const [shownFor, setShownFor] = useState(of);
  if (shownFor !== of) {
    setShownFor(of);
    if (state.last || state.running || state.problem) setState(none);
  }
  const run = useCallback(
    async (path: Streamed, body: unknown) => {
      stop();
      const mine = new AbortController();
      abort.current = mine;
      setState({ last: null, running: true, problem: null });
      try {
        const response = await ask(path, body, mine.signal);
        const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
        let text = "";
        for (;;) {
          const { value, done } = await reader.read();
          text += value ?? "";
          const lines = text.split("\n");
          text = lines.pop() ?? "";
          const last = lines.at(-1);
          if (last && !mine.signal.aborted)
            setState({ last: JSON.parse(last) as T, running: !done, problem: null });
          if (done) break;
        }
        if (!mine.signal.aborted) setState((s) => ({ ...s, running: false }));
      } catch (error) {
        if (mine.signal.aborted) setState((s) => ({ ...s, running: false }));
        else
          setState({
            last: null,
            running: false,
            problem: error instanceof Error ? error.message : "It did not run.",
          });
      }
    },
    [stop],
  );
  return { ...state, run, stop, clear };
}
