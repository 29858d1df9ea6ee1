// Numbers as people read them. Formatting only: nothing of the job is computed here.
const PREFIXES = ["f", "p", "n", "µ", "m", "", "k", "M", "G", "T"];
const FIXED = ["°C", "%", "K/W", "°"]; // never with a prefix, one digit after the point
const PLAIN = ["V", "s", ""]; // kiloseconds and kilovolts read worse than plain numbers on a bench

/** A value with its engineering prefix: what stands before it, and which it is. */
function scaled(value: number, digits: number): [number, string] {
  const rounded = Number(value.toPrecision(digits));
  const third = Math.max(-5, Math.min(4, Math.floor(Math.log10(Math.abs(rounded)) / 3 + 1e-12)));
  return [Number((value / 10 ** (3 * third)).toPrecision(digits)), PREFIXES[third + 5]!];
}

/** 0.0457, "A" → "45.7 mA"; the core says it the same way, held to one table of cases. */
export function show(value: number, unit: string, digits = 3): string {
  if (!Number.isFinite(value)) return Number.isNaN(value) ? "–" : "no limit";
  const size = Math.abs(value);
  if (FIXED.includes(unit)) return `${Number(value.toFixed(1))} ${unit}`.replace(" %", "%");
  if (size >= 1 && size < 10_000 && PLAIN.includes(unit))
    return `${Number(value.toPrecision(digits)).toLocaleString("en-US", { maximumSignificantDigits: 6 })} ${unit}`.trim();
  if (size < 1e-15) return `0 ${unit}`.trim();
  const [number, prefix] = scaled(value, digits);
  return unit ? `${number} ${prefix}${unit}` : `${number}${prefix}`;
}

/** A text whose numbers stay on one line with their units. */
export const unbroken = (text: string): string =>
  text.replaceAll(/(\d) (?=[fpnµmkMGT]?(?:V|A|W|Ω|s|Hz|F|H|J|°C)(?!\p{L}))/gu, "$1\u00a0");

/** 4700 → "4k7". */
export function showPart(value: number): string {
  if (value === 0) return "0";
  const [number, prefix] = scaled(value, 4);
  const letter = prefix === "µ" ? "u" : prefix;
  const [whole, part] = String(number).split(".");
  return part ? `${whole}${letter || "R"}${part}` : `${whole}${letter}`;
}

/** Cut in the middle: the end tells twins apart. */
export function cutMiddle(text: string, most: number): string {
  if (text.length <= most) return text;
  const tail = Math.floor(most / 3);
  return `${text.slice(0, most - tail - 1).trimEnd()} … ${text.slice(-tail).trimStart()}`;
}

/** "today 14:20", "yesterday", "3 days ago". */
export function when(iso: string): string {
  const then = new Date(iso);
  const midnight = (d: Date) => new Date(d.getFullYear(), d.getMonth(), d.getDate()).getTime();
  const days = Math.round((midnight(new Date()) - midnight(then)) / 86_400_000);
  if (days <= 0) return `today ${then.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })}`;
  return days === 1 ? "yesterday" : `${days} days ago`;
}
