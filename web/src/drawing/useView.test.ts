import { describe, expect, it } from "vitest";
import { fitted, LEAST, zoomed } from "./useView";

describe("a view onto a drawing", () => {
  it("fits a small one in the middle", () => {
    const view = fitted([0, 0, 20, 10], 400, 300);
    expect(view.scale).toBe(16);
    expect(view.x + 10 * view.scale).toBeCloseTo(200);
    expect(view.y + 5 * view.scale).toBeCloseTo(150);
  });
  it("never shrinks a wide one below what can be read, and begins at its left", () => {
    const view = fitted([-2, 0, 118, 10], 400, 300);
    expect(view.scale).toBe(LEAST);
    expect(view.x + -2 * view.scale).toBeGreaterThanOrEqual(0);
  });
  it("zooms about a point that stays where it is", () => {
    const before = fitted([0, 0, 20, 10], 400, 300);
    const after = zoomed(before, 1.5, 120, 80);
    const at = (v: typeof before) => [(120 - v.x) / v.scale, (80 - v.y) / v.scale];
    expect(after.scale).toBeCloseTo(before.scale * 1.5);
    expect(at(after)[0]).toBeCloseTo(at(before)[0]!);
    expect(at(after)[1]).toBeCloseTo(at(before)[1]!);
  });
});
