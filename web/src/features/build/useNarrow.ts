// Whether the screen is a phone's: then one step fills it.
import { useSyncExternalStore } from "react";

const query = () => matchMedia("(max-width: 860px)");

export function useNarrow(): boolean {
  return useSyncExternalStore(
    (changed) => {
      const q = query();
      q.addEventListener("change", changed);
      return () => q.removeEventListener("change", changed);
    },
    () => query().matches,
  );
}
