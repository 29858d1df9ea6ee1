// Load: what is switched, how to measure it, and its contact against what that runs.
import { Glyph } from "../../drawing/Badge";
import { Gauge } from "../../drawing/Gauge";
import { Pictogram } from "../../drawing/Pictogram";
import { SchematicPane } from "../workspace/SchematicPane";
import type { FacetProps } from "../workspace/types";
import { useWorkspace } from "../workspace/useDesign";

function CoilPins() {
  return (
    <svg className="coil-pins" viewBox="0 0 300 150" role="img" aria-label="Meter leads on the two coil pins, nothing else connected">
      <rect x={24} y={22} width={146} height={112} rx={4} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2} />
      <rect x={34} y={58} width={20} height={40} fill="var(--wash-copper)" stroke="var(--copper)" strokeWidth={2} />
      <path d="M44 58V42M44 98v16" stroke="var(--copper)" strokeWidth={2} />
      <path d="M44 42V12H190M44 114v26H190" stroke="var(--ink)" strokeWidth={1.6} fill="none" />
      <path d="M54 78H86" stroke="var(--ink3)" strokeDasharray="4 4" />
      {[[44, 42], [44, 114]].map(([x, y]) => <path key={y} d={`M${x! - 6} ${y}l3 -5h6l3 5l-3 5h-6z`} fill="var(--copper)" />)}
      <path d="M92 78h14l34 -26M146 50h8M146 106h8" stroke="var(--ink2)" strokeWidth={1.6} fill="none" />
      <text x={86} y={98}>COM</text><text x={140} y={72}>NC</text><text x={140} y={98}>NO</text>
      <path d="M190 12l7 -10h74l7 10l-7 10h-74z" fill="var(--sheet)" stroke="var(--ink)" /><text x={234} y={16.5} textAnchor="middle" className="strong">red on 1</text>
      <path d="M190 140l7 -10h84l7 10l-7 10h-84z" fill="var(--ink)" /><text x={239} y={144.5} textAnchor="middle" className="strong" style={{ fill: "var(--paper)" }}>black on 2</text>
    </svg>
  );
}

export function Load(props: FacetProps) {
  const { answer, opened, commit } = useWorkspace();
  const { loads, verdicts } = answer.evaluation;
  const contact = verdicts.filter((v) => v.id.startsWith("contact_"));
  const load = opened.document.stages.findIndex((s) => loads.some((l) => l.kind === s.kind));
  const measurable = "resistance" in (opened.document.stages[load] ?? {});
  const path = `stages.${load}.resistance`;
  const measured = (opened.document.origins ?? {})[path] === "measured";
  const coil = opened.document.stages[load]?.kind === "relay_coil";
  return (
    <div className="load">
      <ul className="kinds" aria-label="Kinds of load">
        <li className="legend"><span className="thin" /> volts in <span className="thick" /> amps it takes</li>
        {loads.map((l) => (
          <li key={l.kind}>
            <button aria-pressed={l.in_use} onClick={() => !l.in_use && void commit(l.changes as { path: string; value: unknown }[], `${l.title} chosen`)}>
              <Pictogram name={l.kind} /><span><b>{l.title}</b><small>{l.purpose}</small></span>
            </button>
          </li>
        ))}
        <li className="later">Modules, solenoids and AC loads are not in this version.</li>
      </ul>
      <section className="measure">
        <h3>Measure the {coil ? "coil" : measurable ? "resistance" : "load"} <small>{coil ? "relay out, power off" : "power off, one lead free"}</small></h3>
        {coil && <CoilPins />}
        <p>{coil ? <><b>The coil is the pair that reads 20 Ω to 1k.</b> OL or 0: those are contact pins. Take the leads’ own resistance off.</> : measurable ? <>Ohms across its two leads. Take the leads’ own resistance off.</> : <>Break one lead, meter on amps in the gap, power on: read it once it has settled. Ohms tell little here: what it takes cold or at rest is not what it takes at work.</>}</p>
        {measurable && <label className="tick"><input type="checkbox" checked={measured} onChange={(e) => {
          const others = Object.entries(opened.document.origins ?? {}).filter(([p]) => p !== path);
          const origins = Object.fromEntries(e.target.checked ? [...others, [path, "measured"]] : others);
          void commit([{ path: "origins", value: origins }], e.target.checked ? "Load measured" : "Load not measured");
        }} /> I measured it</label>}
        {contact.length > 0 && (
          <>
            <h3>The contact <small>rating against use</small></h3>
            <ul className="contact">
              {contact.map((v) => <li key={v.id}><Glyph standing={v.standing} size={18} /><span><b>{v.title}</b><small>{v.sentence}</small></span><Gauge used={v.used} worst={v.used_worst} standing={v.standing} /></li>)}
            </ul>
            <p><b>COM</b> is the moving contact; it touches <b>NC</b> at rest and <b>NO</b> when the coil pulls. On NO, a dead pin stops the load.</p>
          </>
        )}
      </section>
      <SchematicPane {...props} />
    </div>
  );
}
