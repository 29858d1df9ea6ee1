// A value that changes often, kept outside of any component: only what looks at it is drawn again.
import { useSyncExternalStore } from "react";

export class Cell<T> {
  private readonly watchers = new Set<() => void>();

  constructor(private value: T) {}

  get = (): T => this.value;

  set = (value: T): void => {
    if (Object.is(value, this.value)) return;
    this.value = value;
    this.watchers.forEach((told) => told());
  };

  watch = (told: () => void): (() => void) => {
    this.watchers.add(told);
    return () => void this.watchers.delete(told);
  };
}

export const useCell = <T>(cell: Cell<T>): T => useSyncExternalStore(cell.watch, cell.get);
