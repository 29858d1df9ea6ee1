// Finds the terms in a text: each where it stands first.
import type { S } from "../../api/client";

export type Piece = { text: string; term?: S["Term"] };

const escaped = (form: string) => form.replaceAll(/[.*+?^${}()|[\]\\]/g, "\\$&");

/** A text in pieces, in order; a piece with a term is to be explained. */
export function split(text: string, terms: readonly S["Term"][]): Piece[] {
  const by = new Map(terms.flatMap((term) => term.forms.map((form) => [form.toLowerCase(), term] as const)));
  if (by.size === 0) return [{ text }];
  // The longest form first, so that “pull-down” is not found inside of a longer one.
  const forms = [...by.keys()].sort((a, b) => b.length - a.length).map(escaped);
  const told = new Set<S["Term"]>();
  const pieces: Piece[] = [];
  let from = 0;
  for (const found of text.matchAll(new RegExp(`(?<![\\p{L}-])(?:${forms.join("|")})(?![\\p{L}-])`, "giu"))) {
    const term = by.get(found[0].toLowerCase())!;
    if (told.has(term)) continue;
    told.add(term);
    if (found.index > from) pieces.push({ text: text.slice(from, found.index) });
    pieces.push({ text: found[0], term });
    from = found.index + found[0].length;
  }
  if (from < text.length) pieces.push({ text: text.slice(from) });
  return pieces;
}
