// The headroom gauge: wall at 80 % of the width, hatching beyond, fill for nominal, whisker for the worst corner.
import type { Standing } from "./Badge";

const WALL = 80;
const COLOUR: Record<string, string> = {
  fails: "var(--fails)",
  tight: "var(--tight)",
  fits: "var(--fits)",
  proven: "var(--proven)",
  unknown: "var(--rule2)",
};

export function Gauge({
  used,
  worst,
  standing,
  flip = false,
  height = 14,
}: {
  used: number;
  worst: number;
  standing: Standing;
  flip?: boolean;
  height?: number;
}) {
  const x = (share: number) => Math.min(share * WALL, 99.5);
  const mid = height / 2;
  const colour = COLOUR[standing] ?? "var(--fits)";
  const whisker = worst > 1 ? "var(--fails)" : "var(--ink)";
  return (
    <svg
      className="gauge"
      viewBox={`0 0 100 ${height}`}
      preserveAspectRatio="none"
      height={height}
      aria-hidden
      style={flip ? { transform: "scaleX(-1)" } : undefined}
    >
      <rect x={0} y={mid - 3.5} width={WALL} height={7} fill="var(--sunk)" />
      <g className="gauge-hatch" stroke="var(--rule)" strokeWidth={1} vectorEffect="non-scaling-stroke">
        {[82, 85, 88, 91, 94, 97].map((h) => (
          <path key={h} d={`M${h} ${mid + 3.5}l3 -7`} vectorEffect="non-scaling-stroke" />
        ))}
      </g>
      <rect x={0} y={mid - 3.5} width={x(used)} height={7} fill={colour} />
      {Math.abs(x(worst) - x(used)) > 0.4 && (
        <path
          d={`M${x(used)} ${mid}H${x(worst)}M${x(worst)} ${mid - 4}v8`}
          stroke={whisker}
          strokeWidth={2}
          vectorEffect="non-scaling-stroke"
          fill="none"
        />
      )}
      <path
        d={`M${WALL} 0V${height}`}
        stroke="var(--ink)"
        strokeWidth={3}
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}
