// The workspace: six facets, the verdicts column and the rehearsal strip, always together.
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Snackbar from "@mui/material/Snackbar";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { call, client, Refused } from "../../api/client";
import { Cell } from "../../drawing/cell";
import { Badge, FACETS, Glyph, type Facet } from "../../drawing/Badge";
import { cutMiddle, show } from "../../drawing/format";
import { usePreferences } from "../../theme/mode";
import { Behave } from "../behave/Behave";
import { Build } from "../build/Build";
import { Drive } from "../drive/Drive";
import { Find, type Findable } from "../find/Find";
import { EVERYWHERE, useKeys } from "../find/keys";
import { KeysDialog } from "../find/Keys";
import { Places, usePicked } from "../flow";
import { Guard } from "../guard/Guard";
import { Load } from "../load/Load";
import { Prove } from "../prove/Prove";
import { RehearsalStrip, type Size } from "../rehearsal/Rehearsal";
import { FACET_WORDS, facetOf, VerdictRail, Verdicts } from "../verdicts/Verdicts";
import { Channels } from "./Channels";
import { ClashDialog } from "./Clash";
import { DeskContext, type Desk } from "./desk";
import { Sentence } from "./Entry";
import { Header } from "./Header";
import { SchematicPane } from "./SchematicPane";
import { DesignProvider, useWorkspace } from "./useDesign";

/** "2 edits and 1 bench note are kept". */
function told(edits: number, word: string, notes: number) {
  const many = (n: number, what: string) => (n > 0 ? [`${n} ${what}${n > 1 ? "s" : ""}`] : []);
  const all = edits + notes;
  return `${[...many(edits, word), ...many(notes, "bench note")].join(" and ")} ${all > 1 ? "are" : "is"} kept`;
}

export function WorkspacePage() {
  const { id = "", facet } = useParams();
  return (
    <DesignProvider key={id} id={id} fallback={(error) => <Fallback error={error} />}>
      <Workspace facet={facetOf(facet)} />
    </DesignProvider>
  );
}

function Fallback({ error }: { error: unknown }) {
  if (!error)
    return (
      <main className="blank" aria-busy="true">
        <h1 className="hidden">Opening a design</h1>
        <p>Opening …</p>
      </main>
    );
  const refused = error instanceof Refused;
  return (
    <main className="blank">
      <h1>
        {refused && error.status === 404
          ? "There is no such design"
          : refused
            ? "This design cannot be shown"
            : "No answer from the server"}
      </h1>
      {refused ? (
        error.problems.map((p) => (
          <p key={p.field}>
            <span className="value">{p.field}</span> {p.message}
          </p>
        ))
      ) : (
        <p>
          It may have been stopped. Start it again with <span className="value">make run</span>, then reload
          this page. Nothing is lost.
        </p>
      )}
      <p>
        <Link to="/">Back to the shelf</Link>
      </p>
    </main>
  );
}

function FacetBar({ facet }: { facet: Facet }) {
  const { facets, bench, opened } = useWorkspace();
  const progress = bench && bench.progress.steps > 0 ? bench.progress.built / bench.progress.steps : 0;
  return (
    <nav className="facets" aria-label="Facets">
      <Badge facets={facets} size={56} open={facet} progress={progress} />
      {FACETS.map((f, k) => {
        const state = facets.find((s) => s.facet === f)!;
        return (
          <Link
            key={f}
            to={`/design/${opened.id}/${f}`}
            aria-current={f === facet ? "page" : undefined}
            className={f === facet ? "now" : ""}
          >
            {f === facet && (
              <svg className="hex-edge" viewBox="0 0 196 52" preserveAspectRatio="none" aria-hidden>
                <path
                  d="M14 1.5h168l12.5 24.5l-12.5 24.5h-168l-12.5 -24.5z"
                  vectorEffect="non-scaling-stroke"
                />
              </svg>
            )}
            <Glyph standing={state.standing} size={24} progress={f === "build" ? progress : undefined} />
            <span>
              <b>
                <i className="value">{k + 1}</i> {FACET_WORDS[f]}
              </b>
              <small>{cutMiddle(state.summary, 24)}</small>
            </span>
          </Link>
        );
      })}
    </nav>
  );
}

function Rename({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { opened, commit } = useWorkspace();
  const [name, setName] = useState(opened.name);
  const [problem, setProblem] = useState("");
  const save = async () => {
    const problems = await commit([{ path: "name", value: name }], "Renamed");
    if (problems)
      setProblem(
        `${problems[0]?.message ?? ""} ${problems[0]?.suggestion ? `“${problems[0].suggestion}” is free.` : ""}`,
      );
    else onClose();
  };
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="xs">
      <DialogTitle>Rename</DialogTitle>
      <DialogContent>
        <input
          className="plain-input"
          autoFocus
          aria-label="Name"
          aria-invalid={!!problem}
          value={name}
          onChange={(e) => {
            setName(e.target.value);
            setProblem("");
          }}
          onKeyDown={(e) => e.key === "Enter" && void save()}
        />
        {problem && (
          <p role="alert" className="fails">
            {problem}
          </p>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" onClick={() => void save()}>
          Rename
        </Button>
      </DialogActions>
    </Dialog>
  );
}

const PANES = { load: Load, drive: Drive, guard: Guard, behave: Behave };

function Workspace({ facet }: { facet: Facet }) {
  const w = useWorkspace();
  const { opened, answer } = w;
  const { toggleUs, us, toggleMode, electrons, toggleElectrons } = usePreferences();
  const go = useNavigate();
  const queries = useQueryClient();
  const [search, setSearch] = useSearchParams();
  const [dialog, setDialog] = useState<"find" | "keys" | "rename" | null>(null);
  const [rail, setRail] = useState(false);
  const bench = facet === "build" || facet === "prove";
  const [choice, setChoice] = useState<{ facet: Facet; size: Size } | null>(null);
  const setSize = (size: Size) => setChoice({ facet, size });
  const size = choice?.facet === facet ? choice.size : bench || facet === "load" ? "folded" : "open";
  const stop = answer.rehearsal?.stop ?? 0.13;
  const [desk] = useState<Desk>(() => ({
    cursor: new Cell(stop * 0.477),
    focus: new Cell<string | null>(null),
  }));
  const part = search.get("part");
  const { picked } = usePicked();
  const around = picked && picked in (opened.document.blocks as object) ? picked : null;
  const own = answer.evaluation.flow.blocks.find((b) => b.id === around)?.channel;
  const { channel, openChannel } = w;
  useEffect(() => {
    if (own != null && channel > 0 && own + 1 !== channel) openChannel(own + 1);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [around, own]);
  const onPart = (path: string | null) => {
    if (!path) return setSearch({}, { replace: true });
    const { windows, cards, drawing } = answer.evaluation;
    const panel = windows.some((x) => x.path === path) || cards.some((c) => c.path === path);
    const home = panel ? "drive" : drawing.symbols.find((s) => s.path === path)?.facet;
    if (panel && home === facet) setSearch({ part: path }, { replace: true });
    else void go(`/design/${opened.id}/${home ?? facet}${panel ? `?part=${path}` : ""}`);
  };
  const download = (what: string) => `/api/designs/${opened.id}/export/${what}`;
  const remove = async () => {
    await call(client.DELETE("/api/designs/{design_id}", { params: { path: { design_id: opened.id } } }));
    await queries.invalidateQueries({ queryKey: ["shelf"] });
    void go("/");
  };
  const items = [
    { label: "Rename", onClick: () => setDialog("rename") },
    { label: "Export design (JSON)", href: download("design") },
    { label: "Export parts list (CSV)", href: download("parts") },
    { label: "Export waveforms (CSV)", href: download("waves") },
    { label: "Export schematic (SVG)", href: download("schematic") },
    { label: us ? "Draw resistors as boxes (IEC)" : "Draw resistors as zigzags (US)", onClick: toggleUs },
    {
      label: electrons
        ? "Show current as convention has it (+ to −)"
        : "Show current as electrons go (− to +)",
      onClick: toggleElectrons,
    },
    { label: "Print", onClick: () => print() },
    { label: "Delete", onClick: () => void remove() },
  ];
  const verdicts = answer.evaluation.verdicts.filter((v) => v.standing !== "told");
  const step = (way: 1 | -1) => {
    const k = verdicts.findIndex((v) => v.id === desk.focus.get());
    desk.focus.set(verdicts[Math.max(0, Math.min(k + way, verdicts.length - 1))]?.id ?? null);
  };
  const many = answer.evaluation.channels.length;
  useKeys(EVERYWHERE, [
    {
      shown: "1 – 6",
      words: "facet",
      press: ["1", "2", "3", "4", "5", "6"],
      act: (k) => void go(`/design/${opened.id}/${FACETS[k]}`),
    },
    ...(many > 0
      ? [
          {
            shown: `Shift 1 – ${Math.min(many, 6)}`,
            words: "channel",
            press: ["1", "2", "3", "4", "5", "6"].slice(0, many).map((k) => `Shift+${k}`),
            act: (k: number) => w.openChannel(k + 1),
          },
        ]
      : []),
    { shown: "[  ]", words: "previous, next verdict", press: ["[", "]"], act: (k) => step(k === 0 ? -1 : 1) },
    {
      shown: "W",
      words: "working of the verdict",
      press: ["W"],
      act: () => (desk.focus.get() ? desk.focus.set(null) : step(1)),
    },
    { shown: "Ctrl Z", words: "undo", press: ["Ctrl+Z"], act: w.undo },
    { shown: "Ctrl Shift Z", words: "redo", press: ["Ctrl+Shift+Z"], act: w.redo },
    { shown: "/", words: "find or do anything", press: ["/"], act: () => setDialog("find") },
    { shown: "N", words: "new design", press: ["N"], act: () => void go("/?new=1") },
    { shown: "?", words: "this sheet", press: ["?"], act: () => setDialog("keys") },
  ]);
  const findable = useMemo<Findable[]>(
    () => [
      ...FACETS.map((f) => ({
        title: FACET_WORDS[f],
        hint: "facet",
        words:
          f === "guard"
            ? "freewheel diode release"
            : f === "prove"
              ? "reading meter"
              : f === "build"
                ? "steps parts legs"
                : "",
        go: () => void go(`/design/${opened.id}/${f}`),
      })),
      ...answer.evaluation.windows.map((x) => ({
        title: `${x.ref}, ${x.title}`,
        hint: "value window",
        words: "drive resistor",
        go: () => void go(`/design/${opened.id}/drive?part=${x.path}`),
      })),
      ...answer.evaluation.verdicts.map((v) => ({
        title: v.title,
        hint: `verdict, ${v.standing}`,
        go: () => desk.focus.set(v.id),
      })),
      ...items.map((i) => ({
        title: i.label,
        hint: "do",
        go: () => (i.href ? location.assign(i.href) : i.onClick?.()),
      })),
      { title: "Undo", hint: "do", go: w.undo },
      { title: "Redo", hint: "do", go: w.redo },
      { title: "Light or dark", hint: "do", go: toggleMode },
      { title: "Shelf", hint: "all designs", go: () => void go("/") },
      { title: "Keys", hint: "do", go: () => setDialog("keys") },
    ],
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [answer, opened.id],
  );
  const Pane = bench ? null : PANES[facet as keyof typeof PANES];
  const supply = opened.document.supply!;
  return (
    <DeskContext value={desk}>
      <div
        className={`workspace ${bench ? "bench" : ""} ${rail ? "rail-open" : ""} ${w.stale ? "stale" : ""} ${size === "large" ? "rehearsing" : ""}`}
      >
        <Header
          name={opened.name}
          supplyWord={supply.kind?.includes("battery") ? "Battery" : "Supply"}
          supply={`${supply.low} / ${supply.typical} / ${show(supply.high ?? 0, "V")}`}
          items={items}
          onFind={() => setDialog("find")}
          undo={{ label: `Undo: ${opened.undo_label}`, on: opened.can_undo, do: w.undo }}
          redo={{ label: opened.redo_label, on: opened.can_redo, do: w.redo }}
        />
        <FacetBar facet={facet} />
        {w.offline && (
          <p className="offline" role="alert">
            <b>No answer from the server.</b> Values show the last answers; what you type stays in its field.
            It is tried again by itself.
          </p>
        )}
        {w.waiting + w.kept.acts.length > 0 && (
          <p className="offline" role="status">
            {told(w.waiting, "edit", w.kept.acts.length)} on this computer; sent in their order when the
            server answers.
          </p>
        )}
        <main className={`main facet-${facet}`}>
          <h1 className="hidden">{opened.name}</h1>
          <h2 className="hidden">{FACET_WORDS[facet]}</h2>
          {!bench && <Sentence facet={facet} />}
          {Pane && facet !== "behave" && <Channels />}
          {Pane && around ? (
            <div className="two">
              <Places key={around} block={around} />
              <SchematicPane part={part} onPart={onPart} />
            </div>
          ) : Pane ? (
            <Pane part={part} onPart={onPart} />
          ) : facet === "build" ? (
            <Build lighted={size !== "folded"} />
          ) : (
            <Prove />
          )}
        </main>
        <Verdicts facet={facet} onPart={onPart} />
        <VerdictRail onOpen={() => setRail(!rail)} />
        <RehearsalStrip size={size} onSize={setSize} />
        <ClashDialog />
        <Find open={dialog === "find"} onClose={() => setDialog(null)} all={findable} />
        <KeysDialog open={dialog === "keys"} onClose={() => setDialog(null)} />
        {dialog === "rename" && <Rename open onClose={() => setDialog(null)} />}
        <Snackbar
          open={!!w.notice}
          autoHideDuration={5000}
          onClose={() => w.setNotice(null)}
          message={w.notice}
        />
      </div>
    </DeskContext>
  );
}
