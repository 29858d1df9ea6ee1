// What could not be sent yet: kept on this computer in its order, over a reload too, and sent when the server answers.
import { Refused, Unreachable } from "../../api/client";

export class Queue<T> {
  private running: Promise<void> | null = null;

  constructor(
    private readonly key: string,
    private readonly store: Pick<Storage, "getItem" | "setItem" | "removeItem"> = localStorage,
  ) {}

  all(): readonly T[] {
    try {
      const kept: unknown = JSON.parse(this.store.getItem(this.key) ?? "[]");
      return Array.isArray(kept) ? (kept as T[]) : [];
    } catch {
      return [];
    }
  }

  private write(items: readonly T[]) {
    if (items.length) this.store.setItem(this.key, JSON.stringify(items));
    else this.store.removeItem(this.key);
  }

  add(item: T) {
    this.write([...this.all(), item]);
  }

  /** Sends them one after the other: what is taken or refused goes, what has no answer stays, and all behind it.
   * Two who ask at once share one run. */
  flush(send: (item: T) => Promise<void>, refused: (item: T, error: Refused) => void): Promise<void> {
    this.running ??= this.run(send, refused).finally(() => (this.running = null));
    return this.running;
  }

  private async run(send: (item: T) => Promise<void>, refused: (item: T, error: Refused) => void) {
    for (let [first] = this.all(); first !== undefined; [first] = this.all()) {
      try {
        await send(first);
      } catch (error) {
        if (!(error instanceof Refused)) {
          if (error instanceof Unreachable) return;
          throw error;
        }
        refused(first, error);
      }
      this.write(this.all().slice(1));
    }
  }
}
