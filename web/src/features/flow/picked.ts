// Which block is picked, and with what in mind; it stands in the address, so that a reload keeps it.
import { useCallback } from "react";
import { useSearchParams } from "react-router";

export type Where = "before" | "instead" | "after" | "remove";

export function usePicked() {
  const [search, setSearch] = useSearchParams();
  const pick = useCallback(
    (block: string | null, where?: Where) =>
      setSearch(block ? { block, ...(where ? { where } : {}) } : {}, { replace: true }),
    [setSearch],
  );
  return { picked: search.get("block"), where: search.get("where") as Where | null, pick };
}
