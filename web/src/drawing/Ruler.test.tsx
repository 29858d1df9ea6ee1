// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { S } from "../api/client";
import { Ruler } from "./Ruler";

vi.stubGlobal(
  "ResizeObserver",
  class {
    observe() {}
    disconnect() {}
  },
);
const bound = (side: "low" | "high", value: number) =>
  ({
    side,
    value,
    title: side,
    detail: "",
    verdict: "",
    working: { formula: "", substituted: "", reason: "" },
  }) as S["Bound"];
const ticks = [100, 220, 470, 1000, 2200];
const window_ = {
  path: "blocks.b2.c_time",
  ref: "C1",
  title: "timing capacitor",
  unit: "F",
  present: 220,
  low: bound("low", 150),
  high: bound("high", 1500),
  others: [],
  gap: null,
} as unknown as S["Window"];

describe("a ruler", () => {
  afterEach(cleanup);
  const show = () => {
    const onTry = vi.fn();
    const onTake = vi.fn();
    render(
      <Ruler window={window_} stock={new Map()} ticks={ticks} value={220} onTry={onTry} onTake={onTake} />,
    );
    return { slider: screen.getByRole("slider"), onTry, onTake };
  };
  it("says its unit and whether the value is inside", () => {
    const { slider } = show();
    expect(slider.getAttribute("aria-label")).toBe("C1 timing capacitor, F");
    expect(slider.getAttribute("aria-valuetext")).toContain("inside its window");
  });
  it("steps from tick to tick by the arrows and takes by Enter", () => {
    const { slider, onTry, onTake } = show();
    fireEvent.keyDown(slider, { key: "ArrowRight" });
    expect(onTry).toHaveBeenLastCalledWith(470);
    fireEvent.keyDown(slider, { key: "ArrowLeft" });
    expect(onTry).toHaveBeenLastCalledWith(100);
    fireEvent.keyDown(slider, { key: "Enter" });
    expect(onTake).toHaveBeenCalledWith(220);
  });
});
