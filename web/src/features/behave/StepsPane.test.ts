import { describe, expect, it } from "vitest";
import type { S } from "../../api/client";
import { stepsOf } from "./StepsPane";

const run = (happenings: Partial<S["Happening"]>[]) =>
  ({
    stop: 10,
    happenings,
    actors: [{ ref: "S1", does: "press" }],
  }) as unknown as S["Rehearsal"];

describe("the steps of a rehearsal", () => {
  it("stand just before each event and at the end, called by what led to them", () => {
    const steps = stepsOf(
      run([
        { actor: "S1", at: 2, text: "active" },
        { actor: "S1", at: 2.15, text: "idle" },
        { actor: "Battery", at: 6, text: "to 9.6 V" },
      ]),
    );
    expect(steps.map((s) => s.words)).toEqual(["At rest", "S1 pressed", "S1 let go", "Battery to 9.6 V"]);
    expect(steps[0]!.at).toBeLessThan(2);
    expect(steps[1]!.at).toBeGreaterThan(2);
    expect(steps[1]!.at).toBeLessThan(2.15);
    expect(steps.at(-1)!.at).toBeGreaterThan(9.9);
  });
  it("tell as one what happens at the same moment", () => {
    const steps = stepsOf(
      run([
        { actor: "S2", at: 4, text: "idle" },
        { actor: "S1", at: 4.001, text: "active" },
      ]),
    );
    expect(steps.map((s) => s.words)).toEqual(["At rest", "S2 idle, S1 pressed"]);
  });
});
