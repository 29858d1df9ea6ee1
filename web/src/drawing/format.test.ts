import { describe, expect, it } from "vitest";
import table from "../../../tests/shown.json";
import { cutMiddle, show, showPart } from "./format";

describe("numbers are said as the core says them", () => {
  it.each(table.shown)("$value $unit with $digits digits", ({ value, unit, digits, text }) => {
    expect(show(value, unit, digits)).toBe(text);
  });
  it.each(table.parts)("a part of $value", ({ value, text }) => {
    expect(showPart(value)).toBe(text);
  });
});

describe("long names", () => {
  it("are cut in the middle, so that twins stay apart", () => {
    expect(cutMiddle("Roof-vent fan relay, second", 20)).toBe("Roof-vent fan … second");
    expect(cutMiddle("short", 20)).toBe("short");
  });
});
