// Waveform lanes: one a quantity, one shared cursor, digital lanes as bars, limits dashed, marks measured by the core.
import { scaleLinear, type ScaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import { useId, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { S } from "../api/client";
import { useCell, type Cell } from "./cell";
import { show } from "./format";
import { useWidth } from "./useRoom";

type Lane = S["Lane"];
const TOP = 22,
  AXIS = 20,
  EVENTS = 27,
  HANDLE = 9,
  LEAST_LANE = 27, // height of a lane of weight 1
  NOTHING: Record<string, number> = { A: 1e-5, V: 1e-2 },
  SUPPLY = 1; // the place of the supply among the lanes; the signals come before it

export type EventHandles = {
  onOpen: (index: number, at: { x: number; y: number }) => void;
  onMove: (index: number, at: number) => void;
  onDrop: () => void; // what was moved stays where it is
  onRemove: (index: number) => void;
};

/** A lane's value at a time, straight between the points the core kept. */
export function valueAt(lane: Lane, t: number): number {
  const times = lane.time;
  let low = 0,
    high = times.length - 1;
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
  cursor: Cell<number>;
  span: [number, number];
  height: number;
  onSpan?: (span: [number, number] | null) => void; // dragging across zooms, a double click shows the whole
  fan?: S["Fan"] | null;
  events?: EventHandles | null; // given: a lane for each actor, with its events to drag and type
  boxes?: { name: string; span: [number, number] }[];
  compact?: boolean; // a close-up: no values at the right
};

export function Lanes({
  rehearsal,
  ghost,
  cursor,
  span,
  height: room,
  onSpan,
  fan,
  events,
  boxes,
  compact,
}: Props) {
  const [LEFT, RIGHT] = compact ? [100, 16] : [132, 118];
  const [band, setBand] = useState<[number, number] | null>(null);
  const drag = useRef<{ kind: "cursor" | "band" | "event"; index: number; from: number } | null>(null);
  const [box, width] = useWidth<HTMLDivElement>(960);
  const own = new Set(rehearsal.happenings.map((h) => h.actor));
  const clip = `lane-clip-${useId()}`;
  const lanes = rehearsal.lanes.filter(
    (l) => l.shown !== false && !(events && own.has(l.title)) && !(compact && l.place === SUPPLY),
  );
  const x = scaleLinear()
    .domain(span)
    .range([LEFT, width - RIGHT]);
  const weight = (l: Lane) =>
    l.digital ? 0.6 : l.limits?.length ? 1.5 : l.unit === "V" && l.place > SUPPLY ? 1.15 : 0.7;
  const total = lanes.reduce((sum, l) => sum + weight(l), 0);
  const actors = events ? [...own] : [];
  const head = TOP + actors.length * EVENTS;
  // Many lanes keep their least height, and the strip scrolls.
  const height = Math.max(room, head + AXIS + total * LEAST_LANE);
  const unit = (height - head - AXIS) / total;
  const scale = span[1] - span[0] < 1 ? 1e3 : 1;
  const ticks = x.ticks(Math.max(4, Math.floor((width - LEFT - RIGHT) / 80)));
  const timeAt = (event: PointerEvent) => {
    const rect = box.current!.getBoundingClientRect();
    return Math.max(span[0], Math.min(span[1], x.invert(event.clientX - rect.left)));
  };
  const down = (event: PointerEvent<SVGSVGElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    const t = timeAt(event),
      onTag =
        Math.abs(x(t) - x(cursor.get())) < HANDLE ||
        event.clientY - event.currentTarget.getBoundingClientRect().top < TOP;
    drag.current ??= { kind: onTag || !onSpan ? "cursor" : "band", index: -1, from: t };
    if (drag.current.kind === "cursor") cursor.set(t);
  };
  const moved = (event: PointerEvent<SVGSVGElement>) => {
    const now = drag.current;
    if (!now || event.buttons === 0) return;
    const t = timeAt(event);
    if (now.kind === "cursor") cursor.set(t);
    if (now.kind === "band") setBand([Math.min(now.from, t), Math.max(now.from, t)]);
    if (now.kind === "event" && Math.abs(t - now.from) * (x(1) - x(0)) > 3) {
      now.from = -1;
      events?.onMove(now.index, Number(t.toPrecision(4)));
    }
  };
  const up = (event: PointerEvent<SVGSVGElement>) => {
    const now = drag.current;
    drag.current = null;
    setBand(null);
    if (now?.kind === "band") {
      if (band && x(band[1]) - x(band[0]) > 6) onSpan?.(band);
      else cursor.set(timeAt(event));
    }
    if (now?.kind !== "event") return;
    if (now.from >= 0) events?.onOpen(now.index, { x: event.clientX, y: event.clientY + 12 });
    else events?.onDrop();
  };
  const nudge = (index: number, at: number) => (e: KeyboardEvent<SVGGElement>) => {
    const step = ((span[1] - span[0]) / 200) * (e.shiftKey ? 10 : 1);
    const way = e.key === "ArrowLeft" ? -1 : e.key === "ArrowRight" ? 1 : 0;
    if (way) {
      events?.onMove(index, Math.max(0, Number((at + way * step).toPrecision(4))));
    } else if (e.key === "Enter" || e.key === " ") {
      const r = e.currentTarget.getBoundingClientRect();
      events?.onOpen(index, { x: r.left, y: r.bottom + 6 });
    } else if (e.key === "Delete" || e.key === "Backspace") events?.onRemove(index);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  let y = head;
  return (
    <div
      className="lanes"
      ref={box}
      style={{ maxHeight: room, overflowY: height > room ? "auto" : undefined }}
      tabIndex={height > room ? 0 : undefined}
    >
      <svg
        width={width}
        height={height}
        onPointerDown={down}
        onPointerMove={moved}
        onPointerUp={up}
        onDoubleClick={() => onSpan?.(null)}
        role={events ? "group" : "img"}
        aria-label={`Waveforms: ${lanes.map((l) => l.title).join(", ")}`}
      >
        <defs>
          <clipPath id={clip}>
            <rect x={LEFT} y={0} width={Math.max(0, width - LEFT - RIGHT)} height={height} />
          </clipPath>
        </defs>
        {ticks.map((t) => (
          <g key={t}>
            <path d={`M${x(t)} ${TOP}V${height - AXIS}`} stroke="var(--rule)" />
            <text className="ruler" x={x(t)} y={height - 6} textAnchor="middle">
              {Number((t * scale).toPrecision(6))}
              {t === ticks.at(-1) ? (scale === 1 ? " s" : " ms") : ""}
            </text>
          </g>
        ))}
        {actors.map((actor, row) => {
          const middle = TOP + (row + 0.5) * EVENTS;
          const mine = rehearsal.happenings.filter((h) => h.actor === actor);
          const lane = rehearsal.lanes.find((l) => l.title === actor);
          const most = lane ? Math.max(...lane.value, 1e-9) : 1;
          const curve =
            lane &&
            line<number>(
              (_, k) => x(lane.time[k]!),
              (d) => middle + 8 - (d / most) * 16,
            )(lane.value as number[]);
          return (
            <g key={actor}>
              <text className="lane-name" x={LEFT - 12} y={middle + 5} textAnchor="end">
                {actor}
              </text>
              {curve ? (
                <path
                  d={curve}
                  fill="none"
                  stroke="var(--ink)"
                  strokeWidth={1.6}
                  clipPath={`url(#${clip})`}
                />
              ) : (
                <path d={`M${LEFT} ${middle}H${width - RIGHT}`} stroke="var(--rule2)" strokeWidth={1.4} />
              )}
              {lane && (
                <text className="lane-value" x={width - RIGHT + 14} y={middle + 5}>
                  <Shown lane={lane} cursor={cursor} />
                </text>
              )}
              {mine
                .filter((h) => h.at >= span[0] && h.at <= span[1])
                .map((h, k, shown) => {
                  const room = (k + 1 < shown.length ? x(shown[k + 1]!.at) : width - RIGHT) - x(h.at) - 22;
                  const fits = Math.floor(room / 6.6);
                  return (
                    <g
                      key={h.index}
                      className="event"
                      tabIndex={0}
                      role="button"
                      aria-label={`${actor}, ${h.text}, at ${show(h.at, "s")}. Drag, or press Enter to change it`}
                      transform={`translate(${x(h.at)} ${middle})`}
                      onKeyDown={nudge(h.index, h.at)}
                      onKeyUp={(e) => e.key.startsWith("Arrow") && events?.onDrop()}
                      onPointerDown={() => (drag.current = { kind: "event", index: h.index, from: h.at })}
                    >
                      <rect x={-11} y={-11} width={22} height={22} fill="transparent" />
                      <path d="M-3.5 -7h7L7 0L3.5 7h-7L-7 0z" fill="var(--ink)" />
                      {fits > 3 && (
                        <text
                          className="mark-soft"
                          x={12}
                          y={4.5}
                          style={{ paintOrder: "stroke", stroke: "var(--sheet)", strokeWidth: 4 }}
                        >
                          {h.text.length > fits ? `${h.text.slice(0, fits - 1)}…` : h.text}
                        </text>
                      )}
                    </g>
                  );
                })}
            </g>
          );
        })}
        {lanes.map((lane) => {
          const h = weight(lane) * unit;
          const [top, bottom] = [y + 4, y + h - 4];
          y += h;
          const marks = rehearsal.marks.filter((m) => m.lane === lane.id);
          if (lane.digital) {
            const bars: [number, number][] = [];
            lane.time.forEach(
              (t, k) => lane.value[k]! > 0.5 && k + 1 < lane.time.length && bars.push([t, lane.time[k + 1]!]),
            );
            return (
              <g key={lane.id}>
                <text className="lane-name" x={LEFT - 12} y={(top + bottom) / 2 + 5} textAnchor="end">
                  {lane.title}
                </text>
                <g clipPath={`url(#${clip})`}>
                  {bars.map(([a, b], k) => (
                    <rect
                      key={k}
                      x={x(a)}
                      y={(top + bottom) / 2 - 7}
                      width={Math.max(1, x(b) - x(a))}
                      height={14}
                      fill="var(--ink)"
                    />
                  ))}
                  {marks.map((m, k) => (
                    <g key={k}>
                      {m.begin != null && (
                        <path
                          d={`M${x(m.begin)} ${(top + bottom) / 2}H${x(m.time)}`}
                          stroke="var(--ink2)"
                          strokeDasharray="2 2"
                        />
                      )}
                      <text
                        className="mark"
                        x={x(m.time) + 6}
                        y={(top + bottom) / 2 + 4}
                        style={valueAt(lane, m.time) > 0.5 ? { fill: "var(--sheet)" } : undefined}
                      >
                        {m.text}
                      </text>
                    </g>
                  ))}
                </g>
                {!compact && (
                  <text className="lane-value" x={width - RIGHT + 14} y={(top + bottom) / 2 + 5}>
                    <Shown lane={lane} cursor={cursor} />
                  </text>
                )}
              </g>
            );
          }
          const ribbon = fan?.ribbons.find((r) => r.lane === lane.id);
          const all = [
            ...lane.value,
            ...(ribbon ? [...ribbon.low, ...ribbon.high] : []),
            ...(ghost?.lanes.find((g) => g.id === lane.id)?.value ?? []),
            ...(lane.limits ?? []).map(([v]) => v),
          ];
          // What is next to nothing lies flat: noise is not worth a look.
          const [least, most] = [Math.min(0, ...all), Math.max(...all, NOTHING[lane.unit] ?? 0)];
          const v = scaleLinear()
            .domain([least, most === least ? least + 1 : most])
            .range([bottom, top]);
          const path = (l: Lane) =>
            line<number>(
              (_, k) => x(l.time[k]!),
              (d) => v(d),
            )(l.value as number[]) ?? "";
          const old = ghost?.lanes.find((g) => g.id === lane.id);
          const heavy = weight(lane) > 1;
          const between = (low: readonly number[], high: readonly number[]) =>
            area<number>(
              (_, k) => x(fan!.time[k]!),
              (_, k) => v(low[k]!),
              (_, k) => v(high[k]!),
            )(low as number[]) ?? "";
          return (
            <g key={lane.id}>
              <text className="lane-name" x={LEFT - 12} y={(top + bottom) / 2 + 5} textAnchor="end">
                {lane.title}
              </text>
              <g clipPath={`url(#${clip})`}>
                {heavy && (
                  <path
                    d={`${path(lane)}L${x(lane.time.at(-1)!)} ${v(0)}L${x(lane.time[0]!)} ${v(0)}z`}
                    fill="var(--ink)"
                    opacity={0.06}
                  />
                )}
                {(lane.limits ?? []).map(([value, text], n, every) => (
                  <g key={text}>
                    <path
                      d={`M${LEFT} ${v(value)}H${width - RIGHT}`}
                      stroke="var(--ink3)"
                      strokeDasharray="5 4"
                    />
                    <text
                      className="mark-soft"
                      x={
                        width - RIGHT - 4 - (n > 0 && Math.abs(v(value) - v(every[n - 1]![0])) < 32 ? 62 : 0)
                      }
                      y={v(value) + (v(value) - top < 12 ? 13 : -4)}
                      textAnchor="end"
                    >
                      {text}
                    </text>
                  </g>
                ))}
                {ribbon && <path d={between(ribbon.low, ribbon.high)} fill="var(--ink)" opacity={0.13} />}
                {ribbon && (
                  <path d={between(ribbon.inner_low, ribbon.inner_high)} fill="var(--ink)" opacity={0.16} />
                )}
                {old && (
                  <path
                    d={path(old)}
                    fill="none"
                    stroke="var(--ink3)"
                    strokeWidth={1.4}
                    strokeDasharray="4 3"
                  />
                )}
                <path d={path(lane)} fill="none" stroke="var(--ink)" strokeWidth={heavy ? 2 : 1.6} />
                {marks.map((m, k) => (
                  <text
                    key={k}
                    className="mark"
                    x={Math.min(x(m.time) + 8, width - RIGHT - 90)}
                    y={v(valueAt(lane, m.time)) + 16}
                  >
                    {m.text}
                  </text>
                ))}
                <Dot lane={lane} cursor={cursor} x={x} y={v} />
              </g>
              {!compact && (
                <text className="lane-value" x={width - RIGHT + 14} y={(top + bottom) / 2 + 5}>
                  <Shown lane={lane} cursor={cursor} />
                </text>
              )}
            </g>
          );
        })}
        {(boxes ?? []).map((b) => (
          <g key={b.name} aria-hidden>
            <rect
              x={x(b.span[0])}
              y={TOP - 2}
              width={Math.max(8, x(b.span[1]) - x(b.span[0]))}
              height={height - AXIS - TOP + 2}
              fill="none"
              stroke="var(--ink3)"
              strokeDasharray="4 3"
            />
            <text className="mark" x={x(b.span[0]) - 5} y={height - AXIS - 8} textAnchor="end">
              {b.name}
            </text>
          </g>
        ))}
        {band && (
          <rect
            x={x(band[0])}
            y={TOP}
            width={x(band[1]) - x(band[0])}
            height={height - AXIS - TOP}
            fill="var(--copper)"
            opacity={0.14}
          />
        )}
        <Line
          cursor={cursor}
          stop={rehearsal.stop}
          x={x}
          left={LEFT}
          foot={height - AXIS}
          tagged={!compact}
        />
      </svg>
    </div>
  );
}

type Axis = ScaleLinear<number, number>;

/** What a lane shows at the cursor. */
function Shown({ lane, cursor }: { lane: Lane; cursor: Cell<number> }) {
  return <>{shownValue(lane, useCell(cursor))}</>;
}

function Dot({ lane, cursor, x, y }: { lane: Lane; cursor: Cell<number>; x: Axis; y: Axis }) {
  const now = Math.min(useCell(cursor), lane.time.at(-1)!);
  return (
    <circle
      cx={x(now)}
      cy={y(valueAt(lane, now))}
      r={4}
      fill="var(--copper)"
      stroke="var(--sheet)"
      strokeWidth={1.4}
    />
  );
}

/** The cursor itself, across all lanes, with its time in a tag. */
function Line({
  cursor,
  stop,
  x,
  left,
  foot,
  tagged,
}: {
  cursor: Cell<number>;
  stop: number;
  x: Axis;
  left: number;
  foot: number;
  tagged: boolean;
}) {
  const now = Math.min(useCell(cursor), stop);
  const [begin, end] = x.domain() as [number, number];
  if (now < begin || now > end) return null;
  const label = show(now, "s");
  const w = label.length * 8 + 22;
  return (
    <>
      <path d={`M${x(now)} ${TOP - 4}V${foot}`} stroke="var(--copper)" strokeWidth={2} />
      {tagged && (
        <g
          className="cursor-tag"
          transform={`translate(${Math.max(left + w / 2 - 20, Math.min(x(now), x.range()[1]!))} 10)`}
        >
          <path d={`M${-w / 2} 0l7 -10h${w - 14}l7 10l-7 10h${-(w - 14)}z`} fill="var(--copper-fill)" />
          <text className="tag" y={4.5} textAnchor="middle" fill="var(--on-copper)">
            {label}
          </text>
        </g>
      )}
    </>
  );
}
