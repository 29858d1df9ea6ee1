// Behave: this design follows the pin; what else a circuit could do is named, and not pretended.
import { Glyph } from "../../drawing/Badge";
import { Pictogram } from "../../drawing/Pictogram";
import { SchematicPane } from "../workspace/SchematicPane";
import type { FacetProps } from "../workspace/types";
import { useWorkspace } from "../workspace/useDesign";

const LATER = [
  ["latch", "Stay on after I let go", "latches"], ["oneshot", "Turn off by itself", "one-shots, off-delays"], ["select", "One at a time", "interlocks"],
  ["blink", "Blink", "oscillators"], ["dim", "Dim it", "PWM"],
] as const;

function Safe({ verdict }: { verdict: string }) {
  const found = useWorkspace().answer.evaluation.verdicts.find((v) => v.id === verdict);
  if (!found) return <>off</>;
  return <><Glyph standing={found.standing} size={16} /> {found.standing === "fails" ? "may come on" : "off"}</>;
}

export function Behave(props: FacetProps) {
  return (
    <div className="guard behave">
      <ul className="kinds" aria-label="Behaviours">
        <li><button aria-pressed><Pictogram name="heater" /><span><b>Follows the pin</b><small>on while it is high</small></span></button></li>
        {LATER.map(([name, title, what]) => (
          <li key={name} className="not-chosen"><Pictogram name={name} /><span><b>{title}</b><small><Glyph standing="unknown" size={14} /> not chosen: {what} are not in this version</small></span></li>
        ))}
      </ul>
      <section className="truth">
        <h3>What it does when</h3>
        <table>
          <thead><tr><th>Pin</th><th>Load</th><th>Why</th></tr></thead>
          <tbody>
            <tr><td>low</td><td>off</td><td>the control is held at 0 V</td></tr>
            <tr><td>high</td><td>on</td><td>after the switch-on delay the rehearsal shows</td></tr>
            <tr><td>booting</td><td><Safe verdict="boot" /></td><td>the pull-down must win against the pin’s own resistor</td></tr>
            <tr><td>unplugged</td><td><Safe verdict="unplugged" /></td><td>the pull-down holds the control</td></tr>
          </tbody>
        </table>
        <p>Try “Pin boots, then drives” in the rehearsal below.</p>
      </section>
      <SchematicPane {...props} />
    </div>
  );
}
