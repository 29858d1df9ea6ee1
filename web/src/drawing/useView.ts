// A view onto a drawing: fitted to its pane at first, then zoomed about a point and moved, by wheel, fingers or keys.
import {
  useCallback,
  useEffect,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
  type RefObject,
} from "react";

export type Frame = readonly [number, number, number, number]; // left, top, right, bottom, in grid units
type View = { scale: number; x: number; y: number }; // pixels a unit, and where the grid's origin lies

export const LEAST = 7.5; // pixels a unit: below it words would lie on each other
const [MOST, USUAL, MARGIN] = [48, 16, 5];

const hold = (value: number, low: number, high: number) => Math.max(low, Math.min(high, value));

/** The largest usual scale at which a frame fits a pane, centred; a wider one begins at its left. */
export function fitted(frame: Frame, width: number, height: number, usual = USUAL): View {
  const [left, top, right, bottom] = frame;
  const across = (width - 2 * MARGIN) / (right - left);
  const along = (height - 2 * MARGIN) / (bottom - top);
  const scale = hold(Math.min(across, along), LEAST, usual);
  const free = width - (right - left) * scale;
  return {
    scale,
    x: (free > 0 ? free / 2 : MARGIN) - left * scale,
    y: (height - (bottom - top) * scale) / 2 - top * scale,
  };
}

/** Zoomed by a factor, the point (x, y) of the pane staying where it is. */
export function zoomed(view: View, factor: number, x: number, y: number): View {
  const scale = hold(view.scale * factor, LEAST, MOST);
  const k = scale / view.scale;
  return { scale, x: x - (x - view.x) * k, y: y - (y - view.y) * k };
}

export function useView(
  frame: Frame,
  size: readonly [number, number],
  pane: RefObject<HTMLElement | null>,
  usual = USUAL,
) {
  const [own, setOwn] = useState<View | null>(null);
  const view = own ?? fitted(frame, size[0], size[1], usual);
  const now = useRef(view);
  useEffect(() => {
    now.current = view;
  });
  const fingers = useRef(new Map<number, [number, number]>());
  const moved = useRef(false);
  const zoom = useCallback(
    (factor: number, x = size[0] / 2, y = size[1] / 2) => setOwn(zoomed(now.current, factor, x, y)),
    [size],
  );
  useEffect(() => {
    const element = pane.current;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const box = element!.getBoundingClientRect();
      zoom(Math.exp(-e.deltaY / 400), e.clientX - box.left, e.clientY - box.top);
    };
    element?.addEventListener("wheel", wheel, { passive: false });
    return () => element?.removeEventListener("wheel", wheel);
  }, [pane, zoom]);
  const handlers = {
    onPointerDown: (e: PointerEvent) => {
      fingers.current.set(e.pointerId, [e.clientX, e.clientY]);
      moved.current = false;
    },
    onPointerMove: (e: PointerEvent) => {
      const before = fingers.current.get(e.pointerId);
      if (!before || e.buttons === 0) return void fingers.current.delete(e.pointerId);
      const [dx, dy] = [e.clientX - before[0], e.clientY - before[1]];
      if (!moved.current && Math.hypot(dx, dy) < 4) return;
      moved.current = true;
      const others = [...fingers.current].filter(([id]) => id !== e.pointerId).map(([, at]) => at);
      fingers.current.set(e.pointerId, [e.clientX, e.clientY]);
      const other = others[0];
      if (!other) return setOwn({ ...now.current, x: now.current.x + dx, y: now.current.y + dy });
      const span = (at: readonly [number, number]) => Math.hypot(at[0] - other[0], at[1] - other[1]);
      const box = pane.current!.getBoundingClientRect();
      zoom(span([e.clientX, e.clientY]) / Math.max(1, span(before)), other[0] - box.left, other[1] - box.top);
    },
    onPointerUp: (e: PointerEvent) => void fingers.current.delete(e.pointerId),
    onClickCapture: (e: React.MouseEvent) => {
      if (!moved.current) return;
      e.stopPropagation(); // it was a drag, not a pick
      moved.current = false;
    },
    onKeyDown: (e: KeyboardEvent) => {
      const way = { ArrowLeft: [40, 0], ArrowRight: [-40, 0], ArrowUp: [0, 40], ArrowDown: [0, -40] }[e.key];
      if (way) setOwn({ ...now.current, x: now.current.x + way[0]!, y: now.current.y + way[1]! });
      else if (e.key === "+" || e.key === "=") zoom(1.25);
      else if (e.key === "-") zoom(0.8);
      else if (e.key === "0") setOwn(null);
      else return;
      e.preventDefault();
      e.stopPropagation();
    },
  };
  return { ...view, isFitted: own === null, fit: () => setOwn(null), look: setOwn, zoom, handlers };
}
