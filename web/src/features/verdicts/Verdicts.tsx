// Every check as a headroom gauge, worst first, opening to its working and what to do.
import { useEffect, useState } from "react";
import { call, client, type S } from "../../api/client";
import { FACETS, Glyph, type Facet } from "../../drawing/Badge";
import { leftWords } from "../../drawing/format";
import { Formula } from "../../drawing/Formula";
import { Gauge } from "../../drawing/Gauge";
import { useWorkspace } from "../workspace/useDesign";

const EASY = 0.5;

function Row({
  v,
  open,
  onOpen,
  was,
}: {
  v: S["Verdict"];
  open: boolean;
  onOpen: () => void;
  was: S["Verdict"] | undefined;
}) {
  const { commit, opened, setNotice } = useWorkspace();
  const remedy = v.remedy;
  const [looking, setLooking] = useState(false);
  const mend = async () => {
    setLooking(true);
    try {
      const found = await call(
        client.POST("/api/mend", {
          body: { document: opened.document as unknown as Record<string, unknown>, verdict: v.id },
        }),
      );
      if (found.changes.length > 0) {
        const problems = await commit(
          found.changes as { path: string; value: unknown }[],
          `Mended: ${found.text}`,
        );
        setNotice(problems ? problems[0]!.message : `Mended: ${found.text}. Ctrl+Z takes it back.`);
      } else
        setNotice(
          "Nothing was found that mends this and breaks nothing else. It may be a given: look at what you know.",
        );
    } catch {
      setNotice("No answer from the server.");
    }
    setLooking(false);
  };
  const moved = was && Math.abs(was.left - v.left) > 0.002;
  return (
    <li className={`verdict ${open ? "open" : ""}`} data-verdict={v.id}>
      <button className="verdict-head" aria-expanded={open} onClick={onOpen}>
        <Glyph standing={v.standing} />
        <span className="verdict-title">{v.title}</span>
        <span className={`verdict-left ${v.standing}`}>{leftWords(v.left)}</span>
        <span className="verdict-sentence">
          {v.sentence}
          {moved && <em> was {leftWords(was.left)}</em>}
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
          <p>{v.working.reason}</p>
          <p className="corner">Worst: {v.corner}.</p>
          {remedy && (
            <p className="remedy">
              {remedy.changes && remedy.changes.length > 0 ? (
                <button
                  className="do"
                  onClick={() =>
                    void commit(remedy.changes as { path: string; value: unknown }[], remedy.text)
                  }
                >
                  {remedy.text}
                </button>
              ) : (
                <>
                  <span>{remedy.text}</span>
                  <button className="do" disabled={looking} onClick={() => void mend()}>
                    {looking ? "Looking …" : "Find what mends it"}
                  </button>
                </>
              )}
              {remedy.stock != null && remedy.changes && remedy.changes.length > 0 && (
                <small>
                  In drawer: <b className="value">{remedy.stock}</b>
                </small>
              )}
            </p>
          )}
        </div>
      )}
    </li>
  );
}

export function Verdicts({
  facet,
  focus,
  onFocus,
}: {
  facet: Facet;
  focus: string | null;
  onFocus: (id: string | null) => void;
}) {
  const { answer, settled, trying } = useWorkspace();
  const [all, setAll] = useState(true);
  const [easy, setEasy] = useState(false);
  const everything = answer.evaluation.verdicts;
  const mine = everything.filter((v) => v.facet === facet);
  const list = all || mine.length === 0 ? everything : mine;
  const hard = list.filter((v) => v.standing !== "fits" || v.left < EASY || v.id === focus);
  const shown = easy ? list : hard.length > 0 ? hard : list.slice(0, 4);
  const folded = list.length - shown.length;
  useEffect(() => {
    if (focus) document.querySelector(`[data-verdict="${focus}"]`)?.scrollIntoView({ block: "nearest" });
  }, [focus]);
  return (
    <aside className="verdicts" aria-label="Verdicts">
      <header>
        <h2>{trying ? "If tried" : "Verdicts"}</h2>
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
            open={focus === v.id}
            onOpen={() => onFocus(focus === v.id ? null : v.id)}
            was={trying ? settled.evaluation.verdicts.find((o) => o.id === v.id) : undefined}
          />
        ))}
      </ul>
      {folded > 0 && (
        <button className="more" onClick={() => setEasy(true)}>
          <Glyph standing="fits" /> {folded} more fit, each with over {Math.round(EASY * 100)}% left
        </button>
      )}
      {easy && hard.length < list.length && (
        <button className="more" onClick={() => setEasy(false)}>
          Fold the easy ones
        </button>
      )}
      {answer.evaluation.cautions.map((c) => (
        <p key={c} className="caution">
          {c}
        </p>
      ))}
    </aside>
  );
}

/** Folded to a rail at narrow widths. */
export function VerdictRail({ onOpen }: { onOpen: () => void }) {
  const { answer } = useWorkspace();
  return (
    <button className="rail" onClick={onOpen} aria-label="Show the verdicts">
      {answer.evaluation.verdicts.slice(0, 7).map((v) => (
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
