// Long work as a job of the server: asked for, looked at while it runs, stopped; the newest step is whole.
import { useCallback, useEffect, useRef, useState } from "react";
import { call, client, Refused, type S } from "./client";

type Job = S["JobOut"];
export type Progress = { last: Job | null; running: boolean; problem: string | null };
const LOOK = 200; // how often it is looked at [ms]
const NONE: Progress = { last: null, running: false, problem: null };

/** The work belongs to what `of` names: when that changes it is taken away and stopped. */
export function useJob(of: string) {
  const [state, setState] = useState(NONE);
  const mine = useRef<{ id: string | null; wanted: boolean }>({ id: null, wanted: false });
  const stop = useCallback(() => {
    const { id, wanted } = mine.current;
    mine.current = { id: null, wanted: false };
    if (id && wanted)
      void client.DELETE("/api/jobs/{job_id}", { params: { path: { job_id: id } } }).catch(() => undefined);
    setState((s) => (s.running ? { ...s, running: false } : s));
  }, []);
  const clear = useCallback(() => {
    stop();
    setState(NONE);
  }, [stop]);
  useEffect(() => stop, [stop, of]);
  const [shownFor, setShownFor] = useState(of);
  if (shownFor !== of) {
    setShownFor(of);
    if (state.last || state.running || state.problem) setState(NONE);
  }
  const run = useCallback(
    async (ask: () => Promise<Job>) => {
      stop();
      const own = { id: null as string | null, wanted: true };
      mine.current = own;
      setState({ last: null, running: true, problem: null });
      try {
        let job = await ask();
        own.id = job.id;
        for (;;) {
          if (mine.current !== own) return;
          const over = job.state !== "waiting" && job.state !== "running";
          if (over) own.wanted = false;
          setState({ last: job, running: !over, problem: job.problem || null });
          if (over) return;
          await new Promise((done) => setTimeout(done, LOOK));
          if (mine.current !== own) return;
          job = await call(client.GET("/api/jobs/{job_id}", { params: { path: { job_id: job.id } } }));
        }
      } catch (error) {
        if (mine.current !== own) return;
        own.wanted = false;
        const said = error instanceof Refused || error instanceof Error ? error.message : "It did not run.";
        setState({ last: null, running: false, problem: said });
      }
    },
    [stop],
  );
  return { ...state, run, stop, clear };
}
