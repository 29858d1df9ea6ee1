// Where each block of the flow stands: in a row, channels below each other, the rest folded into stacks when it is tight.
import type { S } from "../../api/client";

export type Block = S["FlowBlock"];
type Join = S["FlowJoin"];
export type Box = {
  blocks: readonly Block[]; // one, or those folded into a stack
  x: number;
  y: number;
  w: number;
  slim: boolean; // one line high, in a channel
  standing: Block["standing"];
  label: string; // the role above it; empty where the one before says it
};
export type Line = { from: Box; to: Box; join: Join; d: string; seat: [number, number] };
export type Layout = { boxes: Box[]; lines: Line[]; width: number; height: number };

export const [TALL, SLIM] = [46, 28];
const [TOP, ROW, GAP, MOST_GAP, EDGE, STACK] = [30, 38, 22, 64, 10, 44];
const LETTERS = [15, 12, 9, 7]; // a title is clipped to fewer letters before blocks are folded
const RANK = ["fails", "unknown", "tight", "fits", "proven", "told"];
export const ROLES: Record<Block["role"], string> = {
  signal: "Input",
  behaviour: "Behave",
  drive: "Drive",
  guard: "Guard",
  load: "Load",
};
type Measure = (text: string, bold: boolean) => number;

const clip = (text: string, most: number) => (text.length > most ? `${text.slice(0, most - 1)}…` : text);
export const worst = (blocks: readonly Block[]): Block["standing"] =>
  [...blocks].sort((a, b) => RANK.indexOf(a.standing) - RANK.indexOf(b.standing))[0]!.standing;

type Item = { blocks: readonly Block[]; w: number };

function whole(block: Block, letters: number, measure: Measure, slim: boolean): Item {
  const title = measure(clip(block.title, letters), true);
  const value = measure(clip(block.value, slim ? letters - 1 : letters + 1), false);
  return { blocks: [block], w: slim ? title + value + 46 : Math.max(56, title, value) + 19 };
}

const stack = (blocks: readonly Block[]): Item => ({ blocks, w: STACK });
const wide = (items: readonly Item[]) =>
  items.reduce((sum, i) => sum + i.w, GAP * Math.max(0, items.length - 1));

/** Blocks of one row as items no wider than `room`, if folding can do it. What is in `keep` stays whole. */
export function fold(
  row: readonly Block[],
  room: number,
  keep: ReadonlySet<string>,
  measure: Measure,
  slim = false,
): Item[] {
  for (const letters of LETTERS) {
    const items = row.map((b) => whole(b, letters, measure, slim));
    if (wide(items) <= room) return items;
  }
  let items = row.map((b) => whole(b, LETTERS.at(-1)!, measure, slim));
  for (let k = 0; k < items.length && wide(items) > room; k++) {
    const role = items[k]!.blocks[0]!.role;
    const free = (i: Item) => i.blocks[0]!.role === role && !keep.has(i.blocks[0]!.id);
    let end = k;
    while (end < items.length && free(items[end]!)) end++;
    if (end - k > 1) {
      const folded = stack(items.slice(k, end).flatMap((i) => i.blocks));
      items = [...items.slice(0, k), folded, ...items.slice(end)];
    }
  }
  return items;
}

/** The picked block and its neighbours in the row: they stay whole. */
export function near(row: readonly Block[], picked: string | null): Set<string> {
  const k = row.findIndex((b) => b.id === picked);
  return new Set(k < 0 ? [] : row.slice(Math.max(0, k - 1), k + 2).map((b) => b.id));
}

function placed(items: readonly Item[], from: number, to: number, y: number, slim: boolean): Box[] {
  const spare = (to - from - items.reduce((sum, i) => sum + i.w, 0)) / Math.max(1, items.length - 1);
  const gap = Math.max(GAP, Math.min(MOST_GAP, spare));
  let x = from;
  let said = "";
  return items.map((item) => {
    const role = ROLES[item.blocks[0]!.role];
    const box = { ...item, x, y, slim, standing: worst(item.blocks), label: role === said ? "" : role };
    said = role;
    x += item.w + gap;
    return box;
  });
}

export function layout(
  flow: S["FlowPicture"],
  room: number,
  picked: string | null,
  opened: ReadonlySet<string>,
  measure: Measure,
): Layout {
  // Rows are channels; loads beside each other on the one switch have a row each, too.
  const loads = flow.blocks.filter((b) => b.role === "load");
  const channels = flow.channels > 1;
  const many = channels || loads.length > 1;
  const inRow = (b: Block) => (channels ? b.channel != null : b.role === "load");
  const shared = many ? flow.blocks.filter((b) => !inRow(b)) : flow.blocks;
  const rows = channels
    ? Array.from({ length: flow.channels }, (_, k) => flow.blocks.filter((b) => b.channel === k))
    : many
      ? loads.map((load) => [load])
      : [];
  const keep = (row: readonly Block[]) => new Set([...near(row, picked), ...opened]);
  const inner = room - 2 * EDGE;
  const height = TOP + (many ? Math.max(rows.length * ROW, TALL) : TALL) + 10;
  const middle = many ? Math.max(TOP, TOP + (rows.length * ROW - TALL) / 2) : TOP;
  const left = fold(shared, many ? inner * 0.5 : inner, keep(shared), measure);
  const boxes = placed(left, EDGE, many ? EDGE + wide(left) : room - EDGE, middle, false);
  const end = many ? EDGE + wide(left) + (left.length ? 2 * GAP : 0) : 0;
  rows.forEach((row, k) => {
    const items = fold(row, room - EDGE - end, keep(row), measure, true);
    const made = placed(items, end, room - EDGE, TOP + k * ROW, true);
    boxes.push(...(k === 0 ? made : made.map((b) => ({ ...b, label: "" }))));
  });
  const of = (end: string) => boxes.find((b) => b.blocks.some((c) => c.id === end.split(".")[0]));
  const lines = flow.joins.flatMap((join) => {
    const [from, to] = [of(join.begin), of(join.end)];
    if (!from || !to || from === to) return [];
    const [x0, x1] = from.x < to.x ? [from.x + from.w, to.x] : [from.x, to.x + to.w];
    const centre = (b: Box) => b.y + (b.slim ? SLIM : TALL) / 2;
    const [y0, y1] = [centre(from), centre(to)];
    const turn = y0 === y1 ? (x0 + x1) / 2 : x1 - GAP;
    const d = y0 === y1 ? `M${x0} ${y0}H${x1}` : `M${x0} ${y0}H${turn}V${y1}H${x1}`;
    return [{ from, to, join, d, seat: [y0 === y1 ? turn : (turn + x1) / 2, y1] as [number, number] }];
  });
  return { boxes, lines, width: Math.max(room, ...boxes.map((b) => b.x + b.w + EDGE)), height };
}
