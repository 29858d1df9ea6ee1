import { describe, expect, it } from "vitest";
import { fold, layout, near, type Block } from "./layout";

const measure = (text: string) => text.length * 8;
const block = (id: string, role: Block["role"], more: Partial<Block> = {}): Block => ({
  id,
  role,
  kind: role,
  facet: "drive",
  title: `Title ${id}`,
  picture: "",
  summary: "",
  value: "220 Ω",
  standing: "fits",
  column: 0,
  channel: null,
  open: [],
  ...more,
});
const row = [
  block("b1", "signal"),
  block("b2", "drive"),
  block("b3", "guard", { standing: "fails" }),
  block("b4", "guard"),
  block("b5", "guard"),
  block("b6", "load"),
];

describe("folding", () => {
  it("leaves a row whole where there is room", () => {
    expect(fold(row, 2000, new Set(), measure)).toHaveLength(6);
  });
  it("folds blocks of one role into a stack, and hides no fault", () => {
    const items = fold(row, 420, new Set(), measure);
    expect(items.map((i) => i.blocks.length)).toEqual([1, 1, 3, 1]);
    const plan = layout({ blocks: row, joins: [], channels: 1 }, 440, null, new Set(), measure);
    expect(plan.boxes.find((b) => b.blocks.length > 1)?.standing).toBe("fails");
  });
  it("keeps the picked block and its neighbours whole", () => {
    const keep = near(row, "b4");
    expect([...keep]).toEqual(["b3", "b4", "b5"]);
    expect(fold(row, 420, keep, measure)).toHaveLength(6);
  });
});

describe("loads beside each other", () => {
  it("have a row each, and a join each from what feeds them", () => {
    const blocks = [block("b1", "signal"), block("b2", "drive"), block("b3", "load"), block("b4", "load")];
    const joins = ["b3", "b4"].map((l) => ({ begin: "b2.out", end: `${l}.load`, carries: "load", part: "" }));
    const plan = layout({ blocks, joins, channels: 1 }, 480, null, new Set(), measure);
    const [one, other] = plan.boxes.filter((b) => b.slim);
    expect(one!.x).toBe(other!.x);
    expect(other!.y).toBeGreaterThan(one!.y);
    expect(plan.lines).toHaveLength(2);
  });
});

describe("channels", () => {
  it("lie below each other behind what they share, and boxes never lie on each other", () => {
    const blocks = [
      block("b1", "signal"),
      block("b2", "drive"),
      ...[0, 1, 2].map((k) => block(`l${k}`, "load", { channel: k })),
    ];
    const joins = [0, 1, 2].map((k) => ({ begin: "b2.out", end: `l${k}.load`, carries: "load", part: "K1" }));
    const plan = layout({ blocks, joins, channels: 3 }, 480, null, new Set(), measure);
    expect(plan.lines).toHaveLength(3);
    const rows = plan.boxes.filter((b) => b.slim).map((b) => b.y);
    expect(new Set(rows).size).toBe(3);
    for (const a of plan.boxes)
      for (const b of plan.boxes)
        if (a !== b && a.y === b.y) expect(a.x + a.w <= b.x || b.x + b.w <= a.x).toBe(true);
  });
});
