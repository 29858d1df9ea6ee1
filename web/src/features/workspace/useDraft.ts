// What is half typed, kept on this computer until it is taken or dropped.
import { useEffect, useState } from "react";

export function useDraft(key: string) {
  const [draft, setDraft] = useState<string | null>(() => localStorage.getItem(key));
  useEffect(() => {
    if (draft === null) localStorage.removeItem(key);
    else localStorage.setItem(key, draft);
  }, [draft, key]);
  return [draft, setDraft] as const;
}
