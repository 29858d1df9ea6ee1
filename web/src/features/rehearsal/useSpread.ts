// A rehearsal run many times: lines of JSON come in as the runs end; stopping closes the connection.
import { useCallback, useEffect, useRef, useState } from "react";
import { ask, type S } from "../../api/client";
import { useWorkspace } from "../workspace/useDesign";

export type Spread = {
  fan: S["Fan"] | null;
  done: number;
  of: number;
  running: boolean;
  problem: string | null;
};
const NONE: Spread = { fan: null, done: 0, of: 0, running: false, problem: null };

export function useSpread() {
  const { answer, opened, trying } = useWorkspace();
  const [state, setState] = useState<Spread>(NONE);
  const abort = useRef<AbortController | null>(null);
  const stop = useCallback(() => abort.current?.abort(), []);
  const clear = useCallback(() => {
    stop();
    setState(NONE);
  }, [stop]);
  useEffect(() => stop, [stop]);
  // A fan belongs to one document and one script: another answer takes it away.
  const of = `${opened.id}/${opened.stamp}/${JSON.stringify(trying)}/${JSON.stringify(answer.rehearsal?.script)}`;
  const [shownFor, setShownFor] = useState(of);
  if (shownFor !== of) {
    setShownFor(of);
    if (state !== NONE) setState(NONE);
  }
  useEffect(() => stop, [of, stop]);

  const run = async (wish: Partial<S["Wish"]>) => {
    stop();
    const mine = new AbortController();
    abort.current = mine;
    setState({ ...NONE, running: true });
    try {
      const response = await ask(
        "/api/spread",
        { document: opened.document, changes: trying ?? [], script: answer.rehearsal?.script ?? null, wish },
        mine.signal,
      );
      const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
      let text = "";
      for (;;) {
        const { value, done } = await reader.read();
        text += value ?? "";
        const lines = text.split("\n");
        text = lines.pop() ?? "";
        const last = lines.at(-1);
        if (last) {
          const step = JSON.parse(last) as { done: number; of: number; fan: S["Fan"] | null };
          setState({ fan: step.fan, done: step.done, of: step.of, running: !step.fan, problem: null });
        }
        if (done) break;
      }
    } catch (error) {
      if (mine.signal.aborted) setState((s) => ({ ...s, running: false }));
      else setState({ ...NONE, problem: error instanceof Error ? error.message : "It did not run." });
    }
  };
  return { ...state, run, stop, clear };
}
