// What a time hangs on: each part alone as a bar about the time, the time over the supply, with heat and with a meter.
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { call, client, type S } from "../../api/client";
import { show } from "../../drawing/format";
import { Plot } from "../../drawing/Plot";
import { useWidth } from "../../drawing/useRoom";
import { Underway } from "./Underway";
import { useRested } from "./useRested";

const REST = 900; // how long nothing must change before it is run [ms]
const TEXT = 150; // what a bar's words take [px]
const ROW = 22;

const ask = (body: S["AnswerIn"]) => call(client.POST("/api/jobs/hangs", { body }));

export function HangsPane() {
  const { last, running, problem, stop } = useRested(ask, REST);
  const [box, width] = useWidth();
  const found = last?.hangs?.hangs ?? null;
  return (
    <section className="hangs-pane" aria-label="What the time hangs on" ref={box}>
      <h3>
        What it hangs on{" "}
        <small>{found ? "each part alone at its ends, in the circuit" : "every part is tried"}</small>
      </h3>
      {problem && <p role="status">{problem}</p>}
      {running && !found && (
        <Underway
          words={last?.hangs ? `${last.hangs.done} of ${last.hangs.of} runs` : "Trying parts …"}
          stop={stop}
        />
      )}
      {found && (
        <>
          <Bars found={found} width={width} />
          <Supply found={found} width={width} />
          <p>{told(found)}</p>
        </>
      )}
    </section>
  );
}

/** Heat and meter, in words. */
function told({ warmth, unit, metered, meter, value }: S["Hangs"]): string {
  const ends = [warmth[0], warmth.at(-1)];
  const heat = ends.every((p) => p)
    ? `At ${show(ends[0]!.at, "°C")} ${show(ends[0]!.value, unit)}, at ${show(ends[1]!.at, "°C")} ${show(ends[1]!.value, unit)}. `
    : "";
  if (metered == null) return heat;
  const same = Math.abs(metered / value - 1) < 0.002;
  return `${heat}With a meter of ${show(meter, "Ω")} at its capacitor ${same ? "the same" : show(metered, unit)}.`;
}

function Bars({ found, width }: { found: S["Hangs"]; width: number }) {
  const { levers, value, unit } = found;
  const ends = levers.flatMap((l) => [l.low, l.high]);
  const x = scaleLinear()
    .domain([Math.min(value * 0.98, ...ends), Math.max(value * 1.02, ...ends)])
    .range([TEXT, width - 64]);
  return (
    <svg
      className="hangs"
      width={width}
      height={levers.length * ROW + 22}
      role="img"
      aria-label={levers
        .map((l) => `${l.part} ${l.what}: ${show(l.low, unit)} to ${show(l.high, unit)}`)
        .join("; ")}
    >
      {levers.map((l, k) => (
        <g key={l.part + l.what} transform={`translate(0 ${k * ROW})`}>
          <text className="hangs-part" x={0} y={15}>
            <tspan fontWeight={700}>{l.part}</tspan>
            <tspan dx={6}>{l.what}</tspan>
          </text>
          <rect
            x={x(l.low)}
            y={5}
            width={Math.max(2, x(l.high) - x(l.low))}
            height={12}
            fill="var(--ink)"
            opacity={k === 0 ? 0.8 : 0.45}
          />
          <text className="ruler" x={width - 58} y={15}>
            ±{show((l.high - l.low) / 2, unit, 2)}
          </text>
        </g>
      ))}
      <path d={`M${x(value)} 0V${levers.length * ROW + 4}`} stroke="var(--copper)" strokeWidth={2} />
      <text className="ruler" x={x(value)} y={levers.length * ROW + 18} textAnchor="middle">
        {show(value, unit)}
      </text>
      {found.rest > 0 && (
        <text className="ruler" x={0} y={levers.length * ROW + 18}>
          {found.rest} more hardly move it
        </text>
      )}
    </svg>
  );
}

function Supply({ found, width }: { found: S["Hangs"]; width: number }) {
  const { supplies, unit } = found;
  if (supplies.length < 2) return null;
  const values = supplies.map((p) => p.value);
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const room = Math.max((most - least) * 0.4, most * 0.02);
  return (
    <Plot
      width={width}
      height={104}
      x={{
        low: supplies[0]!.at,
        high: supplies.at(-1)!.at,
        title: "supply",
        shown: (v) => show(v, "V"),
        ticks: 4,
      }}
      y={{
        low: least - room,
        high: most + room,
        title: "over the supply",
        shown: (v) => show(v, unit, 3),
        ticks: 2,
      }}
      label={`Over the supply: ${show(values[0]!, unit)} to ${show(values.at(-1)!, unit)}`}
    >
      {(x, y) => (
        <>
          <path
            d={
              line<S["Point"]>(
                (p) => x(p.at),
                (p) => y(p.value),
              )([...supplies]) ?? ""
            }
            fill="none"
            stroke="var(--ink)"
            strokeWidth={2}
          />
          {supplies.map((p) => (
            <circle key={p.at} cx={x(p.at)} cy={y(p.value)} r={2.6} fill="var(--ink)" />
          ))}
        </>
      )}
    </Plot>
  );
}
