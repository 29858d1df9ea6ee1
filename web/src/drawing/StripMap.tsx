// A board plan: one outline a joined strip, parts in their seats, dashed while they are still to come, copper now.
import { useId, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { S } from "../api/client";
import { useSize } from "./useRoom";
import { useView, type Frame } from "./useView";

export type State = "done" | "now" | "later";
type Spot = readonly [number, number]; // a seat's place [pitches]
type Props = {
  sheet: S["Sheet"];
  words: Readonly<Record<string, string>>; // what each net is called
  volts: ReadonlyMap<string, string>; // what stands on it at the cursor's moment
  stateOf: (id: string) => State; // of a part or a wire
  live: ReadonlySet<string>; // nets that carry current at the cursor's moment
  wrong: ReadonlySet<string>; // parts and nets that the proof names
  pinned: ReadonlySet<string>;
  picked: string | null;
  onPick: (part: string | null) => void;
  onMove?: (part: string, along: number, rows: number, leg?: number) => void;
  onTurn?: (part: string) => void;
  says: string; // what is told while nothing is pointed at
  close?: boolean; // only what is round the seats of the step, on a small screen
};
type Drag = { part: string; leg?: number; x: number; y: number; dx: number; dy: number };

const [SEAT, CURSOR, DOT, USUAL, SPARSE] = [4.2, 8, 0.06, 30, 11]; // the first two in pixels
const FOOT = 20; // of the pane, where it is told what is pointed at [px]
const [GAP, LEAST_CLOSE] = [9.5, 5]; // the middle of the board, and positions of a close-up [pitches]
const STRETCH = 1.5; // along the board, on the screen: names need room
const STEPS: Record<string, Spot> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** A flat-topped hexagon about a place in pixels. */
const hexagon = (x: number, y: number, r: number) => {
  const h = r * 0.866;
  return `M${x - r} ${y}l${r / 2} ${-h}h${r}l${r / 2} ${h}l${-r / 2} ${h}h${-r}z`;
};
const bevelled = (x: number, y: number, w: number, h: number, c = 0.2) =>
  `M${x + c} ${y}h${w - 2 * c}l${c} ${c}v${h - 2 * c}l${-c} ${c}h${2 * c - w}l${-c} ${-c}v${2 * c - h}z`;
const within = (strip: S["StripShape"], [x, y]: Spot) =>
  x >= strip.x && x <= strip.x + strip.width && y >= strip.y && y <= strip.y + strip.height;

/** The height of the boards, and along them as much as is in use or has room; what is now is always there. */
function inUse(sheet: S["Sheet"], size: readonly [number, number], now: readonly S["SeatShape"][]): Frame {
  const { left, top, right, bottom } = sheet.frame;
  const tall = Math.min(size[1] / (bottom - top), USUAL); // pixels a pitch, where the height decides
  const wide = left + size[0] / (tall * STRETCH); // what then fits of the boards
  const shown = Math.min(right, Math.max(sheet.used.right, wide, ...now.map((l) => l.x + 2.6)));
  return [left * STRETCH, top, shown * STRETCH, bottom];
}

/** Some positions to either side of the step's seats, and the half of the board that they are in. */
function closeUp(now: readonly S["SeatShape"][]): Frame {
  const [xs, ys] = [now.map((l) => l.x), now.map((l) => l.y)];
  const [up, down] = [Math.min(...ys), Math.max(...ys)];
  const [top, bottom] = [up <= GAP ? -0.8 : GAP - 0.6, down > GAP ? 2 * GAP + 0.8 : GAP + 0.6];
  const spare = Math.max(2.3, (LEAST_CLOSE - (Math.max(...xs) - Math.min(...xs))) / 2);
  return [(Math.min(...xs) - spare) * STRETCH, top, (Math.max(...xs) + spare) * STRETCH, bottom];
}

export function StripMap(p: Props) {
  const { sheet, picked } = p;
  const [box, size] = useSize([660, 400], FOOT);
  const told = useId();
  const [at, setAt] = useState<Spot | null>(null);
  const [drag, setDrag] = useState<Drag | null>(null);
  const now = [...sheet.parts, ...sheet.tags, ...sheet.wires].flatMap((s) =>
    p.stateOf("part" in s ? s.part : s.id) === "now" ? s.seats : [],
  );
  const view = useView(p.close && now.length > 0 ? closeUp(now) : inUse(sheet, size, now), size, box, USUAL);
  const k = view.scale;
  const X = (x: number) => view.x + x * k * STRETCH;
  const Y = (y: number) => view.y + y * k;
  const seats = (shape: { seats: readonly S["SeatShape"][] }) =>
    shape.seats.map((s) => hexagon(X(s.x), Y(s.y), SEAT)).join("");
  const rows = [...new Set(sheet.rows.map((r) => r.y))].sort((a, b) => a - b);
  const columns = [...new Set(sheet.columns.map((c) => c.x))].sort((a, b) => a - b);

  const step = (key: string) => {
    const [dx, dy] = STEPS[key]!;
    if (picked && p.onMove) return p.onMove(picked, dx, dy);
    const [x, y] = at ?? [columns[0]! - 1, rows[2]!];
    const to = (list: number[], v: number, d: number) =>
      list[Math.max(0, Math.min(list.length - 1, list.indexOf(v) + d))]!;
    setAt(at ? [to(columns, x, dx), to(rows, y, dy)] : [columns[0]!, rows[2]!]);
  };
  const partAt = (spot: Spot | null) =>
    spot &&
    [...sheet.parts, ...sheet.tags].find((s) => s.seats.some((l) => l.x === spot[0] && l.y === spot[1]));
  const keys = (e: KeyboardEvent) => {
    if (STEPS[e.key]) step(e.key);
    else if (e.key === "Enter" && at) p.onPick(picked ? null : (partAt(at)?.part ?? null));
    else if (e.key === "Escape" && picked) p.onPick(null);
    else if (e.key.toLowerCase() === "t" && picked) p.onTurn?.(picked);
    else return view.handlers.onKeyDown(e);
    e.preventDefault();
    e.stopPropagation();
  };

  const spotOf = (e: PointerEvent): Spot => {
    const b = box.current!.getBoundingClientRect();
    return [(e.clientX - b.left - view.x) / (k * STRETCH), (e.clientY - b.top - view.y) / k];
  };
  const grab = (part: string, leg?: number) => (e: PointerEvent) => {
    if (!p.onMove) return;
    e.stopPropagation();
    const [x, y] = spotOf(e);
    (e.currentTarget as Element).setPointerCapture?.(e.pointerId);
    setDrag({ part, leg, x, y, dx: 0, dy: 0 });
  };
  const pull = (e: PointerEvent) => {
    if (!drag) return;
    const [x, y] = spotOf(e);
    setDrag({ ...drag, dx: x - drag.x, dy: y - drag.y });
  };
  const drop = () => {
    if (!drag) return;
    const shape = [...sheet.parts, ...sheet.tags].find((s) => s.part === drag.part);
    const first = shape?.seats[drag.leg ?? 0];
    setDrag(null);
    if (!first) return;
    const along = Math.round(drag.dx);
    const nearest = rows.reduce((a, b) =>
      Math.abs(b - first.y - drag.dy) < Math.abs(a - first.y - drag.dy) ? b : a,
    );
    const down = rows.indexOf(nearest) - rows.indexOf(first.y);
    if (along === 0 && down === 0) return p.onPick(picked === drag.part ? null : drag.part);
    p.onMove?.(drag.part, along, down, drag.leg);
  };

  const strip = at ? sheet.strips.find((s) => within(s, at)) : undefined;
  const here = partAt(at);
  const name = strip?.net ? (p.words[strip.net] ?? strip.net) : "free";
  const volts = strip?.net ? p.volts.get(strip.net) : undefined;
  const tells = strip
    ? [`${strip.word}: ${name}`, volts, here && `${here.ref} here`].filter(Boolean).join(", ")
    : p.says;
  const shift = (part: string) =>
    drag?.part === part && drag.leg === undefined ? `translate(${drag.dx} ${drag.dy})` : undefined;
  const pulled = (part: string, leg: number) =>
    drag?.part === part && (drag.leg ?? leg) === leg
      ? `translate(${drag.dx * k * STRETCH} ${drag.dy * k})`
      : undefined;
  const classOf = (id: string, nets: readonly string[] = []) =>
    [
      p.stateOf(id),
      picked === id ? "picked" : "",
      p.wrong.has(id) || nets.some((n) => p.wrong.has(n)) ? "wrong" : "",
    ].join(" ");
  return (
    <div
      className="strip-map"
      ref={box}
      tabIndex={0}
      role="group"
      aria-label="Strip map: arrows go from seat to seat, Enter picks the part there, then arrows move it and T turns it"
      aria-describedby={told}
      {...view.handlers}
      onKeyDown={keys}
      onPointerMove={(e) => {
        if (drag) return pull(e);
        view.handlers.onPointerMove(e);
        const [x, y] = spotOf(e);
        const over = sheet.strips.find((s) => within(s, [x, y]));
        const near = over?.seats.reduce((a, b) =>
          Math.hypot(b.x - x, b.y - y) < Math.hypot(a.x - x, a.y - y) ? b : a,
        );
        setAt(near ? [near.x, near.y] : null);
      }}
      onPointerUp={(e) => (drag ? drop() : view.handlers.onPointerUp(e))}
      onPointerLeave={() => !drag && setAt(null)}
    >
      <svg width={size[0]} height={size[1] + FOOT} aria-hidden>
        <g transform={`translate(${view.x} ${view.y}) scale(${k * STRETCH} ${k})`}>
          {sheet.strips.map((s) => {
            const lit = now.some((l) => within(s, [l.x, l.y]));
            const state = lit ? "now" : s.net && p.live.has(s.net) ? "live" : s.net ? "used" : "free";
            const on = strip?.net && s.net === strip.net ? " same" : "";
            return (
              <g key={s.id} className={`strip ${state}${on}${p.wrong.has(s.net ?? "") ? " wrong" : ""}`}>
                <path d={bevelled(s.x, s.y, s.width, s.height)} />
                <path
                  className="dots"
                  strokeWidth={DOT * 2}
                  d={s.seats.map((l) => `M${l.x} ${l.y}h0`).join("")}
                />
              </g>
            );
          })}
          {sheet.wires.map((w) => (
            <path key={w.id} className={`wire ${classOf(w.id, [w.net])}`} d={w.d} />
          ))}
          {sheet.tags.map((t, n) => (
            <path key={n} className={`lead ${classOf(t.part)}`} d={t.d} />
          ))}
        </g>
        {[...sheet.wires, ...sheet.tags].map((w, n) => (
          <path
            key={n}
            className={`legs-on ${"part" in w ? classOf(w.part) : classOf(w.id, [w.net])}`}
            d={seats(w)}
          />
        ))}
        <g transform={`translate(${view.x} ${view.y}) scale(${k * STRETCH} ${k})`}>
          {sheet.tags.map((t, n) => (
            <g
              key={n}
              className={`tag-box ${classOf(t.part)}`}
              onPointerDown={(e) => e.stopPropagation()}
              onClick={() => p.onPick(picked === t.part ? null : t.part)}
            >
              <path d={bevelled(t.x - t.width / 2, t.y - 0.5, t.width, 1)} />
            </g>
          ))}
          {sheet.parts.map((s) => (
            <g
              key={s.part}
              className={`part ${classOf(s.part)}${p.pinned.has(s.part) ? " pinned" : ""}`}
              transform={shift(s.part)}
              onPointerDown={grab(s.part)}
            >
              <path className="leads" d={s.leads} />
              <path className="body" d={s.body} />
              {s.marks && <path className="marks" d={s.marks} />}
            </g>
          ))}
        </g>
        {sheet.parts.map((s) => (
          <g key={s.part} className={classOf(s.part)}>
            {s.seats.map((l, n) => (
              <path
                key={n}
                className="legs-on"
                d={hexagon(X(l.x), Y(l.y), SEAT)}
                transform={pulled(s.part, n)}
                onPointerDown={grab(s.part, picked === s.part ? n : undefined)}
              />
            ))}
          </g>
        ))}
        {at && <path className="seat-cursor" d={hexagon(X(at[0]), Y(at[1]), CURSOR)} />}
        {sheet.columns.map((c) => {
          const bold = now.some((l) => l.x === c.x);
          if (k < SPARSE && !bold && Number(c.text) % 5 !== 0) return null;
          return (
            <text key={`${c.x},${c.y}`} className={bold ? "column now" : "column"} x={X(c.x)} y={Y(c.y) + 4}>
              {c.text}
            </text>
          );
        })}
        {sheet.rows.map((r) => (
          <text key={`${r.x},${r.y}`} className="row-name" x={X(r.x)} y={Y(r.y) + 4}>
            {r.text}
          </text>
        ))}
        {sheet.tags.map((t, n) => (
          <text key={n} className={`ref ${classOf(t.part)}`} x={X(t.x)} y={Y(t.y) + 4.5}>
            {t.text}
          </text>
        ))}
        {sheet.parts.map((s) => (
          <text
            key={s.part}
            className={`ref ${classOf(s.part)}`}
            x={X(s.x)}
            y={Y(s.y) + 4.5}
            transform={s.upright ? `rotate(-90 ${X(s.x)} ${Y(s.y)})` : undefined}
          >
            {s.ref}
          </text>
        ))}
      </svg>
      <p className="tells" id={told} role="status">
        {tells}
      </p>
      <div className="zoom" role="group" aria-label="Size of the map">
        <button aria-label="Smaller" title="Smaller  -" onClick={() => view.zoom(0.8)}>
          −
        </button>
        <button aria-label="Larger" title="Larger  +" onClick={() => view.zoom(1.25)}>
          +
        </button>
        <button disabled={view.isFitted} onClick={view.fit}>
          Fit
        </button>
      </div>
    </div>
  );
}
