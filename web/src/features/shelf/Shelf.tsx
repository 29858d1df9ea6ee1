// The shelf: the design to carry on with, the others with what to do next, and starting points by what they do.
import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Snackbar from "@mui/material/Snackbar";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { call, client, Refused, type Problem, type S } from "../../api/client";
import { Badge, FACETS, Glyph } from "../../drawing/Badge";
import { Rung } from "../../drawing/BandLadder";
import { cutMiddle, when } from "../../drawing/format";
import { Pictogram } from "../../drawing/Pictogram";
import { Find } from "../find/Find";
import { EVERYWHERE, useKeys } from "../find/keys";
import { KeysDialog } from "../find/Keys";
import { FACET_WORDS } from "../verdicts/Verdicts";
import { Header } from "../workspace/Header";

const PLACE: Record<string, [number, number, string]> = {
  load: [50, 2, "center"],
  drive: [84, 27, "left"],
  guard: [84, 66, "left"],
  behave: [50, 92, "center"],
  build: [16, 66, "right"],
  prove: [16, 27, "right"],
};

const worst = (r: S["ShelfRow"]) => r.facets.find((f) => f.facet === r.next_facet)?.standing ?? "unknown";
const upper = (f: string) => FACET_WORDS[f as keyof typeof FACET_WORDS] ?? f;

function CarryOn({ row }: { row: S["ShelfRow"] }) {
  const go = useNavigate();
  const to = `/design/${row.id}/${row.next_facet}`;
  useKeys(EVERYWHERE, [
    { shown: "Enter", words: "carry on", press: ["Enter"], alone: true, act: () => void go(to) },
  ]);
  return (
    <section className="carry" aria-label={`Carry on with ${row.name}`}>
      <h2>Carry on</h2>
      <div className="carry-badge">
        <Badge facets={row.facets} size={220} open={row.next_facet as (typeof FACETS)[number]} />
        {FACETS.map((f, k) => {
          const s = row.facets.find((x) => x.facet === f)!;
          const [x, y, align] = PLACE[f]!;
          return (
            <Link
              key={f}
              to={`/design/${row.id}/${f}`}
              className={`around ${align}`}
              style={{ left: `${x}%`, top: `${y}%` }}
            >
              <i className="value">{k + 1}</i> <b>{upper(f)}</b>{" "}
              <small className={s.standing === "fails" ? "fails" : ""}>{cutMiddle(s.summary, 20)}</small>
            </Link>
          );
        })}
      </div>
      <div className="carry-text">
        <h1>
          <Link to={`/design/${row.id}/drive`}>{row.name}</Link>
        </h1>
        <p className="path-words">{row.path}</p>
        {row.last ? (
          <div className="last">
            <Rung place={row.last.place} standing={row.last.standing} />
            <b className="value">{row.last.text}</b>
            <span>
              {row.last.where}. {when(row.last.taken)}
            </span>
          </div>
        ) : (
          <div className="last none">Not on the bench yet</div>
        )}
        <p className="next">
          <b>{upper(row.next_facet)}:</b> {row.next_text}
        </p>
        <div className="actions">
          <Link className="primary" to={to}>
            {row.next_do} <kbd>Enter</kbd>
          </Link>
        </div>
      </div>
    </section>
  );
}

const SOON = 700; // when a shelf with rows still being worked out is asked for again [ms]

export function Shelf() {
  const go = useNavigate();
  const queries = useQueryClient();
  const [search, setSearch] = useSearchParams();
  const shelf = useQuery({
    queryKey: ["shelf"],
    queryFn: () => call(client.GET("/api/shelf")),
    refetchInterval: (q) => q.state.data?.designs.some((d) => d.pending) && SOON,
  });
  const [dialog, setDialog] = useState<"find" | "keys" | null>(null);
  const [notice, setNotice] = useState<string | null>(null);
  const [refused, setRefused] = useState<{ name: string; problems: Problem[] } | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const starts = useRef<HTMLButtonElement>(null);
  const start = async (what: string) => {
    const made = await call(client.POST("/api/designs", { body: { start: what } }));
    await queries.invalidateQueries({ queryKey: ["shelf"] });
    void go(`/design/${made.id}/load`);
  };
  const bring = async (chosen: File) => {
    try {
      if (chosen.size > 1_000_000)
        throw new Refused(422, [
          {
            field: chosen.name,
            message: "The file is larger than 1 MB, which no design is. Pick another file.",
            got: "",
            allowed: "",
            suggestion: null,
          },
        ]);
      const made = await call(
        client.POST("/api/import", { body: { name: chosen.name, text: await chosen.text() } }),
      );
      await queries.invalidateQueries({ queryKey: ["shelf"] });
      setNotice(`“${made.name}” was brought in.`);
    } catch (error) {
      setRefused({
        name: chosen.name,
        problems:
          error instanceof Refused
            ? error.problems
            : [
                {
                  field: "",
                  message: "No answer from the server. Try again when it runs.",
                  got: "",
                  allowed: "",
                  suggestion: null,
                },
              ],
      });
    }
  };
  const restore = async (id: string) => {
    const back = await call(
      client.POST("/api/designs/{design_id}/restore", { params: { path: { design_id: id } } }),
    );
    await queries.invalidateQueries({ queryKey: ["shelf"] });
    setNotice(`“${back.name}” is back.`);
  };
  const gone = shelf.data?.deleted;
  useKeys(EVERYWHERE, [
    {
      shown: "Ctrl Z",
      words: "bring back what was deleted last",
      press: ["Ctrl+Z"],
      act: () => gone && void restore(gone.id),
    },
    { shown: "/", words: "find or do anything", press: ["/"], act: () => setDialog("find") },
    { shown: "N", words: "new design", press: ["N"], act: () => starts.current?.focus() },
    { shown: "?", words: "this sheet", press: ["?"], act: () => setDialog("keys") },
  ]);
  useEffect(() => {
    if (search.get("new")) {
      starts.current?.focus();
      setSearch({}, { replace: true });
    }
  }, [search, setSearch]);
  const rows = shelf.data?.designs ?? [];
  const [first, ...others] = rows;
  return (
    <div className="shelf-page">
      <Header
        count={shelf.data ? `${rows.length} design${rows.length === 1 ? "" : "s"}` : ""}
        supply={shelf.data?.supply}
        onFind={() => setDialog("find")}
        undo={{
          label: gone ? `Bring back ${gone.name}` : "Nothing to undo",
          on: !!gone,
          do: () => gone && void restore(gone.id),
        }}
      />
      <main className="shelf">
        <h1 className="hidden">All designs</h1>
        {shelf.error && (
          <p className="offline" role="alert">
            <b>No answer from the server.</b> Start it with <span className="value">make run</span>.{" "}
            <button className="link" onClick={() => void shelf.refetch()}>
              Try again
            </button>
          </p>
        )}
        {shelf.data && !first && (
          <section className="first-run">
            <Badge facets={[]} size={130} />
            <div>
              <h1>Nothing built yet</h1>
              <p>
                Six sides to every circuit. Each fills in as you measure, choose and prove it. Pick what it
                shall do on the right, or bring in a file.
              </p>
            </div>
          </section>
        )}
        {first && <CarryOn row={first} />}
        <ul className="rows" aria-label="Other designs">
          {others.map((r) => (
            <li key={r.id}>
              <Badge facets={r.facets} size={50} open={r.next_facet as (typeof FACETS)[number]} />
              <Link to={`/design/${r.id}/drive`} className="row-name">
                <b title={r.name}>{cutMiddle(r.name, 36)}</b>
                <small>{r.path}</small>
                {r.pending && <small className="pending">being worked out</small>}
              </Link>
              <span className="row-next">
                <Glyph standing={worst(r)} />
                <span>
                  <b>{upper(r.next_facet)}.</b> {r.next_text}{" "}
                  <Link to={`/design/${r.id}/${r.next_facet}`}>{r.next_do}</Link>
                </span>
              </span>
              <span className="row-last">
                {r.last ? (
                  <>
                    <b className="value">{r.last.text}</b>
                    <small>
                      {r.last.where}, {when(r.last.taken)}
                    </small>
                  </>
                ) : (
                  <small>Not on the bench yet</small>
                )}
              </span>
            </li>
          ))}
        </ul>
      </main>
      <aside className="starts" aria-label="Start from what you want it to do">
        <h2>Start from what you want it to do</h2>
        <p className="legend">
          <span className="thin" /> what you do <span className="thick" /> what it does
        </p>
        <ul>
          {shelf.data?.starts.map((s, k) => (
            <li key={s.id}>
              <button ref={k === 0 ? starts : undefined} onClick={() => void start(s.id)}>
                <Pictogram name={s.picture} />
                <span>
                  <b>{s.title}</b>
                  <small>{s.made_of}</small>
                </span>
              </button>
            </li>
          ))}
        </ul>
        <p className="bring">
          <button className="secondary" onClick={() => file.current?.click()}>
            Bring in a file
          </button>
          <input
            ref={file}
            type="file"
            accept=".json,application/json"
            aria-label="Design file"
            hidden
            onChange={(e) => {
              const f = e.target.files?.[0];
              if (f) void bring(f);
              e.target.value = "";
            }}
          />
        </p>
      </aside>
      <Find
        open={dialog === "find"}
        onClose={() => setDialog(null)}
        all={[
          ...rows.map((r) => ({ title: r.name, hint: r.path, go: () => void go(`/design/${r.id}/drive`) })),
          ...(shelf.data?.starts ?? []).map((s) => ({
            title: s.title,
            hint: "new design",
            go: () => void start(s.id),
          })),
          { title: "Bring in a file", hint: "do", words: "import", go: () => file.current?.click() },
          { title: "Parts drawer", hint: "all cards", go: () => void go("/drawer") },
          { title: "Keys", hint: "do", go: () => setDialog("keys") },
        ]}
      />
      <KeysDialog open={dialog === "keys"} onClose={() => setDialog(null)} />
      <Dialog open={!!refused} onClose={() => setRefused(null)} fullWidth maxWidth="sm">
        <DialogTitle>{refused?.name} was not brought in</DialogTitle>
        <DialogContent>
          <p>Your shelf is as it was.</p>
          <dl className="refusal">
            {refused?.problems.slice(0, 8).map((p, k) => (
              <div key={k}>
                <dt className="value">{p.field || "file"}</dt>
                <dd>
                  {p.message}{" "}
                  {p.got && (
                    <>
                      Got <b className="value">{p.got}</b>.
                    </>
                  )}{" "}
                  {p.allowed && (
                    <>
                      Allowed: <span className="value">{p.allowed}</span>.
                    </>
                  )}
                </dd>
              </div>
            ))}
          </dl>
          <button className="primary" autoFocus onClick={() => setRefused(null)}>
            Close
          </button>
        </DialogContent>
      </Dialog>
      <Snackbar open={!!notice} autoHideDuration={5000} onClose={() => setNotice(null)} message={notice} />
    </div>
  );
}
