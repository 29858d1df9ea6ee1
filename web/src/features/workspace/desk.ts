// What moves while a design is looked at: the rehearsal's cursor, and the check that is open.
import { createContext, useContext } from "react";
import type { Cell } from "../../drawing/cell";

export type Desk = { cursor: Cell<number>; focus: Cell<string | null> };

export const DeskContext = createContext<Desk | null>(null);

export function useDesk(): Desk {
  const found = useContext(DeskContext);
  if (!found) throw new Error("useDesk needs a workspace above it");
  return found;
}
