// Two edits of one design: what they touch apart is merged, and only what both touched is asked.
import type { Change } from "../../api/client";

const BY_PATH = ["origins", "rated"]; // tables whose keys are themselves paths

/** What stands at a dotted path of a document; undefined where nothing does. */
export function at(document: unknown, path: string): unknown {
  const [table = "", ...rest] = path.split(".");
  const steps = BY_PATH.includes(table) && rest.length ? [table, rest.join(".")] : path.split(".");
  return steps.reduce<unknown>(
    (here, step) =>
      typeof here === "object" && here !== null ? (here as Record<string, unknown>)[step] : undefined,
    document,
  );
}

const same = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);

/** What stands before an edit at each of its paths. */
export const before = (document: unknown, changes: readonly Change[]) =>
  changes.map((c) => at(document, c.path) ?? null);

/** The paths of an edit that somebody else changed meanwhile, and not to the same. */
export const clashing = (changes: readonly Change[], was: readonly unknown[], theirs: unknown): string[] =>
  changes
    .filter((c, k) => !same(was[k], at(theirs, c.path)) && !same(c.value, at(theirs, c.path)))
    .map((c) => c.path);
