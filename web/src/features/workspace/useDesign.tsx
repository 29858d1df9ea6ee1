// The open design: its document, what is being tried, the live answer, saving, undo, clashes.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import {
  createContext,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
  type Dispatch,
  type ReactNode,
  type SetStateAction,
} from "react";
import { call, client, Refused, Unreachable, type Change, type Problem, type S } from "../../api/client";
import { Queue } from "./kept";
import { before, clashing } from "./merge";
import { useBench, type Kept } from "./useBench";
import { useLatest } from "./useLatest";

export type Workspace = {
  opened: S["Opened"];
  answer: S["Answer"];
  settled: S["Answer"]; // the last answer for the saved document, ghosts come from it
  bench: S["Bench"] | null;
  facets: S["FacetState"][];
  trying: readonly Change[] | null;
  stale: boolean; // values shown are older than what was asked
  offline: boolean;
  clash: Clash | null;
  notice: string | null;
  setNotice: (text: string | null) => void;
  channel: number; // the open one of several; 0 for all
  openChannel: (channel: number) => void;
  tryOut: (changes: readonly Change[] | null) => void;
  commit: (changes: readonly Change[], label?: string) => Promise<Problem[] | null>;
  undo: () => void;
  redo: () => void;
  shown: S["Script"] | null; // a script that is looked at, or dragged, and not kept
  setScript: Dispatch<SetStateAction<S["Script"] | null>>;
  resolve: (how: "mine" | "theirs" | "copy", mine?: readonly string[]) => void; // `mine`: of what both changed
  refreshBench: (bench: S["Bench"]) => void;
  kept: Kept; // what is done at the bench, sent or kept
  waiting: number; // edits that are kept on this computer
};

/** An edit that meets somebody else's. `paths` are what both changed; null when the whole document was saved. */
export type Clash = {
  refused: S["StaleRefusal"];
  changes: readonly Change[];
  paths: readonly string[] | null;
};

/** A save that is on its way: changes on top of a stamp, or after a clash the whole document. */
type Unsent = {
  changes?: readonly Change[];
  was?: readonly unknown[]; // what stood at the changes' paths before
  document?: S["Design"];
  stamp: number;
  label: string;
};

const Context = createContext<Workspace | null>(null);

export function useWorkspace(): Workspace {
  const found = useContext(Context);
  if (!found) throw new Error("useWorkspace needs a DesignProvider above it");
  return found;
}

const byId = (id: string) => ({ params: { path: { design_id: id } } });

export function DesignProvider({
  id,
  children,
  fallback,
}: {
  id: string;
  children: ReactNode;
  fallback: (error: unknown) => ReactNode;
}) {
  const queries = useQueryClient();
  const [trying, setTrying] = useState<readonly Change[] | null>(null);
  const [script, setScript] = useState<S["Script"] | null>(null);
  const [unsent, setOffline] = useState(false);
  const [attempt, setAttempt] = useState(0);
  const [channel, openChannel] = useState(1);
  const [clash, setClash] = useState<Workspace["clash"]>(null);
  const [notice, setNotice] = useState<string | null>(null);
  const key = useMemo(() => ["design", id], [id]);
  const design = useQuery({
    queryKey: key,
    queryFn: async () =>
      (await call<unknown>(client.GET("/api/designs/{design_id}", byId(id)))) as S["Opened"],
  });
  const opened = design.data ?? null;
  const bench = useQuery({
    queryKey: ["bench", id, opened?.stamp],
    queryFn: () => call(client.GET("/api/designs/{design_id}/bench", byId(id))),
    enabled: opened !== null,
    placeholderData: (old) => old,
  });
  const wish = useMemo(
    () =>
      opened
        ? {
            document: opened.document as unknown as Record<string, unknown>,
            changes: (trying ?? []) as S["ChangeIn"][],
            script: script as unknown as Record<string, unknown> | null,
            channel,
          }
        : null,
    [opened, trying, script, channel],
  );
  const wishKey = `${opened?.id}/${opened?.stamp}/${JSON.stringify(trying)}/${JSON.stringify(script)}/${channel}/${attempt}`;
  const live = useLatest(
    wish,
    wishKey,
    (w, signal) => call(client.POST("/api/answer", { body: w, signal })) as unknown as Promise<S["Answer"]>,
  );
  const [settled, setSettled] = useState<S["Answer"] | null>(null);
  if (live.result && live.fresh && !trying && settled !== live.result) setSettled(live.result);
  const offline = unsent || live.error instanceof Unreachable;
  useEffect(() => {
    if (!offline) return;
    const timer = setInterval(() => setAttempt((n) => n + 1), 5_000);
    return () => clearInterval(timer);
  }, [offline]);

  const take = useCallback(
    (next: S["Opened"]) => {
      queries.setQueryData(key, next);
      void queries.invalidateQueries({ queryKey: ["shelf"] });
    },
    [queries, key],
  );
  // One after the other: what is saved, undone or done again while another is on its way goes on top of what that
  // one brings, and does not clash with it.
  const line = useRef<Promise<unknown>>(Promise.resolve());
  const inTurn = useCallback(<T,>(act: () => Promise<T>): Promise<T> => {
    const done = line.current.then(act);
    line.current = done.catch(() => undefined);
    return done;
  }, []);
  const now = useCallback(() => queries.getQueryData<S["Opened"]>(key), [queries, key]);
  const edits = useMemo(() => new Queue<Unsent>(`edits:${id}`), [id]);
  const [waiting, setWaiting] = useState(() => edits.all().length);
  const post = useCallback(
    async (what: Unsent, stamp: number): Promise<S["Opened"]> => {
      const { label } = what;
      const saved = what.document
        ? client.PUT("/api/designs/{design_id}", {
            ...byId(id),
            body: { document: what.document as unknown as Record<string, unknown>, stamp, label },
          })
        : client.POST("/api/designs/{design_id}/change", {
            ...byId(id),
            body: { changes: what.changes as S["ChangeIn"][], stamp, label },
          });
      return (await call<unknown>(saved)) as S["Opened"];
    },
    [id],
  );
  /** What somebody else saved meanwhile is merged where the two edits do not meet; else it is asked. */
  const merge = useCallback(
    async (what: Unsent, refused: S["StaleRefusal"]): Promise<S["Opened"] | null> => {
      const { changes, was } = what;
      const paths = changes && was ? clashing(changes, was, refused.theirs.document) : null;
      if (paths?.length === 0) {
        const saved = await post(what, refused.theirs.stamp);
        setNotice("Saved elsewhere meanwhile: the two edits are merged.");
        return saved;
      }
      setClash({ refused, changes: changes ?? [], paths });
      return null;
    },
    [post],
  );
  /** Edits that wait go in their order; each of them on top of what the one before it made. */
  const flush = useCallback(async () => {
    let stamp: number | null = null;
    await edits.flush(
      async (what) => {
        let saved: S["Opened"] | null;
        try {
          saved = await post(what, stamp ?? what.stamp);
        } catch (error) {
          if (!(error instanceof Refused && error.stale)) throw error;
          saved = await merge(what, error.stale);
        }
        setOffline(false);
        if (!saved) return;
        stamp = saved.stamp;
        take(saved);
      },
      (_, error) => setNotice(`Not taken: ${error.message}`),
    );
    setWaiting(edits.all().length);
  }, [edits, post, merge, take]);
  /** Sends what only a save can tell apart: taken, refused at a field, clashing, or not answered. */
  const send = useCallback(
    async (what: Unsent): Promise<Problem[] | null> => {
      if (edits.all().length === 0) {
        try {
          take(await post(what, what.stamp));
          setOffline(false);
          return null;
        } catch (error) {
          if (error instanceof Refused && error.stale) {
            const saved = await merge(what, error.stale);
            if (saved) take(saved);
            return null;
          }
          if (error instanceof Refused) return error.problems;
        }
      }
      edits.add(what);
      setWaiting(edits.all().length);
      setOffline(true);
      return [
        {
          field: "",
          message: "No answer from the server. Kept on this computer; it is sent when the server answers.",
          got: "",
          allowed: "",
          suggestion: null,
        },
      ];
    },
    [edits, post, merge, take],
  );
  const commit = useCallback(
    (changes: readonly Change[], label = ""): Promise<Problem[] | null> =>
      inTurn(async () => {
        const base = now();
        if (!base) return null;
        const was = before(base.document, changes);
        const problems = await send({ changes, was, stamp: base.stamp, label });
        if (!problems) setTrying(null);
        return problems;
      }),
    [inTurn, now, send],
  );
  // What could not be sent before is sent when the design is opened again, and tried while it waits.
  const there = opened !== null;
  useEffect(() => {
    if (!there || waiting === 0) return;
    const soon = setTimeout(() => void inTurn(flush));
    const timer = setInterval(() => void inTurn(flush), 5_000);
    return () => [soon, timer].forEach(clearTimeout);
  }, [there, waiting, inTurn, flush]);
  const refreshBench = useCallback(
    (b: S["Bench"]) => queries.setQueryData(["bench", id, now()?.stamp], b),
    [queries, id, now],
  );
  const kept = useBench(id, refreshBench, setNotice);

  const step = useCallback(
    async (way: "undo" | "redo") => {
      const base = now();
      if (!base) return;
      const label = way === "undo" ? base.undo_label : base.redo_label;
      if (!(way === "undo" ? base.can_undo : base.can_redo))
        return setNotice(way === "undo" ? "Nothing to undo." : "Nothing to redo.");
      setTrying(null);
      try {
        const path = way === "undo" ? "/api/designs/{design_id}/undo" : "/api/designs/{design_id}/redo";
        take((await call<unknown>(client.POST(path, byId(id)))) as S["Opened"]);
        setNotice(`${way === "undo" ? "Undone" : "Done again"}: ${label}`);
      } catch {
        setOffline(true);
      }
    },
    [now, id, take],
  );
  const resolve = useCallback(
    async (how: "mine" | "theirs" | "copy", own: readonly string[] = []) => {
      if (!clash) return;
      const { theirs, mine } = clash.refused;
      const { changes, paths } = clash;
      setClash(null);
      take(theirs);
      setTrying(null);
      const kept = changes.filter((c) => !paths?.includes(c.path) || own.includes(c.path));
      if (how === "mine" && paths && kept.length > 0)
        await send({
          changes: kept,
          was: before(theirs.document, kept),
          stamp: theirs.stamp,
          label: "Merged after a clash",
        });
      else if (how === "mine" && !paths)
        await send({ document: mine, stamp: theirs.stamp, label: "Kept mine after a clash" });
      if (how === "copy") {
        const copy = await call(
          client.POST("/api/designs", {
            body: { start: "coil", document: mine as unknown as Record<string, unknown> },
          }),
        );
        setNotice(`Kept as “${copy.name}”.`);
      }
    },
    [clash, send, take],
  );

  if (design.error) return fallback(design.error);
  const answer = live.result;
  if (!opened || !answer || !settled) return live.error && !answer ? fallback(live.error) : fallback(null);
  const build = new Map(bench.data?.progress.facets.map((f) => [f.facet, f]));
  const facets = answer.evaluation.facets.map((f) =>
    f.facet === "build" || f.facet === "prove" ? (build.get(f.facet) ?? f) : f,
  );
  const value: Workspace = {
    opened,
    answer,
    settled,
    bench: bench.data ?? null,
    facets,
    trying,
    stale: !live.fresh,
    offline,
    clash,
    notice,
    setNotice,
    channel,
    openChannel,
    tryOut: setTrying,
    commit,
    undo: () => void inTurn(() => step("undo")),
    redo: () => void inTurn(() => step("redo")),
    shown: script,
    setScript,
    resolve: (how, own) => void inTurn(() => resolve(how, own)),
    refreshBench,
    kept,
    waiting,
  };
  return <Context.Provider value={value}>{children}</Context.Provider>;
}
