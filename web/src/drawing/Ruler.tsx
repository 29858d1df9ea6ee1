// The value window: a logarithmic ruler with the allowed interval, its ends, preferred and owned values, and a handle.
import { scaleLog } from "d3-scale";
import { type KeyboardEvent, type PointerEvent } from "react";
import type { S } from "../api/client";
import { showPart } from "./format";
import { useHatch } from "./Hatch";
import { useWidth } from "./useRoom";

type Props = {
  window: S["Window"];
  stock: ReadonlyMap<number, number>;
  ticks: readonly number[];
  value: number;
  onTry: (v: number) => void;
  onTake: (v: number) => void;
};

export function Ruler({ window: w, stock, ticks, value, onTry, onTake }: Props) {
  const [box, width] = useWidth<HTMLDivElement>();
  const [hatch, hatched] = useHatch(8, "var(--rule)");
  const [bad, crossed] = useHatch(8, "var(--fails)");
  const [low, high] = [w.low?.value ?? null, w.high?.value ?? null];
  // The tried value is left out: a scale that moved under the pointer could not be dragged along.
  const ends = [low, high, w.present ?? (low === null && high === null ? value : null)].filter(
    (v): v is number => v !== null && v > 0,
  );
  const [least, most] = [Math.min(...ends) / 2.2, Math.max(...ends) * 2.2];
  const x = scaleLog()
    .domain([least, most])
    .range([8, width - 8])
    .clamp(true);
  const empty = w.gap != null;
  const [a, b] = [x(low ?? least), x(high ?? most)];
  const shown = ticks.filter((t) => t >= least && t <= most);
  const nearest = (v: number) =>
    shown.reduce(
      (best, t) => (Math.abs(Math.log(t / v)) < Math.abs(Math.log(best / v)) ? t : best),
      shown[0] ?? v,
    );
  const move = (event: PointerEvent<SVGSVGElement>) => {
    if (event.type === "pointermove" && event.buttons === 0) return;
    if (event.type === "pointerdown") event.currentTarget.setPointerCapture(event.pointerId);
    onTry(nearest(x.invert(event.clientX - event.currentTarget.getBoundingClientRect().left)));
  };
  const key = (event: KeyboardEvent) => {
    const k = shown.indexOf(nearest(value));
    const step = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageUp: 6, PageDown: -6 }[
      event.key
    ];
    if (step !== undefined) {
      event.preventDefault();
      onTry(shown[Math.max(0, Math.min(shown.length - 1, k + step))] ?? value);
    } else if (event.key === "Enter") onTake(value);
  };
  const inside = (v: number) => !empty && (low === null || v >= low) && (high === null || v <= high);
  const hex = (cx: number, r: number) =>
    `M${cx - r} 62l${r / 2} ${-r * 0.86}h${r}l${r / 2} ${r * 0.86}l${-r / 2} ${r * 0.86}h${-r}z`;
  const decades = Array.from({ length: 24 }, (_, k) => 10 ** (k - 14)).filter((d) => d >= least && d <= most);
  return (
    <div className="ruler-box" ref={box}>
      <svg
        width={width}
        height={136}
        onPointerDown={move}
        onPointerMove={move}
        role="slider"
        tabIndex={0}
        aria-label={`${w.ref} ${w.title}, ${w.unit}`}
        aria-valuemin={least}
        aria-valuemax={most}
        aria-valuenow={value}
        aria-valuetext={`${showPart(value)} ${w.unit}, ${inside(value) ? "inside" : "outside"} its window`}
        onKeyDown={key}
      >
        <defs>
          {hatch}
          {bad}
        </defs>
        <rect x={0} y={46} width={width} height={32} fill={hatched} />
        {!empty && (
          <rect
            x={a}
            y={48}
            width={Math.max(0, b - a)}
            height={28}
            fill="var(--wash-teal)"
            stroke="var(--fits)"
          />
        )}
        {empty && low !== null && high !== null && (
          <rect x={b} y={46} width={Math.max(0, a - b)} height={32} fill={crossed} />
        )}
        {low !== null && (
          <path d={`M${a} 34V82`} stroke={empty ? "var(--fails)" : "var(--ink)"} strokeWidth={3} />
        )}
        {high !== null && (
          <path d={`M${b} 34V82`} stroke={empty ? "var(--fails)" : "var(--ink)"} strokeWidth={3} />
        )}
        {w.low && (
          <text className="bound" x={Math.min(a, width - 210)} y={14}>
            {showPart(w.low.value)} · {w.low.title}
          </text>
        )}
        {w.high && (
          <text className="bound" x={Math.max(b, 210)} y={30} textAnchor="end">
            {w.high.title} · {showPart(w.high.value)}
          </text>
        )}
        <path d={`M0 84H${width}`} stroke="var(--rule2)" />
        {shown.map((t) => (
          <g key={t}>
            <path d={`M${x(t)} 84v${stock.has(t) ? 7 : 4}`} stroke="var(--rule2)" />
            {stock.has(t) && (
              <path
                d={hex(x(t), 5)}
                fill={inside(t) ? "var(--fits)" : "var(--sheet)"}
                stroke={inside(t) ? "none" : "var(--ink2)"}
              />
            )}
          </g>
        ))}
        {decades.map((d) => (
          <text key={d} className="ruler" x={x(d)} y={106} textAnchor="middle">
            {showPart(d)}
          </text>
        ))}
        {w.present != null && (
          <g>
            <path d={`M${x(w.present)} 42V84`} stroke="var(--ink)" strokeWidth={2} />
            <text
              className="bound"
              x={Math.max(34, Math.min(x(w.present), width - 40))}
              y={126}
              textAnchor="middle"
            >
              in use {showPart(w.present)}
            </text>
          </g>
        )}
        <path d={`M${x(value)} 38V86`} stroke="var(--copper)" strokeWidth={2.5} />
        <path
          d={hex(x(value), 9)}
          fill="var(--sheet)"
          stroke="var(--copper)"
          strokeWidth={2.5}
          className="handle"
        />
      </svg>
    </div>
  );
}
