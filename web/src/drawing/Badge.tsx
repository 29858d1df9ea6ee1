// The six-wedge badge and the one-hexagon glyph: shape tells, colour helps.
import type { S } from "../api/client";

export type Standing = S["Verdict"]["standing"] | "inside" | "outside";
type Facets = readonly S["FacetState"][];
export const FACETS = ["load", "drive", "guard", "behave", "build", "prove"] as const;
export type Facet = (typeof FACETS)[number];

const WORDS: Record<Standing, string> = {
  fails: "fails",
  outside: "outside",
  tight: "tight",
  fits: "fits",
  inside: "inside",
  proven: "proven",
  unknown: "not known yet",
  told: "told, not judged",
};

const at = (k: number, r: number): [number, number] => {
  const a = ((-120 + 60 * k) * Math.PI) / 180;
  return [r * Math.cos(a), r * Math.sin(a)];
};
const poly = (points: [number, number][]) =>
  `M${points.map((p) => p.map((v) => v.toFixed(2)).join(" ")).join("L")}z`;

/** One wedge's triangle between the centre and edge k, drawn in by `inset`. */
function wedge(k: number, r: number, inset: number): [number, number][] {
  const a = at(k, r),
    b = at(k + 1, r);
  const centre: [number, number] = [(a[0] + b[0]) / 3, (a[1] + b[1]) / 3];
  const shrink = 1 - (inset * 3.4) / r;
  return [[0, 0] as [number, number], a, b].map(([x, y]) => [
    centre[0] + (x - centre[0]) * shrink,
    centre[1] + (y - centre[1]) * shrink,
  ]);
}

export function Badge({
  facets,
  size,
  open,
  progress,
}: {
  facets: Facets;
  size: number;
  open?: Facet;
  progress?: number;
}) {
  const r = 48;
  const label = facets.map((f) => `${f.facet} ${WORDS[f.standing]}`).join(", ");
  return (
    <svg
      width={size}
      height={size * 0.95}
      viewBox="-56 -53 112 106"
      role="img"
      aria-label={label}
      className="badge"
    >
      {FACETS.map((facet, k) => {
        const standing = facets.find((f) => f.facet === facet)?.standing ?? "unknown";
        const d = poly(wedge(k, r, 1.1));
        const [a, b] = [at(k, r + 5.5), at(k + 1, r + 5.5)];
        const mid: [number, number] = [
          (at(k, r)[0] + at(k + 1, r)[0]) * 0.34,
          (at(k, r)[1] + at(k + 1, r)[1]) * 0.34,
        ];
        return (
          <g key={facet}>
            {standing === "unknown" && (
              <path d={d} fill="none" stroke="var(--rule2)" strokeWidth={1.6} strokeDasharray="4 3" />
            )}
            {standing === "fits" && <path d={d} fill="var(--fits)" />}
            {standing === "proven" && (
              <>
                <path d={d} fill="var(--proven)" />
                {size > 90 ? (
                  <path
                    d={`M${mid[0] - 5} ${mid[1]}l4 4l7 -8`}
                    fill="none"
                    stroke="var(--sheet)"
                    strokeWidth={2.4}
                  />
                ) : (
                  <circle cx={mid[0]} cy={mid[1]} r={5} fill="var(--sheet)" />
                )}
              </>
            )}
            {standing === "tight" && (
              <>
                <path d={d} fill="none" stroke="var(--tight)" strokeWidth={1.8} />
                <path d={poly(wedge(k, r * 0.6, 0.9))} fill="var(--tight)" />
              </>
            )}
            {standing === "fails" && (
              <>
                <path d={d} fill="none" stroke="var(--fails)" strokeWidth={2.4} />
                <path
                  d={`M${mid[0] - 5} ${mid[1] - 5}l10 10m0 -10l-10 10`}
                  stroke="var(--fails)"
                  strokeWidth={2.6}
                />
              </>
            )}
            {facet === "build" && progress !== undefined && progress > 0 && progress < 1 && (
              <path
                d={d}
                fill="none"
                stroke="var(--ink)"
                strokeWidth={2.4}
                pathLength={1}
                strokeDasharray={`${progress} 1`}
              />
            )}
            {open === facet && (
              <path d={`M${a.join(" ")}L${b.join(" ")}`} stroke="var(--copper)" strokeWidth={3.4} />
            )}
          </g>
        );
      })}
    </svg>
  );
}

const HEX = "M-4.6 -8h9.2L9.2 0L4.6 8h-9.2L-9.2 0z";

/** The same grammar in one hexagon; `progress` draws the edge of work under way. */
export function Glyph({
  standing,
  size = 20,
  progress,
}: {
  standing: Standing;
  size?: number;
  progress?: number;
}) {
  const kind = standing === "outside" ? "fails" : standing === "inside" ? "proven" : standing;
  return (
    <svg
      width={size}
      height={size * 0.9}
      viewBox="-10.5 -9.5 21 19"
      role="img"
      aria-label={WORDS[standing]}
      className="glyph"
    >
      {kind === "unknown" && (
        <path d={HEX} fill="none" stroke="var(--rule2)" strokeWidth={1.5} strokeDasharray="2.4 2" />
      )}
      {kind === "unknown" && progress ? (
        <path
          d={HEX}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={2.2}
          pathLength={1}
          strokeDasharray={`${progress} 1`}
        />
      ) : null}
      {kind === "fits" && <path d={HEX} fill="var(--fits)" />}
      {kind === "proven" && (
        <>
          <path d={HEX} fill="var(--proven)" />
          <path d="M-4 0.2l2.8 3l5 -6" fill="none" stroke="var(--sheet)" strokeWidth={2} />
        </>
      )}
      {kind === "tight" && (
        <>
          <path d={HEX} fill="none" stroke="var(--tight)" strokeWidth={1.6} />
          <path d="M-9.2 0H9.2L4.6 8h-9.2z" fill="var(--tight)" />
        </>
      )}
      {kind === "fails" && (
        <>
          <path d={HEX} fill="none" stroke="var(--fails)" strokeWidth={1.8} />
          <path d="M-3.2 -3.2l6.4 6.4m0 -6.4l-6.4 6.4" stroke="var(--fails)" strokeWidth={2} />
        </>
      )}
    </svg>
  );
}
