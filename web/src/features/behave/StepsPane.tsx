// Step by step: which parts conduct and what stands where, at rest before each event of the rehearsal. A step
// sets the cursor, and the schematic lights with it.
import type { S } from "../../api/client";
import { shownValue } from "../../drawing/Lanes";
import { useDesk } from "../workspace/desk";
import { useNow } from "../rehearsal/Rehearsal";

const SWITCHES = /^(Q|D|Z|K|U)\d/; // references of what conducts or does not
const MOST = 9; // steps that are shown
const APART = 2e-3; // of the whole run: events nearer than this are one step

const PRESSED: Record<string, string> = { active: "pressed", idle: "let go" };

type Step = { at: number; words: string };

/** The moments at rest: just before each event, and at the end; each called by what led to it. */
export function stepsOf(r: S["Rehearsal"]): Step[] {
  const near = r.stop * APART;
  const buttons = new Set(r.actors.filter((a) => a.does === "press").map((a) => a.ref));
  const groups: { at: number; words: string[] }[] = [];
  for (const h of [...r.happenings].sort((a, b) => a.at - b.at)) {
    const last = groups.at(-1);
    const words = `${h.actor} ${(buttons.has(h.actor) && PRESSED[h.text]) || h.text}`;
    if (last && h.at - last.at < near) last.words.push(words);
    else groups.push({ at: h.at, words: [words] });
  }
  const ends = [...groups.map((g) => g.at), r.stop];
  const steps = ends.map((end, k) => ({
    at: Math.max(0, end - near / 2),
    words: k === 0 ? "At rest" : groups[k - 1]!.words.join(", "),
  }));
  return steps.filter((s, k) => k > 0 || s.at > 0).slice(0, MOST);
}

export function StepsPane({ r }: { r: S["Rehearsal"] }) {
  const now = useNow();
  const { cursor } = useDesk();
  const steps = stepsOf(r);
  const parts = r.conducting.filter((c) => SWITCHES.test(c.ref));
  const lanes = r.lanes.filter((l) => !l.digital);
  if (steps.length < 2 || parts.length === 0) return null;
  const nearest = steps.reduce((a, b) => (Math.abs(b.at - now) < Math.abs(a.at - now) ? b : a));
  return (
    <section className="steps-pane" aria-label="Step by step">
      <h3>
        Step by step <small>{r.script.title}; a step lights the schematic</small>
      </h3>
      <div className="steps-scroll" tabIndex={0} role="group" aria-label="Steps of the rehearsal">
        <table className="step-table">
          <thead>
            <tr>
              <th scope="col">After</th>
              {steps.map((s) => (
                <th key={s.at} scope="col">
                  <button aria-pressed={s === nearest} onClick={() => cursor.set(s.at)}>
                    {s.words}
                  </button>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {parts.map((p) => (
              <tr key={p.ref}>
                <th scope="row">{p.ref}</th>
                {steps.map((s) => {
                  const on = p.spans.some(([a, b]) => s.at >= a && s.at <= b);
                  return (
                    <td key={s.at} className={on ? "conducts" : ""}>
                      {on ? "conducts" : "off"}
                    </td>
                  );
                })}
              </tr>
            ))}
            {lanes.map((l) => (
              <tr key={l.id}>
                <th scope="row">{l.title}</th>
                {steps.map((s) => (
                  <td key={s.at}>{shownValue(l, s.at)}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
