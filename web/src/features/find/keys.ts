// One registry of keys: who answers to a key says so in words, and the sheet shows what answers now.
import { useEffect, useRef } from "react";

export type Key = {
  shown: string; // as the sheet shows it
  words: string;
  press?: readonly string[]; // what is pressed, as "R", "Shift+2" or "Ctrl+Z"; none: what has the focus answers itself
  act?: (which: number) => void; // `which` of them was pressed
  alone?: boolean; // only while nothing has the focus
};
export type Keys = { where: string; keys: readonly Key[] };

const groups = new Set<{ current: Keys }>();
export const EVERYWHERE = "Everywhere";
const BUSY = "input, textarea, select, [role=dialog], [role=menu]"; // what keeps its keys to itself

/** How a pressed key may be called: by its place for digits, and by what it writes. */
export function names(e: Pick<KeyboardEvent, "key" | "code" | "ctrlKey" | "metaKey" | "shiftKey">): string[] {
  const ctrl = e.ctrlKey || e.metaKey ? "Ctrl+" : "";
  const digit = /^Digit(\d)$/.exec(e.code)?.[1];
  const letter = e.key.length === 1 ? e.key.toUpperCase() : e.key;
  const shift = e.shiftKey && (digit || /^[A-Z]$/.test(letter)) ? "Shift+" : "";
  return [`${ctrl}${shift}${digit ?? letter}`, ...(digit ? [`${ctrl}${letter}`] : [])];
}

function pressed(e: KeyboardEvent) {
  const target = e.target as HTMLElement;
  if (e.altKey || target.closest(BUSY)) return;
  for (const name of names(e))
    for (const group of groups)
      for (const key of group.current.keys) {
        const which = key.press?.indexOf(name) ?? -1;
        if (which < 0 || !key.act || (key.alone && target !== document.body)) continue;
        e.preventDefault();
        return key.act(which);
      }
}

/** Answers to keys while the component is there. */
export function useKeys(where: string, keys: readonly Key[]) {
  const own = useRef<Keys>({ where, keys });
  useEffect(() => {
    own.current = { where, keys };
  });
  useEffect(() => {
    if (groups.size === 0) addEventListener("keydown", pressed);
    groups.add(own);
    return () => {
      groups.delete(own);
      if (groups.size === 0) removeEventListener("keydown", pressed);
    };
  }, []);
}

/** What answers now, by where; what answers everywhere first. */
export function keysNow(): Keys[] {
  const by = new Map<string, Key[]>();
  for (const { current } of groups)
    by.set(current.where, [...(by.get(current.where) ?? []), ...current.keys]);
  return [...by]
    .map(([where, keys]) => ({ where, keys }))
    .sort((a, b) => Number(b.where === EVERYWHERE) - Number(a.where === EVERYWHERE));
}
