// A part's legs in the order of its marked face, with the seats they go to, and how a meter finds them.
import type { S } from "../../api/client";
import { StepIcon } from "./StepIcon";

const LEG: Record<string, string> = {
  g: "gate",
  d: "drain",
  s: "source",
  b: "base",
  c: "collector",
  e: "emitter",
  a: "anode",
  k: "cathode",
  coil: "coil",
  com: "COM",
  no: "NO",
  nc: "NC",
  either: "any",
  "+": "plus",
  "-": "minus",
  "~": "AC",
};

/** A leg's name in short, as it stands in a list. */
export const shortLeg = (l: string) => (l.length > 1 ? (LEG[l] ?? l) : l.toUpperCase());

export function Legs({ part }: { part: S["Part"] }) {
  const legs = part.legs ?? [];
  if (legs.length < 2 || legs[0] === "either") return <p>Either way round.</p>;
  const w = Math.max(120, legs.length * 44);
  return (
    <svg
      className="legs"
      viewBox={`0 0 ${w} 132`}
      width={w}
      role="img"
      aria-label={`Legs from left to right, ${part.face}: ${legs.map((l) => LEG[l] ?? l).join(", ")}`}
    >
      <rect
        x={10}
        y={22}
        width={w - 20}
        height={42}
        fill="var(--sheet)"
        stroke="var(--ink)"
        strokeWidth={2}
      />
      <text x={w / 2} y={48} textAnchor="middle" className="part-value">
        {part.ref}
      </text>
      {legs.map((l, k) => {
        const x = 10 + ((w - 20) * (k + 0.5)) / legs.length;
        return (
          <g key={k}>
            <path d={`M${x} 64V92`} stroke="var(--copper)" strokeWidth={2.6} />
            <path d={`M${x - 6} 92l3 -5h6l3 5l-3 5h-6z`} fill="var(--copper)" />
            <text x={x} y={116} textAnchor="middle" className="part-value">
              {shortLeg(l)}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

export function LegCard({
  bench,
  part,
  step,
}: {
  bench: S["Bench"];
  part: S["Part"] | undefined;
  step: S["Step"];
}) {
  if (!part) {
    return (
      <p>
        {step.action === "link"
          ? "Insulated wire, stripped about 7 mm at each end. Nothing is powered while you build."
          : "Power off, unless the step says otherwise."}
      </p>
    );
  }
  const many = (part.legs ?? []).length > 6;
  return (
    <>
      <div className="leg-row">
        {many ? <p className="value">{(part.legs ?? []).map(shortLeg).join(" ")}</p> : <Legs part={part} />}
        <p>
          <b>{part.title}</b> {part.face && <small>{part.face}</small>}
          <br />
          Yours may differ: check its sheet, or find the legs with the meter.
        </p>
      </div>
      {bench.meter_ways[part.kind] && (
        <p className="meter-way">
          <StepIcon action="check" /> {bench.meter_ways[part.kind]}
        </p>
      )}
    </>
  );
}
