// The board's plan: the one that it is built by, or the planner's; mended when the design has changed.
import { useCallback, useEffect, useRef, useState } from "react";
import { about, call, client, plain, Refused, type S } from "../../api/client";
import { useJob } from "../../api/useJob";
import { stepsDone } from "../workspace/useBench";
import { useWorkspace } from "../workspace/useDesign";

type View = S["BoardView"];
export type Move = {
  part: string;
  along?: number;
  rows?: number;
  leg?: number;
  turned?: boolean;
  pinned?: boolean;
};
const PICTURE = 400; // what the sheet's picture takes to be there [ms]
const byId = (id: string) => ({ params: { path: { design_id: id } } });

/** What is on the board already: parts whose step is done. */
export function builtParts(view: View | null, done: ReadonlySet<string>): string[] {
  return view ? view.plan.placings.map((p) => p.part).filter((part) => done.has(`${part}.place`)) : [];
}

export function useBoard() {
  const { opened, bench, kept, refreshBench, setNotice } = useWorkspace();
  const { document } = opened;
  const [draft, setDraft] = useState<{ of: string; view: View } | null>(null);
  const [asked, setAsked] = useState({ of: "", times: 0 }); // to finish round what is pinned
  const held = bench?.board ?? null;
  const of = `${opened.id}/${opened.stamp}/${bench?.plans ?? 0}/${JSON.stringify(bench?.boards ?? [])}`;
  const anew = asked.of === of ? asked.times : 0;
  const own = draft?.of === of ? draft.view : null;
  const stale = held !== null && !held.fits;
  const job = useJob(`${of}/${anew}`);
  const { run } = job;
  const ready = bench !== null;
  const wants = ready && (held === null || stale || anew > 0);
  const done = stepsDone(bench?.done ?? [], kept.acts);
  const stays = JSON.stringify([...builtParts(held, done), ...(held?.plan.pinned ?? [])]);
  useEffect(() => {
    if (!wants) return;
    void run(() =>
      call(
        client.POST("/api/jobs/plan", {
          body: {
            ...about(document),
            kept: held ? plain(held.plan) : null,
            stays: JSON.parse(stays) as string[],
          },
        }),
      ),
    );
    // The plan held and what stays are part of `of`: they are looked at when it changes.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [wants, of, anew, run]);
  const step = job.last?.plan ?? null;
  const view = own ?? (wants ? (step?.view ?? (stale ? null : held)) : held);

  const keep = useCallback(
    async (plan: S["BoardPlan"]) => {
      try {
        refreshBench(
          await call(
            client.PUT("/api/designs/{design_id}/plan", { ...byId(opened.id), body: { plan: plain(plan) } }),
          ),
        );
      } catch (error) {
        if (error instanceof Error) setNotice(error.message);
      }
    },
    [opened.id, refreshBench, setNotice],
  );
  // What was planned round a plan that is held takes its place by itself.
  const mended = wants && held !== null && job.last?.state === "done" ? (step?.view ?? null) : null;
  useEffect(() => {
    if (!mended) return;
    void keep(mended.plan).then(() => setAsked({ of: "", times: 0 })); // undone, it is not asked for again
  }, [mended, keep]);

  // Moves come one after the other: each begins where the last one ended.
  const line = useRef<Promise<unknown>>(Promise.resolve());
  const latest = useRef(view);
  useEffect(() => {
    latest.current = view;
  }, [view]);
  const one = async (what: Move) => {
    const from = latest.current;
    if (!from) return;
    try {
      const moved = await call(
        client.POST("/api/board/moved", {
          body: {
            ...about(document),
            plan: plain(from.plan),
            along: 0,
            rows: 0,
            turned: false,
            pinned: true,
            ...what,
          },
        }),
      );
      latest.current = moved;
      setDraft({ of, view: moved });
      await keep(moved.plan);
    } catch (error) {
      if (error instanceof Refused) setNotice(error.problems[0]?.message ?? "It stays where it is.");
      else throw error;
    }
  };
  const move = (what: Move) => {
    job.stop();
    line.current = line.current.then(() => one(what));
    return line.current;
  };
  const undo = async () =>
    refreshBench(await call(client.DELETE("/api/designs/{design_id}/plan/last", byId(opened.id))));
  const drop = async () =>
    refreshBench(await call(client.DELETE("/api/designs/{design_id}/plan", byId(opened.id))));
  /** The boards are other ones: what is not built yet is planned for them. */
  const owned = async () =>
    refreshBench(await call(client.GET("/api/designs/{design_id}/bench", byId(opened.id))));
  /** The sheet shows the plan that is kept. */
  const printed = async () => {
    if (view && !held) await keep(view.plan);
    setTimeout(() => print(), PICTURE);
  };
  return {
    owned,
    printed,
    view,
    step,
    running: job.running,
    problem: job.problem,
    stop: job.stop,
    held: held !== null,
    undos: bench?.plans ?? 0,
    keep,
    move,
    undo,
    drop,
    finish: () => setAsked({ of, times: anew + 1 }),
  };
}
