import { describe, expect, it } from "vitest";
import { split } from "./split";

const pull = { forms: ["pull-down", "pull resistor"], text: "A resistor to a rail." };
const gain = { forms: ["gain"], text: "How many times." };
const cut = (text: string) => split(text, [pull, gain]).map((p) => (p.term ? `[${p.text}]` : p.text));

describe("terms in a text", () => {
  it("are found where they stand first, in any of their forms", () => {
    expect(cut("Gain, a pull resistor, and a pull-down.")).toEqual([
      "[Gain]",
      ", a ",
      "[pull resistor]",
      ", and a pull-down.",
    ]);
  });
  it("are whole words only", () => {
    expect(cut("Against again gains")).toEqual(["Against again gains"]);
    expect(cut("the half-gain point")).toEqual(["the half-gain point"]);
  });
  it("leave a text without any as it is", () => {
    expect(split("Nothing here.", [])).toEqual([{ text: "Nothing here." }]);
  });
});
