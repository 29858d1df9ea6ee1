// Numbers as people read them. Formatting only: nothing of the job is computed here.
const PREFIXES: [number, string][] = [
  [1e9, "G"],
  [1e6, "M"],
  [1e3, "k"],
  [1, ""],
  [1e-3, "m"],
  [1e-6, "µ"],
  [1e-9, "n"],
  [1e-12, "p"],
];

/** 0.0457, "A" → "45.7 mA". */
export function show(value: number, unit: string, digits = 3): string {
  if (!Number.isFinite(value)) return "–";
  const size = Math.abs(value);
  if (size < 1e-13) return `0 ${unit}`.trim();
  const plain = size >= 1 && size < 10_000 && (unit === "V" || unit === "");
  const [scale, prefix] = plain
    ? ([1, ""] as const)
    : (PREFIXES.find(([s]) => size >= s * 0.9995) ?? PREFIXES.at(-1)!);
  const text = String(Number((value / scale).toPrecision(digits)));
  return `${text} ${prefix}${unit}`.trim();
}

/** 4700 → "4k7". */
export function showPart(value: number): string {
  const [scale, prefix] = PREFIXES.find(([s]) => Math.abs(value) >= s * 0.9995) ?? [1, ""];
  const [whole, part] = String(Number((value / scale).toPrecision(3))).split(".");
  return part ? `${whole}${prefix || "R"}${part}` : `${whole}${prefix}`;
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
