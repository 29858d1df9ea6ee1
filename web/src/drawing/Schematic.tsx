// The schematic as the core laid it out, lit by what conducts at the cursor's moment; fitted, zoomed and moved.
import { useId } from "react";
import type { S } from "../api/client";
import { show } from "./format";
import { useSize } from "./useRoom";
import { useView } from "./useView";

type Props = {
  drawing: S["Drawing"];
  lit: ReadonlySet<string>; // references that conduct now
  values: ReadonlyMap<string, number>; // lane id to value now
  closed: ReadonlySet<string>; // references whose contact is made
  us: boolean;
  picked: string | null;
  onPick: (path: string) => void;
  onOpen?: (channel: number) => void;
};

const hexTag = (w: number) => `M${-w / 2} 0l8 -11h${w - 16}l8 11l-8 11h${-(w - 16)}z`;
const LINE = 16; // height of a line of words [px]
const NOTHING: Record<string, number> = { V: 1e-3, A: 1e-6 }; // below it a tag says 0
const RISE = { top: 0.75, middle: 0.28, bottom: -0.25 }; // of the first or last line's foot, in lines

export function Schematic({ drawing, lit, values, closed, us, picked, onPick, onOpen }: Props) {
  const [box, size] = useSize([470, 370]);
  const id = useId();
  const view = useView(drawing.frame, size, box);
  const k = view.scale;
  const X = (x: number) => view.x + x * k;
  const Y = (y: number) => view.y + y * k;
  const line = (points: readonly (readonly number[])[]) =>
    points.map(([x, y]) => `${X(x!)},${Y(y!)}`).join(" ");
  const isLit = (part: string | null | undefined) => !!part && lit.has(part);
  return (
    <div
      className="schematic"
      ref={box}
      tabIndex={0}
      role="group"
      aria-label="Schematic, zoom with + and -"
      {...view.handlers}
    >
      <svg width={size[0]} height={size[1]} role="group" aria-label="Schematic" aria-describedby={id}>
        <desc id={id}>Parts are drawn in copper while they conduct at the cursor’s moment.</desc>
        {drawing.wires
          .filter((w) => w.load && isLit(w.part))
          .map((w, n) => (
            <polyline
              key={n}
              points={line(w.points)}
              fill="none"
              stroke="var(--halo)"
              strokeWidth={11}
              strokeLinecap="round"
              strokeLinejoin="round"
            />
          ))}
        {drawing.wires.map((w, n) => (
          <polyline
            key={n}
            points={line(w.points)}
            fill="none"
            stroke={isLit(w.part) ? "var(--copper)" : "var(--ink)"}
            strokeWidth={w.load && isLit(w.part) ? 3 : 1.6}
            strokeLinecap="round"
            strokeLinejoin="round"
          />
        ))}
        {drawing.links.map((l, n) => (
          <polyline key={n} points={line(l.points)} stroke="var(--ink3)" strokeDasharray="4 4" fill="none" />
        ))}
        {drawing.dots.map(([x, y], n) => (
          <circle key={n} cx={X(x)} cy={Y(y)} r={3.6} fill="var(--ink)" />
        ))}
        {drawing.symbols.map((s, n) => {
          const closedOne = `${s.symbol}_closed`;
          const variant =
            s.symbol === "resistor" && us
              ? "resistor_us"
              : closed.has(s.ref) && closedOne in drawing.glyphs
                ? closedOne
                : s.symbol;
          const glyph = drawing.glyphs[variant] ?? drawing.glyphs[s.symbol]!;
          const body = <SymbolShape symbol={s} glyph={glyph} k={k} X={X} Y={Y} on={isLit(s.ref)} />;
          if (!s.path) return <g key={n}>{body}</g>;
          return (
            <g
              key={n}
              role="button"
              tabIndex={0}
              aria-label={[s.inside, ...(s.words?.lines ?? [])].filter(Boolean).join(" ")}
              aria-pressed={picked === s.path}
              className={`symbol${picked === s.path ? " picked" : ""}`}
              onClick={() => onPick(s.path!)}
              onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && (e.preventDefault(), onPick(s.path!))}
            >
              {body}
            </g>
          );
        })}
        {(drawing.folds ?? []).map((f) => (
          <Folded key={f.number} fold={f} amps={values.get(f.lane)} k={k} X={X} Y={Y} onOpen={onOpen} />
        ))}
        {drawing.tags.map((t) => {
          const value = values.get(t.lane);
          if (value === undefined) return null;
          const text = show(Math.abs(value) < NOTHING[t.unit]! ? 0 : value, t.unit);
          const w = text.length * 7.9 + 24;
          const filled = t.unit === "A";
          return (
            <g key={t.lane} transform={`translate(${X(t.x)} ${Y(t.y)})`} aria-hidden>
              <path
                d={hexTag(w)}
                fill={filled ? "var(--copper-fill)" : "var(--sheet)"}
                stroke={filled ? "none" : "var(--ink2)"}
              />
              <text
                className="tag"
                y={4.5}
                textAnchor="middle"
                fill={filled ? "var(--on-copper)" : "var(--ink)"}
              >
                {text}
              </text>
            </g>
          );
        })}
      </svg>
      <div className="zoom" role="group" aria-label="Size of the drawing">
        <button aria-label="Smaller" title="Smaller  -" onClick={() => view.zoom(0.8)}>
          −
        </button>
        <span className="value">{Math.round((k / 12) * 100)}%</span>
        <button aria-label="Larger" title="Larger  +" onClick={() => view.zoom(1.25)}>
          +
        </button>
        <button aria-pressed={view.isFitted} title="Fit  0" onClick={view.fit}>
          Fit
        </button>
      </div>
    </div>
  );
}

const RUNS = 1e-3; // a load takes nothing that matters below this [A]

/** A channel that is not open: its number, load and current at the cursor's moment; a press opens it. */
function Folded({
  fold: f,
  amps,
  k,
  X,
  Y,
  onOpen,
}: {
  fold: S["Fold"];
  amps: number | undefined;
  k: number;
  X: (x: number) => number;
  Y: (y: number) => number;
  onOpen: ((channel: number) => void) | undefined;
}) {
  const [w, h] = [f.width * k, f.height * k];
  const runs = amps !== undefined && Math.abs(amps) > RUNS;
  const tall = h > 62;
  const state = runs ? show(amps, "A") : "off";
  const open = () => onOpen?.(f.number);
  const c = 8;
  return (
    <g
      className="fold"
      role="button"
      tabIndex={0}
      aria-label={`Open channel ${f.number}, ${f.title} ${f.value}`}
      transform={`translate(${X(f.x)} ${Y(f.y)})`}
      onClick={open}
      onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && (e.preventDefault(), open())}
    >
      <path
        d={`M${c} 0H${w - c}L${w} ${c}V${h - c}L${w - c} ${h}H${c}L0 ${h - c}V${c}z`}
        fill={runs ? "var(--wash-copper)" : "var(--sheet)"}
        stroke={runs ? "var(--copper)" : "var(--ink)"}
        strokeWidth={runs ? 2.2 : 1.4}
      />
      <g textAnchor="middle" transform={`translate(${w / 2} ${tall ? 16 : h / 2})`}>
        <path d="M-12 0l6 -10h12l6 10l-6 10h-12z" fill="none" stroke="var(--ink)" />
        <text y={5} className="part-value">
          {f.number}
        </text>
        {tall && (
          <>
            <text y={26} className="part-value">
              {f.value}
            </text>
            <text y={42} className="fold-title">
              {state}
            </text>
          </>
        )}
      </g>
    </g>
  );
}

/** One symbol with what is written in it and beside it. */
function SymbolShape({
  symbol: s,
  glyph,
  k,
  X,
  Y,
  on,
}: {
  symbol: S["Symbol"];
  glyph: S["Glyph"];
  k: number;
  X: (x: number) => number;
  Y: (y: number) => number;
  on: boolean;
}) {
  const stroke = on ? "var(--copper)" : "var(--ink)";
  const { words } = s;
  const count = words?.lines.length ?? 0;
  const first = words ? { top: 0, middle: -(count - 1) / 2, bottom: 1 - count }[words.level] : 0;
  return (
    <>
      <g
        transform={`translate(${X(s.x)} ${Y(s.y)}) rotate(${s.turn}) scale(${k})`}
        fill="none"
        strokeLinecap="round"
        strokeLinejoin="round"
      >
        {s.path && <rect className="symbol-hit" x={-2.6} y={-3} width={5.2} height={6} rx={0.5} />}
        {glyph.shapes.map((shape, m) => (
          <path
            key={m}
            d={shape.d}
            stroke={stroke}
            strokeWidth={(shape.bold ? 3 : on ? 2.2 : 1.6) / k}
            fill={shape.solid ? stroke : shape.body ? "var(--sheet)" : "none"}
          />
        ))}
      </g>
      {glyph.names.map((n) => (
        <text
          key={n.text}
          className="pin-name"
          x={X(s.x + n.x)}
          y={Y(s.y + n.y)}
          textAnchor={n.anchor}
          aria-hidden
        >
          {n.text}
        </text>
      ))}
      {s.inside && (
        <text
          className="part-value"
          x={X(s.x + glyph.holds_at[0])}
          y={Y(s.y + glyph.holds_at[1]) + 5}
          textAnchor="middle"
        >
          {s.inside}
        </text>
      )}
      {words?.lines.map((text, m) => (
        <text
          key={text}
          className={m === count - 1 && text === s.value ? "part-value" : "part-label"}
          x={X(words.x)}
          y={Y(words.y) + (first + m + RISE[words.level]) * LINE}
          textAnchor={words.anchor}
        >
          {" "}
          {text}
        </text>
      ))}
    </>
  );
}
