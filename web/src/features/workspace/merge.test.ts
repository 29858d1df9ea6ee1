import { describe, expect, it } from "vitest";
import { at, before, clashing } from "./merge";

const base = {
  supply: { low: 10.8 },
  blocks: { b2: { r_gate: 220, r_pull: 6800 } },
  origins: { "blocks.b4.resistance": "measured" },
};
const theirs = { ...base, blocks: { b2: { r_gate: 220, r_pull: 10000 } } };

describe("two edits of one design", () => {
  it("finds what stands at a path, also where keys are paths", () => {
    expect(at(base, "blocks.b2.r_gate")).toBe(220);
    expect(at(base, "origins.blocks.b4.resistance")).toBe("measured");
    expect(at(base, "blocks.b9.kind")).toBeUndefined();
  });
  it("lets what they touch apart be merged", () => {
    const mine = [{ path: "blocks.b2.r_gate", value: 330 }];
    expect(clashing(mine, before(base, mine), theirs)).toEqual([]);
  });
  it("asks about what both touched, unless both came to the same", () => {
    const mine = [
      { path: "blocks.b2.r_gate", value: 330 },
      { path: "blocks.b2.r_pull", value: 4700 },
    ];
    expect(clashing(mine, before(base, mine), theirs)).toEqual(["blocks.b2.r_pull"]);
    const alike = [{ path: "blocks.b2.r_pull", value: 10000 }];
    expect(clashing(alike, before(base, alike), theirs)).toEqual([]);
  });
  it("sees a block that is gone meanwhile", () => {
    const mine = [{ path: "blocks.b2.r_gate", value: 330 }];
    expect(clashing(mine, before(base, mine), { ...base, blocks: {} })).toEqual(["blocks.b2.r_gate"]);
  });
});
