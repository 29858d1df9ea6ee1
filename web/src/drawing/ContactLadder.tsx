// The contact ladder: what a contact may carry and make for each type of load, and where this load runs and starts.
import { scaleLog } from "d3-scale";
import type { S } from "../api/client";
import { show } from "./format";
import { useHatch } from "./Hatch";

export function ContactLadder({ contact }: { contact: S["Ladder"] }) {
  const [W, L, R, step] = [330, 62, 8, 38];
  const [hatch, hatched] = useHatch(9, "var(--rule)");
  const all = contact.rungs.flatMap((r) => [r.least, r.run, r.make]);
  const x = scaleLog()
    .domain([Math.min(...all, contact.runs) / 3, Math.max(...all, contact.starts) * 1.6])
    .range([L, W - R]);
  const H = contact.rungs.length * step + 34;
  return (
    <svg
      className="contact-ladder"
      viewBox={`0 0 ${W} ${H}`}
      role="img"
      aria-label={`${contact.title}: ${contact.says}`}
    >
      <defs>{hatch}</defs>
      {x
        .ticks(5)
        .filter((t) => /^1/.test(t.toExponential()))
        .map((t) => (
          <g key={t}>
            <path d={`M${x(t)} 12V${H - 22}`} stroke="var(--rule)" />
            <text className="ruler" x={x(t)} y={H - 8} textAnchor="middle">
              {show(t, "A")}
            </text>
          </g>
        ))}
      {contact.rungs.map((r, k) => {
        const y = 14 + k * step,
          mine = r.use === contact.use,
          mid = y + 16;
        return (
          <g key={r.use}>
            {mine && <rect x={0} y={y - 3} width={W} height={step - 2} fill="var(--sheet)" />}
            {mine && <path d={`M1.5 ${y - 3}v${step - 2}`} stroke="var(--copper)" strokeWidth={3} />}
            <text className="lane-name" x={8} y={mid + 4} fontWeight={mine ? 700 : 400}>
              {r.title}
            </text>
            <rect x={L} y={mid - 6} width={W - R - L} height={12} fill={hatched} />
            <rect
              x={x(r.least)}
              y={mid - 6}
              width={Math.max(x(r.run) - x(r.least), 2)}
              height={12}
              fill={mine ? "var(--wash-teal)" : "var(--sunk)"}
            />
            <path
              d={`M${x(r.least)} ${mid - 8}v16M${x(r.run)} ${mid - 8}v16`}
              stroke="var(--ink2)"
              strokeWidth={mine ? 2.6 : 1.6}
            />
            {r.make > r.run && (
              <path
                d={`M${x(r.make)} ${mid - 8}v16`}
                stroke="var(--ink2)"
                strokeWidth={mine ? 2.6 : 1.6}
                strokeDasharray="3 2"
              />
            )}
            {mine && (
              <>
                {contact.starts > contact.runs && (
                  <path
                    d={`M${x(contact.runs)} ${mid}H${x(contact.starts)}M${x(contact.starts)} ${mid - 5}v10`}
                    stroke="var(--ink)"
                    strokeWidth={2}
                  />
                )}
                <path
                  d="M-3.5 -6h7L7 0L3.5 6h-7L-7 0z"
                  transform={`translate(${x(contact.runs)} ${mid})`}
                  fill={contact.runs > r.run || contact.runs < r.least ? "var(--fails)" : "var(--fits)"}
                />
                <text className="ruler" x={x(contact.runs)} y={y + 6} textAnchor="middle">
                  runs
                </text>
                {contact.starts > contact.runs && (
                  <text
                    className="ruler"
                    x={Math.min(x(contact.starts), W - 22)}
                    y={y + 6}
                    textAnchor="middle"
                  >
                    starts
                  </text>
                )}
              </>
            )}
          </g>
        );
      })}
    </svg>
  );
}
