// What is done at the bench: steps and readings are sent, or kept while the server does not answer.
import { useCallback, useEffect, useMemo, useState } from "react";
import { call, client, Refused, Unreachable, type Problem, type S } from "../../api/client";
import { Queue } from "./kept";

export type Act =
  { do: "step"; step: string; done: boolean } | ({ do: "reading" } & S["ReadingIn"]) | { do: "undo" };
export type Kept = { acts: readonly Act[]; act: (act: Act) => Promise<Problem[] | null> };
const AGAIN = 4_000; // when it is tried again [ms]

function post(id: string, act: Act): Promise<S["Bench"]> {
  const at = { params: { path: { design_id: id } } };
  if (act.do === "undo") return call(client.DELETE("/api/designs/{design_id}/readings/last", at));
  if (act.do === "step") {
    const { step, done } = act;
    return call(client.POST("/api/designs/{design_id}/steps", { ...at, body: { step, done } }));
  }
  const { rung, text, over_range, skipped } = act;
  const body = { rung, text, over_range, skipped };
  return call(client.POST("/api/designs/{design_id}/readings", { ...at, body }));
}

export function useBench(
  id: string,
  onBench: (bench: S["Bench"]) => void,
  tell: (text: string) => void,
): Kept {
  const queue = useMemo(() => new Queue<Act>(`bench:${id}`), [id]);
  const [acts, setActs] = useState<readonly Act[]>(() => queue.all());
  const flush = useCallback(async () => {
    await queue.flush(
      async (act) => onBench(await post(id, act)),
      (_, error) => tell(`Not taken: ${error.message}`),
    );
    setActs(queue.all());
  }, [queue, id, onBench, tell]);
  useEffect(() => {
    if (acts.length === 0) return;
    const timer = setInterval(() => void flush(), AGAIN);
    return () => clearInterval(timer);
  }, [acts.length, flush]);
  const act = useCallback(
    async (one: Act): Promise<Problem[] | null> => {
      if (queue.all().length === 0) {
        try {
          onBench(await post(id, one));
          return null;
        } catch (error) {
          if (error instanceof Refused) return error.problems;
          if (!(error instanceof Unreachable)) throw error;
        }
      }
      queue.add(one);
      setActs(queue.all());
      void flush();
      return null;
    },
    [queue, id, onBench, flush],
  );
  return { acts, act };
}

/** The steps that are done, those kept on this computer counted in. */
export function stepsDone(done: readonly string[], acts: readonly Act[]): Set<string> {
  const found = new Set(done);
  for (const act of acts)
    if (act.do === "step") {
      if (act.done) found.add(act.step);
      else found.delete(act.step);
    }
  return found;
}

/** What was read at each rung and is still kept here. */
export function readingsKept(acts: readonly Act[]): Map<string, string> {
  const order: [string, string][] = [];
  for (const act of acts) {
    if (act.do === "reading")
      order.push([act.rung, act.over_range ? "OL" : act.skipped ? "skipped" : act.text]);
    if (act.do === "undo") order.pop();
  }
  return new Map(order);
}
