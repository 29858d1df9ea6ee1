// Long work on the design as it is: asked for by itself when nothing has changed for a while.
import { useEffect } from "react";
import type { S } from "../../api/client";
import { useJob } from "../../api/useJob";
import { useWorkspace } from "../workspace/useDesign";

export function useRested(ask: (body: S["AnswerIn"]) => Promise<S["JobOut"]>, rest: number) {
  const { opened, trying, channel } = useWorkspace();
  const { document } = opened;
  const job = useJob(`${opened.id}/${opened.stamp}/${JSON.stringify(trying)}/${channel}`);
  const { run } = job;
  useEffect(() => {
    const body = {
      document: document as unknown as Record<string, unknown>,
      changes: (trying ?? []).map((c) => ({ path: c.path, value: c.value })),
      channel,
    } as S["AnswerIn"];
    const timer = setTimeout(() => void run(() => ask(body)), rest);
    return () => clearTimeout(timer);
  }, [document, trying, channel, run, ask, rest]);
  return job;
}
