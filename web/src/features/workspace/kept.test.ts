import { describe, expect, it } from "vitest";
import { Refused, Unreachable } from "../../api/client";
import { Queue } from "./kept";

function memory() {
  const held = new Map<string, string>();
  return {
    getItem: (k: string) => held.get(k) ?? null,
    setItem: (k: string, v: string) => void held.set(k, v),
    removeItem: (k: string) => void held.delete(k),
    held,
  };
}
const none = () => undefined;

describe("what could not be sent", () => {
  it("goes in its order once the server answers, each once", async () => {
    const store = memory();
    const queue = new Queue<number>("k", store);
    const sent: number[] = [];
    let up = false;
    const send = async (n: number) => {
      if (!up) throw new Unreachable("down");
      sent.push(n);
      await Promise.resolve();
    };
    [1, 2, 3].forEach((n) => queue.add(n));
    await queue.flush(send, none);
    expect(sent).toEqual([]);
    up = true;
    await Promise.all([queue.flush(send, none), queue.flush(send, none)]);
    expect(sent).toEqual([1, 2, 3]);
    expect(store.held.size).toBe(0);
  });
  it("outlives the page, whatever lies there", () => {
    const store = memory();
    new Queue<number>("k", store).add(7);
    expect(new Queue<number>("k", store).all()).toEqual([7]);
    store.setItem("k", "{broken");
    expect(new Queue<number>("k", store).all()).toEqual([]);
    store.setItem("k", '{"an":"old form"}');
    expect(new Queue<number>("k", store).all()).toEqual([]);
  });
  it("lets what is refused go and tells it, and holds the rest when the server is lost again", async () => {
    const queue = new Queue<string>("k", memory());
    ["bad", "good", "later"].forEach((n) => queue.add(n));
    const told: string[] = [];
    await queue.flush(
      (n) =>
        n === "bad"
          ? Promise.reject(new Refused(422, []))
          : n === "good"
            ? Promise.resolve()
            : Promise.reject(new Unreachable("down")),
      (n) => told.push(n),
    );
    expect(told).toEqual(["bad"]);
    expect(queue.all()).toEqual(["later"]);
  });
});
