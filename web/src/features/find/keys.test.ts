import { describe, expect, it } from "vitest";
import { names } from "./keys";

const press = (key: string, code = "", held: object = {}) =>
  names({ key, code, ctrlKey: false, metaKey: false, shiftKey: false, ...held });

describe("keys are called", () => {
  it("by what they write, letters whatever their case", () => {
    expect(press("r")).toEqual(["R"]);
    expect(press("R", "KeyR", { shiftKey: true })).toEqual(["Shift+R"]);
    expect(press("?", "Slash", { shiftKey: true })).toEqual(["?"]);
  });
  it("by their place for digits, and then by what they write there", () => {
    expect(press("@", "Digit2", { shiftKey: true })).toEqual(["Shift+2", "@"]);
    expect(press("/", "Digit7", { shiftKey: true })).toEqual(["Shift+7", "/"]);
  });
  it("with Ctrl, whichever of the two keys stands for it", () => {
    expect(press("z", "KeyZ", { metaKey: true })).toEqual(["Ctrl+Z"]);
    expect(press("Z", "KeyZ", { ctrlKey: true, shiftKey: true })).toEqual(["Ctrl+Shift+Z"]);
  });
});
