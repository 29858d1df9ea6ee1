// Changing a script: one event at a time, read and refused by the server, each change undoable.
import { useState } from "react";
import { call, client, Refused, type Problem, type S } from "../../api/client";
import { useWorkspace } from "../workspace/useDesign";

export type Script = S["Script"];
export type Event = Script["events"][number];

export const OWN = "Own script";

export function useScript() {
  const { answer, setScript } = useWorkspace();
  const [past, setPast] = useState<Script[]>([]);
  const script = answer.rehearsal?.script ?? null;
  const put = (next: Script) => {
    if (script) setPast((p) => [...p.slice(-49), script]);
    setScript(next);
  };
  /** Takes typed events; null when they were understood, else what was not. */
  const change = async (events: unknown[], stop?: unknown): Promise<Problem[] | null> => {
    if (!script) return null;
    try {
      const next = { ...script, title: OWN, events, stop: stop ?? script.stop };
      put(
        await call(
          client.POST("/api/script", { body: { script: next as unknown as Record<string, unknown> } }),
        ),
      );
      return null;
    } catch (error) {
      if (error instanceof Refused) return error.problems;
      return [
        {
          field: "",
          message: "No answer from the server. What you typed is kept.",
          got: "",
          allowed: "",
          suggestion: null,
        },
      ];
    }
  };
  /** Moves one event while it is dragged: no reading back, the numbers are plain. */
  const move = (index: number, at: number) => {
    if (!script) return;
    const events = script.events.map((e, k) => (k === index ? { ...e, at } : e)) as Script["events"];
    setScript({ ...script, title: OWN, events });
  };
  const hold = () => script && setPast((p) => [...p.slice(-49), script]);
  const undo = () => {
    const last = past.at(-1);
    if (!last) return;
    setPast(past.slice(0, -1));
    setScript(last);
  };
  return {
    script,
    change,
    move,
    hold,
    undo,
    canUndo: past.length > 0,
    own: script?.title === OWN,
    reset: () => {
      setPast([]);
      setScript(null);
    },
  };
}
