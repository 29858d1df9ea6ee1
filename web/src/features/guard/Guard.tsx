// Guard: what is fitted and what could be; the freewheel schools as points on the trade between release time and peak voltage.
import { scaleLinear } from "d3-scale";
import { useState } from "react";
import { Link } from "react-router";
import type { S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { show } from "../../drawing/format";
import { Gauge } from "../../drawing/Gauge";
import { SchematicPane } from "../workspace/SchematicPane";
import type { FacetProps } from "../workspace/types";
import { Explained } from "../terms";
import { useWorkspace } from "../workspace/useDesign";

function TradePlane({ trade, onPick }: { trade: S["Trade"]; onPick: (p: S["TradePoint"]) => void }) {
  const [W, H, L, B] = [360, 250, 34, 26];
  const right = Math.max(trade.release_limit * 1.25, ...trade.points.map((p) => p.release_worst * 1.08));
  const top = Math.max(trade.peak_limit * 1.4, ...trade.points.map((p) => p.peak * 1.1));
  const x = scaleLinear()
    .domain([0, right])
    .range([L, W - 6]);
  const y = scaleLinear()
    .domain([0, top])
    .range([H - B, 8]);
  const points = [...trade.points].sort((a, b) => a.peak - b.peak);
  // Labels of neighbours on the same side keep a line's distance.
  const labelY = new Map<string, number>();
  let above = -Infinity;
  for (const p of [...points].reverse()) {
    above = Math.max(y(p.peak) - 4, above + 18);
    labelY.set(p.school, above - y(p.peak));
  }
  return (
    <svg
      className="trade"
      viewBox={`0 0 ${W} ${H + 14}`}
      role="group"
      aria-label="Release time against peak voltage"
    >
      <defs>
        <pattern id="hatch-t" width={9} height={9} patternUnits="userSpaceOnUse">
          <path d="M0 9L9 0" stroke="var(--rule)" strokeWidth={1.2} />
        </pattern>
      </defs>
      <rect x={L} y={8} width={W - 6 - L} height={H - B - 8} fill="url(#hatch-t)" />
      <rect
        x={L}
        y={y(trade.peak_limit)}
        width={x(trade.release_limit) - L}
        height={y(0) - y(trade.peak_limit)}
        fill="var(--wash-teal)"
      />
      <path
        d={`M${L} ${y(trade.peak_limit)}H${x(trade.release_limit)}V${y(0)}`}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={2.6}
      />
      <polyline
        points={points
          .filter((p) => p.on_curve)
          .map((p) => `${x(p.release)},${y(p.peak)}`)
          .join(" ")}
        fill="none"
        stroke="var(--ink3)"
        strokeWidth={1.4}
      />
      {x.ticks(6).map((t) => (
        <text key={t} className="ruler" x={x(t)} y={H - 8} textAnchor="middle">
          {Number((t * 1e3).toPrecision(4))}
        </text>
      ))}
      {y.ticks(4).map((t) => (
        <text key={t} className="ruler" x={L - 6} y={y(t) + 4} textAnchor="end">
          {t}
        </text>
      ))}
      <text className="ruler" x={W - 6} y={H + 8} textAnchor="end">
        lets go after, ms
      </text>
      <text className="ruler" x={L} y={4} dominantBaseline="hanging" dx={6}>
        peak, V
      </text>
      {points.map((p) => {
        const flip = x(p.release) > W * 0.55;
        return (
          <g
            key={p.school}
            role="button"
            tabIndex={0}
            className="trade-point"
            aria-pressed={p.in_use}
            aria-label={`${p.title} ${show(p.release, "s", 2)}, ${show(p.peak, "V", 2)}: lets go after, peak`}
            transform={`translate(${x(p.release)} ${y(p.peak)})`}
            onClick={() => onPick(p)}
            onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && (e.preventDefault(), onPick(p))}
          >
            {p.in_use && (
              <path
                d="M-7 -12h14L14 0L7 12h-14L-14 0z"
                fill="none"
                stroke="var(--copper)"
                strokeWidth={2.4}
              />
            )}
            <path
              d={`M0 0H${Math.max(-60, Math.min(60, x(p.release_worst) - x(p.release)))}`}
              stroke="var(--ink)"
              strokeWidth={1.6}
            />
            <g transform="translate(-10 -9)">
              <Glyph standing={p.standing} size={20} />
            </g>
            <text
              className="trade-name"
              x={flip ? -18 : 18}
              y={labelY.get(p.school) ?? 5}
              textAnchor={flip ? "end" : "start"}
            >
              <tspan fontWeight={700}>{p.title}</tspan> {show(p.release, "s", 2)}, {show(p.peak, "V", 2)}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

/** A guard that is fitted, or could be: two of a kind may stand in one design. */
const nameOf = (g: S["Offered"]) => `${g.kind} ${g.block}`;

function GuardList({ open, onOpen }: { open: string; onOpen: (name: string) => void }) {
  const { answer } = useWorkspace();
  const { guards } = answer.evaluation;
  const row = (g: S["Offered"]) => (
    <li key={nameOf(g)}>
      <button aria-pressed={open === nameOf(g)} onClick={() => onOpen(nameOf(g))}>
        <Glyph standing={g.standing ?? "unknown"} />
        <span>
          <b>{g.title}</b>
          <small>{g.in_use ? g.summary : "nothing fitted"}</small>
        </span>
      </button>
    </li>
  );
  return (
    <ul className="guards" aria-label="Guards" tabIndex={0}>
      {guards.filter((g) => g.in_use).map(row)}
      <li className="legend">To add</li>
      {guards.filter((g) => !g.in_use).map(row)}
    </ul>
  );
}

/** One guard: what it is for, how it stands, and fitting it or taking it out. */
function OneGuard({ guard }: { guard: S["Offered"] }) {
  const { answer, commit, opened } = useWorkspace();
  const card = answer.evaluation.cards.filter((c) => c.block === guard.block);
  const verdicts = answer.evaluation.verdicts.filter((v) => guard.verdicts.includes(v.id));
  return (
    <section className="trade-box" aria-label={guard.title}>
      <h3>
        {guard.title} <small>{guard.in_use ? "fitted" : "not fitted"}</small>
      </h3>
      <p>
        <Explained text={guard.purpose} />
      </p>
      {guard.in_use && verdicts.length === 0 && guard.note && (
        <p>
          <b>Nothing to do here.</b> {guard.note}
        </p>
      )}
      <p>
        <b>Fit it when</b> {guard.choose.charAt(0).toLowerCase() + guard.choose.slice(1)} <b>Leave it when</b>{" "}
        {guard.avoid.charAt(0).toLowerCase() + guard.avoid.slice(1)}
      </p>
      <div className="actions">
        <button
          className={guard.in_use ? "secondary" : "primary"}
          onClick={() =>
            void commit(guard.changes, guard.in_use ? `${guard.title} taken out` : `${guard.title} added`)
          }
        >
          {guard.in_use ? "Take it out" : `Add it`}
        </button>
        {card.map((c) => (
          <Link key={c.path} className="link" to={`/design/${opened.id}/drive?part=${c.path}`}>
            {c.card_title}: what else would do
          </Link>
        ))}
      </div>
      {guard.in_use && (
        <ul className="contact">
          {verdicts.map((v) => (
            <li key={v.id}>
              <Glyph standing={v.standing} size={18} />
              <span>
                <b>{v.title}</b>
                <small>{v.sentence}</small>
              </span>
              <Gauge used={v.used} worst={v.used_worst} standing={v.standing} />
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

export function Guard(props: FacetProps) {
  const { answer, commit, settled, tryOut, trying } = useWorkspace();
  const { trade, guards } = answer.evaluation;
  const [picked, setPicked] = useState<string | null>(null);
  const open =
    guards.find((g) => nameOf(g) === picked) ??
    guards.find((g) => g.in_use && g.block === trade?.block) ??
    guards.find((g) => g.in_use) ??
    guards[0];
  const used = settled.evaluation.trade?.points.find((p) => p.in_use);
  const tried = trying ? trade?.points.find((p) => p.in_use) : undefined;
  return (
    <div className="guard">
      <GuardList open={open ? nameOf(open) : ""} onOpen={setPicked} />
      {open?.in_use && trade && trade.block === open.block ? (
        <section className="trade-box">
          <h3>
            Release against peak <small>highest supply, worst parts</small>
          </h3>
          <TradePlane
            trade={trade}
            onPick={(p) => (p.school === used?.school ? tryOut(null) : tryOut(p.changes))}
          />
          <p className="shift">
            {tried && used ? (
              <>
                Lets go in{" "}
                <b className="value">
                  {show(used.release, "s", 2)} → {show(tried.release, "s", 2)}
                </b>
                , peak{" "}
                <b className="value">
                  {show(used.peak, "V", 2)} → {show(tried.peak, "V", 2)}
                </b>
              </>
            ) : (
              <>
                In use: <b>{used?.title}</b>. Pick a point to see what it would do.
              </>
            )}
          </p>
          <div className="actions">
            {tried ? (
              <>
                <button
                  className="primary"
                  onClick={() => void commit(tried.changes, `${tried.title} fitted`)}
                >
                  Use {tried.title.toLowerCase()}
                </button>
                <button className="secondary" onClick={() => tryOut(null)}>
                  Keep {used?.title.toLowerCase()}
                </button>
                <span>
                  In drawer: <b className="value">{tried.stock ?? "–"}</b>
                </span>
              </>
            ) : (
              <button className="link" onClick={() => void commit(open.changes, `${open.title} taken out`)}>
                Take the stage out
              </button>
            )}
          </div>
        </section>
      ) : open ? (
        <OneGuard guard={open} />
      ) : (
        <section className="empty">
          <h3>Nothing to guard yet</h3>
          <p>Guards are offered once there is a load to switch.</p>
        </section>
      )}
      <SchematicPane {...props} />
    </div>
  );
}
