// A rehearsal run many times: the fan comes when all runs have ended; stopping closes the connection.
import { type S } from "../../api/client";
import { useLines } from "../../api/useLines";
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
  const { last, run, ...lines } = useLines<S["FanStep"]>(
    `${opened.id}/${opened.stamp}/${JSON.stringify(trying)}/${JSON.stringify(script)}`,
  );
  return {
    ...lines,
    fan: last?.fan ?? null,
    done: last?.done ?? 0,
    of: last?.of ?? 0,
    run: (wish: Partial<S["Wish"]>) =>
      run("/api/spread", { document: opened.document, changes: trying ?? [], script, wish }),
  };
}
