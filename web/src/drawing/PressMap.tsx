// The press map: how long it is held along a logarithmic axis, a row a supply, spans of one outcome.
import { scaleLog } from "d3-scale";
import type { S } from "../api/client";
import { show } from "./format";

const [LEFT, RIGHT, ROW, GAP, HEAD, FOOT] = [62, 20, 22, 5, 22, 24];
const BEGINS: Record<S["PressRow"]["begin"], string> = { off: "From off", on: "From on" };

type Props = { map: S["PressMap"]; width: number; again?: boolean };

/** With `again`, the wait before the next press in place of how long one is held. */
export function PressMap({ map, width, again = false }: Props) {
  const asked = again ? map.again : map.rows;
  const x = scaleLog()
    .domain([again ? Math.min(map.low, 0.005) : map.low, map.high])
    .range([LEFT, width - RIGHT]);
  const heads = asked.map((row, k) => !again && (k === 0 || asked[k - 1]!.begin !== row.begin));
  const rows = asked.map((row, k) => ({
    row,
    headed: heads[k]!,
    at: k * (ROW + GAP) + HEAD * heads.slice(0, k + 1).filter(Boolean).length,
  }));
  const y = rows.length * (ROW + GAP) + HEAD * heads.filter(Boolean).length;
  const height = y + FOOT;
  const ticks = [0.001, 0.01, 0.1, 1, 10].filter((t) => t >= map.low * 0.99 && t <= map.high * 1.01);
  return (
    <svg className="press-map" width={width} height={height} role="img" aria-label={told(asked)}>
      {!again && <Usual x={x} usual={map.usual} height={height} y={y} />}
      {rows.map(({ row, at, headed }) => (
        <g key={`${row.begin} ${row.supply}`}>
          {headed && (
            <text x={0} y={at - 7} className="press-begin">
              {BEGINS[row.begin]}
            </text>
          )}
          <text x={LEFT - 8} y={at + 15} className="ruler" textAnchor="end">
            {show(row.supply, "V")}
          </text>
          {row.spans.map((span) => {
            const [a, b] = [x(span.low), x(span.high)];
            const quiet = span.kind === "nothing";
            const good = span.meant && !quiet;
            const fits = b - a > span.words.length * 7.4 + 8;
            return (
              <g key={span.low}>
                <title>{`${span.words}, ${again ? "after" : "held"} ${show(span.low, "s", 2)} to ${show(span.high, "s", 2)}`}</title>
                <rect
                  x={a}
                  y={at}
                  width={Math.max(1, b - a - 1)}
                  height={ROW}
                  fill={good ? "var(--fits)" : "var(--sheet)"}
                  stroke={good ? "none" : span.meant || quiet ? "var(--rule2)" : "var(--fails)"}
                  strokeWidth={1.4}
                />
                {fits && (
                  <text
                    x={(a + b) / 2}
                    y={at + 15}
                    textAnchor="middle"
                    className="press-words"
                    fill={good ? "var(--on-button)" : span.meant || quiet ? "var(--ink2)" : "var(--fails)"}
                  >
                    {span.words}
                  </text>
                )}
              </g>
            );
          })}
        </g>
      ))}
      {ticks.map((t) => (
        <text key={t} x={x(t)} y={height - 6} className="ruler" textAnchor="middle">
          {show(t, "s", 1)}
        </text>
      ))}
    </svg>
  );
}

type UsualProps = { x: (t: number) => number; usual: number; height: number; y: number };

/** Where a person's press lies. */
function Usual({ x, usual, height, y }: UsualProps) {
  return (
    <>
      <rect
        x={x(0.08)}
        y={HEAD - 6}
        width={x(0.3) - x(0.08)}
        height={height - HEAD - FOOT + 8}
        fill="var(--sunk)"
      />
      <text x={x(0.155)} y={HEAD - 9} className="ruler" textAnchor="middle">
        usual press
      </text>
      <path d={`M${x(usual)} ${HEAD - 6}V${y}`} stroke="var(--copper)" strokeWidth={1.6} />
    </>
  );
}

const told = (rows: readonly S["PressRow"][]) =>
  rows
    .map((r) => `${BEGINS[r.begin]}, ${show(r.supply, "V")}: ${r.spans.map((s) => s.words).join(", then ")}`)
    .join("; ");
