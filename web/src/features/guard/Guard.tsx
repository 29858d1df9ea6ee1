// Guard: the freewheel schools as points on the trade between release time and peak voltage.
import { scaleLinear } from "d3-scale";
import type { S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { show } from "../../drawing/format";
import { SchematicPane } from "../workspace/SchematicPane";
import type { FacetProps } from "../workspace/types";
import { useWorkspace } from "../workspace/useDesign";

function TradePlane({ trade, onPick }: { trade: S["Trade"]; onPick: (p: S["FreewheelPoint"]) => void }) {
  const [W, H, L, B] = [360, 250, 34, 26];
  const right = Math.max(trade.release_limit * 1.25, ...trade.points.map((p) => p.release_worst * 1.08));
  const top = Math.max(trade.peak_limit * 1.4, ...trade.points.map((p) => p.peak * 1.1));
  const x = scaleLinear().domain([0, right]).range([L, W - 6]);
  const y = scaleLinear().domain([0, top]).range([H - B, 8]);
  const points = [...trade.points].sort((a, b) => a.peak - b.peak);
  // Labels of neighbours on the same side keep a line's distance.
  const labelY = new Map<string, number>();
  let above = -Infinity;
  for (const p of [...points].reverse()) {
    above = Math.max(y(p.peak) - 4, above + 18);
    labelY.set(p.school, above - y(p.peak));
  }
  return (
    <svg className="trade" viewBox={`0 0 ${W} ${H + 14}`} role="group" aria-label="Release time against peak voltage">
      <defs><pattern id="hatch-t" width={9} height={9} patternUnits="userSpaceOnUse"><path d="M0 9L9 0" stroke="var(--rule)" strokeWidth={1.2} /></pattern></defs>
      <rect x={L} y={8} width={W - 6 - L} height={H - B - 8} fill="url(#hatch-t)" />
      <rect x={L} y={y(trade.peak_limit)} width={x(trade.release_limit) - L} height={y(0) - y(trade.peak_limit)} fill="var(--wash-teal)" />
      <path d={`M${L} ${y(trade.peak_limit)}H${x(trade.release_limit)}V${y(0)}`} fill="none" stroke="var(--ink)" strokeWidth={2.6} />
      <polyline points={points.map((p) => `${x(p.release)},${y(p.peak)}`).join(" ")} fill="none" stroke="var(--ink3)" strokeWidth={1.4} />
      {x.ticks(6).map((t) => <text key={t} className="ruler" x={x(t)} y={H - 8} textAnchor="middle">{Number((t * 1e3).toPrecision(4))}</text>)}
      {y.ticks(4).map((t) => <text key={t} className="ruler" x={L - 6} y={y(t) + 4} textAnchor="end">{t}</text>)}
      <text className="ruler" x={W - 6} y={H + 8} textAnchor="end">lets go after, ms</text>
      <text className="ruler" x={L} y={4} dominantBaseline="hanging" dx={6}>peak, V</text>
      {points.map((p) => {
        const flip = x(p.release) > W * 0.55;
        return (
          <g key={p.school} role="button" tabIndex={0} className="trade-point" aria-pressed={p.in_use} aria-label={`${p.title}: lets go after ${show(p.release, "s")}, peak ${show(p.peak, "V")}`}
            transform={`translate(${x(p.release)} ${y(p.peak)})`} onClick={() => onPick(p)} onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && (e.preventDefault(), onPick(p))}>
            {p.in_use && <path d="M-7 -12h14L14 0L7 12h-14L-14 0z" fill="none" stroke="var(--copper)" strokeWidth={2.4} />}
            <path d={`M0 0H${Math.max(-60, Math.min(60, x(p.release_worst) - x(p.release)))}`} stroke="var(--ink)" strokeWidth={1.6} />
            <g transform="translate(-10 -9)"><Glyph standing={p.standing} size={20} /></g>
            <text className="trade-name" x={flip ? -18 : 18} y={labelY.get(p.school) ?? 5} textAnchor={flip ? "end" : "start"}><tspan fontWeight={700}>{p.title}</tspan> {show(p.release, "s", 2)}, {show(p.peak, "V", 2)}</text>
          </g>
        );
      })}
    </svg>
  );
}

export function Guard(props: FacetProps) {
  const { answer, commit, settled, tryOut, trying } = useWorkspace();
  const trade = answer.evaluation.trade;
  const mine = answer.evaluation.verdicts.filter((v) => v.facet === "guard" || ["unplugged", "boot", "plug_in"].includes(v.id));
  if (!trade) {
    return (
      <div className="two">
        <section className="empty"><h3>Nothing to catch</h3><p>This load stores no energy worth speaking of: when the switch opens, the current just stops. A freewheel part is not needed. Long leads and motors are another matter.</p></section>
        <SchematicPane {...props} />
      </div>
    );
  }
  const used = settled.evaluation.trade?.points.find((p) => p.in_use);
  const tried = trying ? trade.points.find((p) => p.in_use) : undefined;
  return (
    <div className="guard">
      <ul className="guards" aria-label="Guards" tabIndex={0}>
        {mine.map((v) => <li key={v.id}><Glyph standing={v.standing} /><span><b>{v.title}</b><small>{v.sentence}</small></span></li>)}
        <li className="later">Fuse, reverse battery, snubbers and soft start are not in this version.</li>
      </ul>
      <section className="trade-box">
        <h3>Release against peak <small>full battery, worst parts</small></h3>
        <TradePlane trade={trade} onPick={(p) => (p.school === used?.school ? tryOut(null) : tryOut(p.changes as { path: string; value: unknown }[]))} />
        <p className="shift">
          {tried && used ? (
            <>Lets go in <b className="value">{show(used.release, "s", 2)} → {show(tried.release, "s", 2)}</b>, peak <b className="value">{show(used.peak, "V", 2)} → {show(tried.peak, "V", 2)}</b></>
          ) : (
            <>In use: <b>{used?.title}</b>. Pick a point to see what it would do.</>
          )}
        </p>
        <div className="actions">
          {tried && (
            <>
              <button className="primary" onClick={() => void commit(tried.changes as { path: string; value: unknown }[], `${tried.title} fitted`)}>Use {tried.title.toLowerCase()}</button>
              <button className="secondary" onClick={() => tryOut(null)}>Keep {used?.title.toLowerCase()}</button>
              <span>In drawer: <b className="value">{tried.school === "none" ? "–" : tried.stock}</b></span>
            </>
          )}
        </div>
      </section>
      <SchematicPane {...props} />
    </div>
  );
}
