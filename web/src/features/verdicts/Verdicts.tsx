// Every check as a headroom gauge, worst first, opening to its working and what to do.
import { useEffect, useState } from "react";
import type { S } from "../../api/client";
import { unbroken } from "../../drawing/format";
import { useCell } from "../../drawing/cell";
import { FACETS, Glyph, type Facet } from "../../drawing/Badge";
import { Formula } from "../../drawing/Formula";
import { Gauge } from "../../drawing/Gauge";
import { Explained } from "../terms";
import { useDesk } from "../workspace/desk";
import { useWorkspace } from "../workspace/useDesign";
import { Remedy } from "./Mends";
import { useConfirmed } from "./useConfirmed";

const EASY = 0.5;
const SORTS: Record<S["Verdict"]["sort"], string> = {
  limit: "limit",
  need: "need",
  practice: "good practice",
  wish: "you asked",
};
type V = S["Verdict"] & { circuit?: S["Confirmed"] };

function Row({
  v,
  focus,
  onFocus,
  onPart,
  was,
  follows,
}: {
  v: V;
  focus: string | null;
  onFocus: (id: string | null) => void;
  onPart: (path: string | null) => void;
  was: V | undefined;
  follows: readonly V[];
}) {
  const open = focus === v.id;
  const moved = was && Math.abs(was.left - v.left) > 0.002;
  return (
    <li className={`verdict ${open ? "open" : ""}`} data-verdict={v.id}>
      <button className="verdict-head" aria-expanded={open} onClick={() => onFocus(open ? null : v.id)}>
        <Glyph standing={v.standing} />
        <span className="verdict-title">{v.title}</span>
        <span className={`verdict-left ${v.standing}`}>{v.margin}</span>
        <span className="verdict-sentence">
          <span className="verdict-sort">{SORTS[v.sort]}</span>
          {v.circuit?.agrees && (
            <span className="rehearsed" title={`Rehearsed at this corner: ${v.circuit.text}`}>
              rehearsed
            </span>
          )}
          {v.circuit?.contradicts ? (
            <b>The circuit decides: it shows {v.circuit.text}. The formula says: </b>
          ) : null}
          {unbroken(v.sentence)}
          {moved && <em> was {was.margin}</em>}
        </span>
        <Gauge used={v.used} worst={v.used_worst} standing={v.standing} />
      </button>
      {open && (
        <div className="working">
          <p className="value">
            <Formula text={v.working.formula} />
          </p>
          <p className="value">
            <Formula text={v.working.substituted} />
          </p>
          <p>
            <Explained text={v.working.reason} />
          </p>
          <p className="corner">Worst: {v.corner}.</p>
          {v.circuit && (
            <p className="corner">
              Ordinary parts at this corner, rehearsed: <b className="value">{v.circuit.text}</b>
              {v.circuit.agrees ? ", as the formula says." : ". The formula is off here."}
            </p>
          )}
          {v.circuit?.dominant && (
            <p className="corner">
              {v.circuit.dominant.text}{" "}
              {v.circuit.dominant.path && (
                <button className="link" onClick={() => onPart(v.circuit?.dominant?.path ?? null)}>
                  Open {v.circuit.dominant.part}
                </button>
              )}
            </p>
          )}
          <Remedy v={v} />
        </div>
      )}
      {follows.length > 0 && <Follows all={follows} focus={focus} onFocus={onFocus} onPart={onPart} />}
    </li>
  );
}

/** The consequences of a failing check, folded beneath it and not counted again. */
function Follows({
  all,
  focus,
  onFocus,
  onPart,
}: {
  all: readonly V[];
  focus: string | null;
  onFocus: (id: string | null) => void;
  onPart: (path: string | null) => void;
}) {
  const [folded, setFolded] = useState(true);
  const shown = !folded || all.some((v) => v.id === focus);
  return (
    <div className="follows">
      <button className="follows-head" aria-expanded={shown} onClick={() => setFolded(!folded)}>
        <span aria-hidden>{shown ? "⌄" : "›"}</span>
        <b>{all.length === 1 ? "1 follows from this" : `${all.length} follow from this`}</b>
        <small>not counted again</small>
      </button>
      {shown && (
        <ul>
          {all.map((v) => (
            <Row
              key={v.id}
              v={v}
              focus={focus}
              onFocus={onFocus}
              onPart={onPart}
              was={undefined}
              follows={[]}
            />
          ))}
        </ul>
      )}
    </div>
  );
}

export function Verdicts({ facet, onPart }: { facet: Facet; onPart: (path: string | null) => void }) {
  const { answer, settled, trying } = useWorkspace();
  const desk = useDesk();
  const focus = useCell(desk.focus);
  const onFocus = desk.focus.set;
  const [all, setAll] = useState(true);
  const [easy, setEasy] = useState(false);
  const circuit = useConfirmed();
  const everything = answer.evaluation.verdicts
    .filter((v) => v.standing !== "told")
    .map((v): V => {
      const found = circuit.get(v.id);
      return found ? { ...v, standing: found.standing, circuit: found } : v;
    });
  const told = answer.evaluation.verdicts.filter((v) => v.standing === "told");
  const mine = everything.filter((v) => v.facet === facet);
  const list = all || mine.length === 0 ? everything : mine;
  const ids = new Set(list.map((v) => v.id));
  const under = (id: string) => list.filter((v) => v.cause === id);
  const heads = list.filter((v) => !v.cause || !ids.has(v.cause));
  const hard = heads.filter((v) => v.standing !== "fits" || v.left < EASY || v.id === focus);
  const shown = easy ? heads : hard.length > 0 ? hard : heads.slice(0, 4);
  const folded = heads.length - shown.length;
  const causes = heads.filter((v) => v.standing === "fails").length;
  useEffect(() => {
    if (focus) document.querySelector(`[data-verdict="${focus}"]`)?.scrollIntoView({ block: "nearest" });
  }, [focus]);
  return (
    <aside className="verdicts" aria-label="Verdicts">
      <header>
        <h2>
          {trying ? "If tried" : "Verdicts"}
          {causes > 0 && <small>{causes === 1 ? "1 cause" : `${causes} causes`}</small>}
        </h2>
        <div className="toggle" role="group" aria-label="Which verdicts">
          <button aria-pressed={!all} disabled={mine.length === 0} onClick={() => setAll(false)}>
            This facet
          </button>
          <button aria-pressed={all} onClick={() => setAll(true)}>
            All {everything.length}
          </button>
        </div>
      </header>
      <ul>
        {shown.map((v) => (
          <Row
            key={v.id}
            v={v}
            focus={focus}
            onFocus={onFocus}
            onPart={onPart}
            was={trying ? settled.evaluation.verdicts.find((o) => o.id === v.id) : undefined}
            follows={under(v.id)}
          />
        ))}
      </ul>
      {folded > 0 && (
        <button className="more" onClick={() => setEasy(true)}>
          <Glyph standing="fits" /> {folded} more fit, each with over {Math.round(EASY * 100)}% left
        </button>
      )}
      {easy && hard.length < heads.length && (
        <button className="more" onClick={() => setEasy(false)}>
          Fold the easy ones
        </button>
      )}
      {told.length > 0 && <Told all={told} />}
      {answer.evaluation.cautions.map((c) => (
        <p key={c} className="caution">
          {c}
        </p>
      ))}
    </aside>
  );
}

/** Numbers that nobody asked to be judged; "Ask" makes a wish of one. */
function Told({ all }: { all: readonly V[] }) {
  const { commit } = useWorkspace();
  return (
    <section className="told" aria-label="Told, not judged">
      <h3>
        Told, not judged <small>nobody asked</small>
      </h3>
      <dl>
        {all.map((v) => (
          <div key={v.id} title={v.sentence}>
            <dt>{v.title}</dt>
            <dd className="value">{v.margin}</dd>
            <dd>
              <button
                className="link"
                aria-label={`Ask: ${v.title}`}
                onClick={() => v.ask && void commit([v.ask], `Asked: ${v.title}`)}
              >
                Ask
              </button>
            </dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

/** Folded to a rail at narrow widths. */
export function VerdictRail({ onOpen }: { onOpen: () => void }) {
  const { answer } = useWorkspace();
  return (
    <button className="rail" onClick={onOpen} aria-label="Show the verdicts">
      {answer.evaluation.verdicts
        .filter((v) => v.standing !== "told")
        .slice(0, 7)
        .map((v) => (
          <span key={v.id} title={v.title}>
            <Glyph standing={v.standing} />
            <small className="value">{v.left < 0 ? "over" : `${Math.round(v.left * 100)}%`}</small>
          </span>
        ))}
    </button>
  );
}

export const FACET_WORDS: Record<Facet, string> = {
  load: "Load",
  drive: "Drive",
  guard: "Guard",
  behave: "Behave",
  build: "Build",
  prove: "Prove",
};
export const facetOf = (text: string | undefined): Facet =>
  (FACETS as readonly string[]).includes(text ?? "") ? (text as Facet) : "drive";
