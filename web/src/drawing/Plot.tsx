// A plot: two axes with ticks, what is drawn between them clipped, and a cursor that is dragged or stepped by keys.
import { scaleLinear, scaleLog } from "d3-scale";
import { useId, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";

export type Axis = {
  low: number;
  high: number;
  log?: boolean;
  title: string; // with its unit
  shown?: (value: number) => string; // a tick's words
  ticks?: number;
};
export type Scale = (value: number) => number;
export type Cursor = {
  at: number;
  label: string; // what is stepped
  text: string; // where it stands, in words
  step: number; // of an arrow key; ten of them with Shift
  onMove: (at: number) => void;
  onTake: () => void;
  onLeave: () => void;
};

type Props = {
  width: number;
  height: number;
  x: Axis;
  y: Axis;
  label: string;
  cursor?: Cursor;
  children: (x: Scale, y: Scale) => ReactNode;
};

const [LEFT, RIGHT, TOP, FOOT] = [52, 14, 20, 22];
const plain = (value: number) => String(Number(value.toPrecision(4)));

/** A scale along an axis, over pixels. */
function along({ low, high, log }: Axis, begin: number, end: number) {
  return (log ? scaleLog() : scaleLinear()).domain([low, high]).range([begin, end]);
}

export function Plot({ width, height, x: across, y: up, label, cursor, children }: Props) {
  const clip = `plot-clip-${useId()}`;
  const x = along(across, LEFT, width - RIGHT);
  const y = along(up, height - FOOT, TOP);
  const place = (event: PointerEvent<SVGSVGElement>) => {
    const at = x.invert(event.clientX - event.currentTarget.getBoundingClientRect().left);
    cursor!.onMove(Math.min(across.high, Math.max(across.low, at)));
  };
  const onKeyDown = (e: KeyboardEvent) => {
    const way = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[e.key];
    if (way)
      cursor!.onMove(
        Math.min(across.high, Math.max(across.low, cursor!.at + way * cursor!.step * (e.shiftKey ? 10 : 1))),
      );
    else if (e.key === "Enter") cursor!.onTake();
    else if (e.key === "Escape") cursor!.onLeave();
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const hands = cursor && {
    tabIndex: 0,
    role: "slider",
    "aria-label": cursor.label,
    "aria-valuemin": across.low,
    "aria-valuemax": across.high,
    "aria-valuenow": cursor.at,
    "aria-valuetext": cursor.text,
    onKeyDown,
    onPointerDown: (e: PointerEvent<SVGSVGElement>) => {
      e.currentTarget.setPointerCapture(e.pointerId);
      place(e);
    },
    onPointerMove: (e: PointerEvent<SVGSVGElement>) => e.buttons > 0 && place(e),
  };
  return (
    <svg
      className={`plot ${cursor ? "moves" : ""}`}
      width={width}
      height={height}
      {...(hands ?? { role: "img", "aria-label": label })}
    >
      <defs>
        <clipPath id={clip}>
          <rect
            x={LEFT}
            y={TOP}
            width={Math.max(0, width - LEFT - RIGHT)}
            height={Math.max(0, height - TOP - FOOT)}
          />
        </clipPath>
      </defs>
      {x.ticks(across.ticks ?? 5).map((t) => (
        <g key={t}>
          <path d={`M${x(t)} ${TOP}V${height - FOOT}`} stroke="var(--rule)" />
          <text className="ruler" x={x(t)} y={height - 6} textAnchor="middle">
            {(across.shown ?? plain)(t)}
          </text>
        </g>
      ))}
      {y.ticks(up.ticks ?? 3).map((t) => (
        <g key={t}>
          <path d={`M${LEFT} ${y(t)}H${width - RIGHT}`} stroke="var(--rule)" />
          <text className="ruler" x={LEFT - 6} y={y(t) + 4} textAnchor="end">
            {(up.shown ?? plain)(t)}
          </text>
        </g>
      ))}
      <path d={`M${LEFT} ${TOP}V${height - FOOT}H${width - RIGHT}`} fill="none" stroke="var(--rule2)" />
      <text className="ruler" x={LEFT} y={12}>
        {up.title}
      </text>
      <text className="ruler" x={width - RIGHT} y={12} textAnchor="end">
        {across.title}
      </text>
      <g clipPath={`url(#${clip})`}>{children(x, y)}</g>
      {cursor && (
        <path d={`M${x(cursor.at)} ${TOP - 4}V${height - FOOT}`} stroke="var(--copper)" strokeWidth={2} />
      )}
    </svg>
  );
}
