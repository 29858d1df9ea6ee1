// The room that a drawing has, heard of whenever it changes.
import { useCallback, useLayoutEffect, useRef, useState } from "react";

type Heard = (width: number, height: number) => void;

/** A box whose inner size is told; `heard` must stay the same from one drawing to the next. */
function useRoom<E extends HTMLElement>(heard: Heard) {
  const box = useRef<E>(null);
  useLayoutEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      if (entry) heard(entry.contentRect.width, entry.contentRect.height);
    });
    if (box.current) watch.observe(box.current);
    return () => watch.disconnect();
  }, [heard]);
  return box;
}

/** A box and its width. */
export function useWidth<E extends HTMLElement = HTMLElement>(first = 440) {
  const [width, setWidth] = useState(first);
  const heard = useCallback<Heard>((w) => setWidth(w), []);
  return [useRoom<E>(heard), width] as const;
}

/** A box and its width and height less a `foot`, as long as it has any: while it is printed it has none. */
export function useSize<E extends HTMLElement = HTMLDivElement>(first: readonly [number, number], foot = 0) {
  const [size, setSize] = useState(first);
  const heard = useCallback<Heard>(
    (w, h) => {
      if (w > 0 && h > 0) setSize([w, h - foot]);
    },
    [foot],
  );
  return [useRoom<E>(heard), size] as const;
}
