// Behave: what the load does in each state of the signal, and how the two fit; what else a circuit could do is named, not pretended.
import { Glyph } from "../../drawing/Badge";
import { Pictogram } from "../../drawing/Pictogram";
import { SchematicPane } from "../workspace/SchematicPane";
import type { FacetProps } from "../workspace/types";
import { useWorkspace } from "../workspace/useDesign";

const LATER = [
  ["latch", "Stay on after I let go", "latches"],
  ["oneshot", "Turn off by itself", "one-shots, off-delays"],
  ["select", "One at a time", "interlocks"],
  ["blink", "Blink", "oscillators"],
  ["dim", "Dim it", "PWM"],
] as const;

export function Behave(props: FacetProps) {
  const { truth, joints } = useWorkspace().answer.evaluation;
  const follows = useWorkspace().facets.find((f) => f.facet === "behave")?.summary ?? "";
  return (
    <div className="guard behave">
      <ul className="kinds" aria-label="Behaviours">
        <li>
          <button aria-pressed>
            <Pictogram name="heater" />
            <span>
              <b>{follows}</b>
              <small>on for as long as it is meant</small>
            </span>
          </button>
        </li>
        {LATER.map(([name, title, what]) => (
          <li key={name} className="not-chosen">
            <Pictogram name={name} />
            <span>
              <b>{title}</b>
              <small>
                <Glyph standing="unknown" size={14} /> not chosen: {what} are not in this version
              </small>
            </span>
          </li>
        ))}
      </ul>
      <section className="truth" aria-label="What it does" tabIndex={0}>
        <h3>What it does when</h3>
        <table>
          <thead>
            <tr>
              <th>State</th>
              <th>Load</th>
              <th>Why</th>
            </tr>
          </thead>
          <tbody>
            {truth.map((t) => (
              <tr key={t.state}>
                <td>{t.state}</td>
                <td>
                  {t.standing && <Glyph standing={t.standing} size={16} />} {t.load}
                </td>
                <td>{t.why}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <h3>Where signal and drive meet</h3>
        <table>
          <tbody>
            {joints.map((j) => (
              <tr key={j.title}>
                <td>
                  <Glyph standing={j.standing} size={16} /> {j.title}
                </td>
                <td colSpan={2}>{j.text}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <SchematicPane {...props} />
    </div>
  );
}
