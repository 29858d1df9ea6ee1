// Drive: the schools side by side on the same gauges, or one part's window; the schematic beside it.
import type { S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { Gauge } from "../../drawing/Gauge";
import { useWorkspace } from "../workspace/useDesign";
import { SchematicPane } from "../workspace/SchematicPane";
import type { FacetProps } from "../workspace/types";
import { WindowPanel } from "./WindowPanel";

function Side({ school, end }: { school: S["School"]; end: "left" | "right" }) {
  const { commit } = useWorkspace();
  return (
    <div className={`school ${end}`}>
      <h3>
        {school.title}
        {school.in_use ? <span className="now">in use</span> : <button className="do" onClick={() => void commit(school.changes as { path: string; value: unknown }[], `${school.title} chosen`)}>Use the {school.title === "MOSFET" ? school.title : school.title.toLowerCase()}</button>}
      </h3>
      <p className={school.standing === "fails" ? "fails" : ""}><Glyph standing={school.standing} size={18} /> {school.note}</p>
    </div>
  );
}

export function FaceOff() {
  const { answer } = useWorkspace();
  const [a, b] = answer.evaluation.schools;
  if (!a || !b) return null;
  const ids = [...new Set([...a.verdicts, ...b.verdicts].map((v) => v.id))];
  const cell = (school: S["School"], id: string, flip: boolean) => {
    const v = school.verdicts.find((x) => x.id === id);
    return v ? <span className={`faced ${v.standing}`} title={v.sentence}><b className="value">{v.figures}</b><Gauge used={v.used} worst={v.used_worst} standing={v.standing} flip={flip} /></span> : <span className="faced none">–</span>;
  };
  return (
    <section className="face-off" aria-label="Schools compared">
      <div className="schools"><Side school={a} end="left" /><Side school={b} end="right" /></div>
      <ul>
        {ids.map((id) => (
          <li key={id}>{cell(a, id, true)}<span className="what">{({ fully_on: "Turned fully on", peak: "Peak voltage", pin_steady: "Pin, steady", pin_burst: "Pin, burst", switch_current: "Switch current", heat: "Heat in switch" } as Record<string, string>)[id] ?? id}</span>{cell(b, id, false)}</li>
        ))}
      </ul>
      <div className="foot">{[a, b].map((s) => <p key={s.kind}><b>Choose it when</b> {s.choose.charAt(0).toLowerCase() + s.choose.slice(1)} <small>{s.summary}; in drawer: <b className="value">{s.stock}</b></small></p>)}</div>
    </section>
  );
}

export function Drive(props: FacetProps) {
  const { answer } = useWorkspace();
  const picked = answer.evaluation.windows.find((w) => w.path === props.part);
  return (
    <div className="two">
      {picked ? <WindowPanel key={picked.path} window={picked} onClose={() => props.onPart(null)} /> : <FaceOff />}
      <SchematicPane {...props} />
    </div>
  );
}
