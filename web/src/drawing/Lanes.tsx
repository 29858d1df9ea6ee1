// Waveform lanes: one a quantity, one shared cursor, digital lanes as bars, limits dashed, marks measured by the core.
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { useLayoutEffect, useRef, useState, type PointerEvent } from "react";
import type { S } from "../api/client";
import { show } from "./format";

type Lane = S["Lane"];
const LEFT = 118, RIGHT = 118, TOP = 22, AXIS = 20;

/** A lane's value at a time, straight between the points the core kept. */
export function valueAt(lane: Lane, t: number): number {
  const times = lane.time;
  let low = 0, high = times.length - 1;
  while (high - low > 1) {
    const mid = (low + high) >> 1;
    if (times[mid]! <= t) low = mid;
    else high = mid;
  }
  const [t0, t1, v0, v1] = [times[low]!, times[high]!, lane.value[low]!, lane.value[high]!];
  if (lane.digital) return t >= t1 ? v1 : v0;
  if (t <= t0 || t1 <= t0) return t >= t1 ? v1 : v0;
  return t >= t1 ? v1 : v0 + ((v1 - v0) * (t - t0)) / (t1 - t0);
}

export function shownValue(lane: Lane, t: number): string {
  const v = valueAt(lane, t);
  if (lane.digital) return lane.words?.[v > 0.5 ? 1 : 0] ?? String(v);
  return show(Math.abs(v) < 5e-4 && lane.unit === "V" ? 0 : v, lane.unit);
}

type Props = {
  rehearsal: S["Rehearsal"];
  ghost: S["Rehearsal"] | null;
  cursor: number;
  onCursor: (t: number) => void;
  span: [number, number];
  height: number;
};

export function Lanes({ rehearsal, ghost, cursor, onCursor, span, height }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(960);
  useLayoutEffect(() => {
    const watch = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    if (box.current) watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  const lanes = rehearsal.lanes.filter((l) => l.shown !== false);
  const x = scaleLinear().domain(span).range([LEFT, width - RIGHT]);
  const weight = (l: Lane) => (l.digital ? 0.6 : l.limits?.length ? 1.5 : l.unit === "V" && l.id !== "pin" && l.id !== "plus" ? 1.15 : 0.7);
  const total = lanes.reduce((sum, l) => sum + weight(l), 0);
  const unit = (height - TOP - AXIS) / total;
  const scale = span[1] - span[0] < 1 ? 1e3 : 1;
  const ticks = x.ticks(Math.max(4, Math.floor((width - LEFT - RIGHT) / 80)));
  const grab = (event: PointerEvent<SVGSVGElement>) => {
    if (event.type === "pointermove" && event.buttons === 0) return;
    if (event.type === "pointerdown") event.currentTarget.setPointerCapture(event.pointerId);
    const rect = event.currentTarget.getBoundingClientRect();
    onCursor(Math.max(span[0], Math.min(span[1], x.invert(event.clientX - rect.left))));
  };
  let y = TOP;
  const cx = x(cursor);
  const label = show(cursor, "s");
  const w = label.length * 8 + 22;
  return (
    <div className="lanes" ref={box}>
      <svg width={width} height={height} onPointerDown={grab} onPointerMove={grab} role="img" aria-label={`Waveforms: ${lanes.map((l) => l.title).join(", ")}`}>
        <defs>
          <clipPath id="lane-clip"><rect x={LEFT} y={0} width={Math.max(0, width - LEFT - RIGHT)} height={height} /></clipPath>
        </defs>
        {ticks.map((t) => (
          <g key={t}>
            <path d={`M${x(t)} ${TOP}V${height - AXIS}`} stroke="var(--rule)" />
            <text className="ruler" x={x(t)} y={height - 6} textAnchor="middle">{Number((t * scale).toPrecision(6))}{t === ticks.at(-1) ? (scale === 1 ? " s" : " ms") : ""}</text>
          </g>
        ))}
        {lanes.map((lane) => {
          const h = weight(lane) * unit;
          const [top, bottom] = [y + 4, y + h - 4];
          y += h;
          const marks = rehearsal.marks.filter((m) => m.lane === lane.id);
          if (lane.digital) {
            const bars: [number, number][] = [];
            lane.time.forEach((t, k) => lane.value[k]! > 0.5 && k + 1 < lane.time.length && bars.push([t, lane.time[k + 1]!]));
            return (
              <g key={lane.id}>
                <text className="lane-name" x={LEFT - 12} y={(top + bottom) / 2 + 5} textAnchor="end">{lane.title}</text>
                <g clipPath="url(#lane-clip)">
                  {bars.map(([a, b], k) => <rect key={k} x={x(a)} y={(top + bottom) / 2 - 7} width={Math.max(1, x(b) - x(a))} height={14} fill="var(--ink)" />)}
                  {marks.map((m, k) => (
                    <g key={k}>
                      {m.begin != null && <path d={`M${x(m.begin)} ${(top + bottom) / 2}H${x(m.time)}`} stroke="var(--ink2)" strokeDasharray="2 2" />}
                      <text className="mark" x={x(m.time) + 6} y={(top + bottom) / 2 + 4} style={valueAt(lane, m.time) > 0.5 ? { fill: "var(--sheet)" } : undefined}>{m.text}</text>
                    </g>
                  ))}
                </g>
                <text className="lane-value" x={width - RIGHT + 14} y={(top + bottom) / 2 + 5}>{shownValue(lane, cursor)}</text>
              </g>
            );
          }
          const all = [...lane.value, ...(ghost?.lanes.find((g) => g.id === lane.id)?.value ?? []), ...(lane.limits ?? []).map(([v]) => v)];
          const [least, most] = [Math.min(0, ...all), Math.max(...all)];
          const v = scaleLinear().domain([least, most === least ? least + 1 : most]).range([bottom, top]);
          const path = (l: Lane) => line<number>((_, k) => x(l.time[k]!), (d) => v(d))(l.value as number[]) ?? "";
          const old = ghost?.lanes.find((g) => g.id === lane.id);
          const heavy = weight(lane) > 1;
          return (
            <g key={lane.id}>
              <text className="lane-name" x={LEFT - 12} y={(top + bottom) / 2 + 5} textAnchor="end">{lane.title}</text>
              <g clipPath="url(#lane-clip)">
                {heavy && <path d={`${path(lane)}L${x(lane.time.at(-1)!)} ${v(0)}L${x(lane.time[0]!)} ${v(0)}z`} fill="var(--ink)" opacity={0.06} />}
                {(lane.limits ?? []).map(([value, text]) => (
                  <g key={text}>
                    <path d={`M${LEFT} ${v(value)}H${width - RIGHT}`} stroke="var(--ink3)" strokeDasharray="5 4" />
                    <text className="mark-soft" x={width - RIGHT - 4} y={v(value) - 4} textAnchor="end">{text}</text>
                  </g>
                ))}
                {old && <path d={path(old)} fill="none" stroke="var(--ink3)" strokeWidth={1.4} strokeDasharray="4 3" />}
                <path d={path(lane)} fill="none" stroke="var(--ink)" strokeWidth={heavy ? 2 : 1.6} />
                {marks.map((m, k) => (
                  <text key={k} className="mark" x={Math.min(x(m.time) + 8, width - RIGHT - 90)} y={v(valueAt(lane, m.time)) + 16}>{m.text}</text>
                ))}
                <circle cx={cx} cy={v(valueAt(lane, cursor))} r={4} fill="var(--copper)" stroke="var(--sheet)" strokeWidth={1.4} />
              </g>
              <text className="lane-value" x={width - RIGHT + 14} y={(top + bottom) / 2 + 5}>{shownValue(lane, cursor)}</text>
            </g>
          );
        })}
        <path d={`M${cx} ${TOP - 4}V${height - AXIS}`} stroke="var(--copper)" strokeWidth={2} />
        <g transform={`translate(${Math.max(LEFT + w / 2 - 20, Math.min(cx, width - RIGHT))} 10)`}>
          <path d={`M${-w / 2} 0l7 -10h${w - 14}l7 10l-7 10h${-(w - 14)}z`} fill="var(--copper-fill)" />
          <text className="tag" y={4.5} textAnchor="middle" fill="var(--on-copper)">{label}</text>
        </g>
      </svg>
    </div>
  );
}
