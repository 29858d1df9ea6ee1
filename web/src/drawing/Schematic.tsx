// The schematic as the core laid it out, lit by what conducts at the cursor's moment.
import { Fragment, useId, useLayoutEffect, useRef, useState } from "react";
import type { S } from "../api/client";
import { show } from "./format";

type Props = {
  drawing: S["Drawing"];
  lit: ReadonlySet<string>; // references that conduct now
  values: ReadonlyMap<string, number>; // lane id to value now
  closed: ReadonlySet<string>; // references whose contact is made
  us: boolean;
  picked: string | null;
  onPick: (path: string) => void;
};

const hexTag = (w: number) => `M${-w / 2} 0l8 -11h${w - 16}l8 11l-8 11h${-(w - 16)}z`;
const SIDE = {
  right: [1.4, -0.35, "start"],
  left: [-1.4, -0.35, "end"],
  above: [0, -2.55, "middle"],
  below: [0, 2.2, "middle"],
} as const;

export function Schematic({ drawing, lit, values, closed, us, picked, onPick }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const id = useId();
  const [size, setSize] = useState<[number, number]>([470, 370]);
  useLayoutEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setSize([entry.contentRect.width, entry.contentRect.height]);
    });
    if (box.current) watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  const k = Math.max(8, Math.min(size[0] / (drawing.width + 2.6), size[1] / (drawing.height + 4.6), 16));
  // A drawing wider than its pane at the least scale is scrolled, never shrunk.
  const width = Math.max(size[0], (drawing.width + 4) * k);
  const [ox, oy] = [(width - drawing.width * k) / 2, (size[1] - drawing.height * k) / 2 + 4];
  const X = (x: number) => ox + x * k;
  const Y = (y: number) => oy + y * k;
  const isLit = (part: string | null | undefined) => !!part && lit.has(part);
  return (
    <div className="schematic" ref={box} tabIndex={width > size[0] ? 0 : undefined}>
      <svg width={width} height={size[1]} role="group" aria-label="Schematic" aria-describedby={id}>
        <desc id={id}>Parts are drawn in copper while they conduct at the cursor’s moment.</desc>
        {drawing.wires
          .filter((w) => w.load && isLit(w.part))
          .map((w, n) => (
            <polyline
              key={n}
              points={w.points.map(([x, y]) => `${X(x)},${Y(y)}`).join(" ")}
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
            points={w.points.map(([x, y]) => `${X(x)},${Y(y)}`).join(" ")}
            fill="none"
            stroke={isLit(w.part) ? "var(--copper)" : "var(--ink)"}
            strokeWidth={w.load && isLit(w.part) ? 3 : 1.6}
            strokeLinecap="round"
            strokeLinejoin="round"
          />
        ))}
        {drawing.links.map((l, n) => (
          <polyline
            key={n}
            points={l.points.map(([x, y]) => `${X(x)},${Y(y)}`).join(" ")}
            stroke="var(--ink3)"
            strokeDasharray="4 4"
            fill="none"
          />
        ))}
        {drawing.dots.map(([x, y], n) => (
          <circle key={n} cx={X(x)} cy={Y(y)} r={3.6} fill="var(--ink)" />
        ))}
        {drawing.symbols.map((s, n) => {
          const variant =
            s.symbol === "resistor" && us
              ? "resistor_us"
              : closed.has(s.ref) && `${s.symbol}_closed` in drawing.glyphs
                ? `${s.symbol}_closed`
                : s.symbol;
          const glyph = drawing.glyphs[variant] ?? drawing.glyphs[s.symbol]!;
          const on = isLit(s.ref);
          const stroke = on ? "var(--copper)" : "var(--ink)";
          const [dx, dy, anchor] = SIDE[s.side];
          const inBox = s.symbol === "coil";
          const wide = /motor|lamp|heater|module|solenoid|board/.test(s.symbol)
            ? 0.9
            : /optocoupler|bridge/.test(s.symbol)
              ? 3
              : 0;
          const out = s.side === "left" ? -wide : s.side === "right" ? wide : 0;
          const texts = [s.label, inBox ? "" : s.value].filter(Boolean);
          const rail = s.symbol === "rail" || s.symbol === "ground";
          const pickable = !!s.path && !rail;
          const body = (
            <>
              <g
                transform={`translate(${X(s.x)} ${Y(s.y)}) rotate(${s.turn}) scale(${k})`}
                fill="none"
                strokeLinecap="round"
                strokeLinejoin="round"
              >
                {pickable && <rect className="symbol-hit" x={-2.6} y={-3} width={5.2} height={6} rx={0.5} />}
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
              {glyph.inside && (
                <text className="part-value" x={X(s.x)} y={Y(s.y) + 5} textAnchor="middle">
                  {glyph.inside}
                </text>
              )}
              {inBox && " "}
              {inBox && (
                <text className="part-value" x={X(s.x)} y={Y(s.y) + 5} textAnchor="middle">
                  {s.value}
                </text>
              )}
              {s.symbol === "pin" ? (
                <text
                  className="part-value"
                  style={k < 9 ? { fontSize: 12.5 } : undefined}
                  x={X(s.x + 3.3)}
                  y={Y(s.y) + 5}
                  textAnchor="middle"
                >
                  {s.label}
                </text>
              ) : rail ? (
                <text className="part-label" x={X(s.x)} y={Y(s.y) + (s.symbol === "rail" ? -8 : 18)}>
                  {s.label}
                </text>
              ) : (
                texts.map((t, m) => (
                  <Fragment key={m}>
                    {" "}
                    <text
                      className={m === texts.length - 1 && s.value && !inBox ? "part-value" : "part-label"}
                      x={X(s.x + dx + out + (inBox ? 2.9 : /mosfet|npn|pnp/.test(s.symbol) ? 1.4 : 0))}
                      y={Y(s.y + dy + (inBox ? 1.2 : 0)) + m * 16 + (texts.length === 1 && !inBox ? 9 : 0)}
                      textAnchor={inBox ? "start" : anchor}
                    >
                      {t}
                    </text>
                  </Fragment>
                ))
              )}
            </>
          );
          return pickable ? (
            <g
              key={n}
              role="button"
              tabIndex={0}
              aria-label={[glyph.inside, inBox && s.value, ...texts].filter(Boolean).join(" ")}
              aria-pressed={picked === s.path}
              className={`symbol${picked === s.path ? " picked" : ""}`}
              onClick={() => onPick(s.path!)}
              onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && (e.preventDefault(), onPick(s.path!))}
            >
              {body}
            </g>
          ) : (
            <g key={n}>{body}</g>
          );
        })}
        {drawing.tags.map((t) => {
          const value = values.get(t.lane);
          if (value === undefined) return null;
          const text = show(Math.abs(value) < 5e-4 && t.unit === "V" ? 0 : value, t.unit);
          const w = text.length * 7.9 + 24;
          const filled = t.unit === "A";
          return (
            <g
              key={t.lane}
              transform={`translate(${Math.min(X(t.x), width - w / 2 - 2)} ${Y(t.y)})`}
              aria-hidden
            >
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
    </div>
  );
}
