// @vitest-environment jsdom
import { act, renderHook, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { useDraft } from "./useDraft";
import { useLatest } from "./useLatest";

describe("the latest wish wins", () => {
  it("drops what was overtaken while one was on its way", async () => {
    const asked: string[] = [];
    const waiting: (() => void)[] = [];
    const run = (wish: string) =>
      new Promise<string>((resolve) => {
        asked.push(wish);
        waiting.push(() => resolve(`answer to ${wish}`));
      });
    const { result, rerender } = renderHook(({ wish }) => useLatest(wish, wish, run), {
      initialProps: { wish: "a" },
    });
    rerender({ wish: "b" });
    rerender({ wish: "c" });
    expect(asked).toEqual(["a"]);
    await act(async () => waiting[0]!());
    expect(asked).toEqual(["a", "c"]);
    expect(result.current.fresh).toBe(false);
    await act(async () => waiting[1]!());
    await waitFor(() => expect(result.current.result).toBe("answer to c"));
    expect(result.current.fresh).toBe(true);
  });
  it("keeps the last answer beside an error", async () => {
    const run = (wish: string) => (wish === "bad" ? Promise.reject(new Error("no")) : Promise.resolve(wish));
    const { result, rerender } = renderHook(({ wish }) => useLatest(wish, wish, run), {
      initialProps: { wish: "good" },
    });
    await waitFor(() => expect(result.current.result).toBe("good"));
    rerender({ wish: "bad" });
    await waitFor(() => expect(result.current.error).toBeInstanceOf(Error));
    expect(result.current.result).toBe("good");
  });
});

describe("a draft", () => {
  it("survives a reload until it is taken or dropped", () => {
    const first = renderHook(() => useDraft("draft:x"));
    act(() => first.result.current[1]("4k"));
    first.unmount();
    const second = renderHook(() => useDraft("draft:x"));
    expect(second.result.current[0]).toBe("4k");
    act(() => second.result.current[1](null));
    second.unmount();
    expect(renderHook(() => useDraft("draft:x")).result.current[0]).toBeNull();
  });
});
