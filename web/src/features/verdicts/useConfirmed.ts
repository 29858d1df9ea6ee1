// What the simulated circuit says to the verdicts, asked once the hand rests.
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { about, call, client, type S } from "../../api/client";
import { useWorkspace } from "../workspace/useDesign";

const RESTS = 500; // how long nothing may change first [ms]
const NONE: readonly S["Confirmed"][] = [];

export function useConfirmed(): ReadonlyMap<string, S["Confirmed"]> {
  const { answer, trying, stale } = useWorkspace();
  const document = answer.document;
  const [rested, setRested] = useState<typeof document | null>(null);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(document), RESTS);
    return () => window.clearTimeout(timer);
  }, [document]);
  const still = rested === document && trying === null && !stale;
  const found = useQuery({
    queryKey: ["confirm", document],
    queryFn: ({ signal }) =>
      call(
        client.POST("/api/confirm", {
          body: about(document),
          signal,
        }),
      ),
    enabled: still && answer.evaluation.open.length === 0,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
  });
  const all = still ? (found.data ?? NONE) : NONE;
  return useMemo(() => new Map(all.map((c) => [c.id, c])), [all]);
}
