// A rehearsal run many times: the fan comes when all runs have ended.
import { call, client, type S } from "../../api/client";
import { useJob } from "../../api/useJob";
import { useWorkspace } from "../workspace/useDesign";

export type Spread = {
  fan: S["Fan"] | null;
  done: number;
  of: number;
  running: boolean;
  problem: string | null;
};

export function useSpread() {
  const { answer, opened, trying } = useWorkspace();
  const script = answer.rehearsal?.script ?? null;
  // A fan belongs to one document and one script: another answer takes it away.
  const { last, run, ...job } = useJob(
    `${opened.id}/${opened.stamp}/${JSON.stringify(trying)}/${JSON.stringify(script)}`,
  );
  return {
    ...job,
    fan: last?.fan?.fan ?? null,
    done: last?.fan?.done ?? 0,
    of: last?.fan?.of ?? 0,
    run: (wish: Partial<S["Wish"]>) =>
      run(() =>
        call(
          client.POST("/api/jobs/spread", {
            body: {
              document: opened.document as unknown as Record<string, unknown>,
              changes: (trying ?? []).map((c) => ({ path: c.path, value: c.value })),
              script: script as unknown as Record<string, unknown>,
              channel: 1,
              wish: wish as S["Wish"],
            },
          }),
        ),
      ),
  };
}
