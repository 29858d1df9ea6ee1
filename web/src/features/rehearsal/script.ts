// Changing a script: it is kept with the design, so that what is typed is read, refused and undone like any other value.
import type { S } from "../../api/client";
import { useWorkspace } from "../workspace/useDesign";

export type Script = S["Script"];
export type Event = Script["events"][number];

export const OWN = "Own script";

export function useScript() {
  const { answer, opened, shown, setScript, commit, stale } = useWorkspace();
  const own = opened.document.script ?? null;
  // While the answer is on its way, what was just moved counts and not what stood before.
  const script = (stale ? (shown ?? own) : null) ?? answer.rehearsal?.script ?? shown;
  const keep = async (next: unknown, label: string) => {
    const problems = await commit([{ path: "script", value: next }], label);
    // One that is dragged on meanwhile stays in the hand.
    if (!problems) setScript((held) => (held === shown ? null : held));
    return problems;
  };
  return {
    own,
    shownOwn: own !== null && shown === null,
    /** Takes typed events; null when they were understood, else what was not. */
    change: (events: readonly unknown[]) => keep({ ...script, title: OWN, events }, "Events changed"),
    /** Moves one event while it is dragged; nothing is kept until it is dropped. */
    move: (index: number, at: number) => {
      if (!script) return;
      const events = script.events.map((e, k) => (k === index ? { ...e, at } : e)) as Script["events"];
      setScript({ ...script, title: OWN, events });
    },
    drop: () => shown?.title === OWN && void keep(shown, "Event moved"),
    leave: () => void keep(null, "Own script left"),
  };
}
