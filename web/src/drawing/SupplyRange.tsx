// What the supply really does, against what the load needs and may get. The curve only leads through the three voltages given.
import { scaleLinear } from "d3-scale";
import type { S } from "../api/client";
import { show } from "./format";
import { useHatch } from "./Hatch";

function Tag({ x, y, text }: { x: number; y: number; text: string }) {
  const w = text.length * 7.6 + 20;
  return (
    <g transform={`translate(${x} ${y})`}>
      <path
        d={`M${-w / 2} 0l8 -10h${w - 16}l8 10l-8 10h${-(w - 16)}z`}
        fill="var(--sheet)"
        stroke="var(--ink2)"
      />
      <text className="tag" y={4.5} textAnchor="middle" fill="var(--ink)">
        {text}
      </text>
    </g>
  );
}

export function SupplyRange({ range }: { range: S["Range"] }) {
  const [W, H, L, R] = [560, 190, 34, 190];
  const [hatch, hatched] = useHatch(9, "var(--rule)");
  const values = [range.low, range.high, range.needs, range.most, range.cold_needs].filter(
    (v): v is number => v != null,
  );
  const span = Math.max(...values) - Math.min(...values) || 1;
  const y = scaleLinear()
    .domain([Math.min(...values) - span * 0.18, Math.max(...values) + span * 0.18])
    .range([H - 10, 8]);
  const right = W - R;
  const [x0, x1, x2] = [L + 18, L + (right - L) * 0.66, L + (right - L) * 0.84];
  const path = range.battery
    ? `M${x0} ${y(range.typical)}C${x0 + 70} ${y(range.typical) + 6} ${x1 - 60} ${y(range.low) - 26} ${x1} ${y(range.low)}C${x1 + 3} ${y(range.typical)} ${x2 - 16} ${y(range.high)} ${x2} ${y(range.high)}H${right}`
    : `M${x0} ${y(range.typical)}L${x1} ${y(range.low)}L${x2} ${y(range.high)}H${right}`;
  const needs = range.needs ?? y.domain()[0]!;
  const most = range.most ?? y.domain()[1]!;
  // Words on the right keep a line's distance.
  const words = [
    range.most != null ? { v: range.most, text: range.most_words } : null,
    range.needs != null
      ? { v: range.needs, text: range.cold_needs != null ? "pulls in, hot" : "needed" }
      : null,
    range.cold_needs != null ? { v: range.cold_needs, text: "pulls in, cold" } : null,
  ].filter((w): w is { v: number; text: string } => w !== null);
  let last = -Infinity;
  return (
    <svg
      className="supply-range"
      viewBox={`0 0 ${W} ${H}`}
      role="img"
      aria-label={`Supply ${show(range.low, "V")} to ${show(range.high, "V")}`}
    >
      <defs>{hatch}</defs>
      <rect x={L} y={4} width={right - L} height={H - 12} fill={hatched} />
      <rect
        x={L}
        y={y(most)}
        width={right - L}
        height={Math.max(y(needs) - y(most), 0)}
        fill="var(--wash-teal)"
      />
      {range.most != null && <path d={`M${L} ${y(most)}H${right}`} stroke="var(--ink)" strokeWidth={2.6} />}
      {range.needs != null && <path d={`M${L} ${y(needs)}H${right}`} stroke="var(--ink)" strokeWidth={2.6} />}
      {range.cold_needs != null && (
        <path d={`M${L} ${y(range.cold_needs)}H${right}`} stroke="var(--ink2)" strokeDasharray="5 4" />
      )}
      {y.ticks(5).map((t) => (
        <text key={t} className="ruler" x={L - 6} y={y(t) + 4} textAnchor="end">
          {t}
        </text>
      ))}
      <path d={path} fill="none" stroke="var(--ink)" strokeWidth={2.2} />
      {(
        [
          [x0, range.typical, "typical", 1, -18],
          [x1, range.low, "low", -1, 0],
          [x2, range.high, "high", -1, -18],
        ] as const
      ).map(([x, v, word, side, dy]) => (
        <g key={word}>
          <circle cx={x} cy={y(v)} r={4.5} fill="var(--ink)" />
          <Tag x={x + side * 52} y={Math.max(y(v) + dy, 14)} text={`${Number(v.toPrecision(4))} ${word}`} />
        </g>
      ))}
      {words.map((w) => {
        const at = Math.max(y(w.v) + 4, last + 16);
        last = at;
        return (
          <text key={w.text} className="trade-name" x={right + 10} y={at}>
            <tspan className="value" fontWeight={600}>
              {show(w.v, "V")}
            </tspan>{" "}
            {w.text}
          </text>
        );
      })}
    </svg>
  );
}
