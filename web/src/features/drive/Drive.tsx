// Drive: any two schools face to face on the same gauges, one part's window, or what else would do; the schematic beside it.
import { useState } from "react";
import type { S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { Gauge } from "../../drawing/Gauge";
import { Wall } from "../load/Wall";
import { SchematicPane } from "../workspace/SchematicPane";
import type { FacetProps } from "../workspace/types";
import { useWorkspace } from "../workspace/useDesign";
import { Shortlist } from "./Shortlist";
import { WindowPanel } from "./WindowPanel";

const low = (title: string) =>
  /^[A-Z]{2}|^[A-Z]-|^MOSFET/.test(title) ? title : title.charAt(0).toLowerCase() + title.slice(1);

const MARKS: Record<string, string> = { fails: "✕", tight: "◐", fits: "⬢", proven: "⬢", unknown: "⬡" };

const ROWS = 6; // closest calls shown at first
const SAID: Record<string, string> = {
  fully_on: "Turned fully on",
  peak: "Peak voltage",
  ac_peak: "Peak voltage",
  pin_steady: "Signal, steady",
  pin_burst: "Signal, burst",
  switch_current: "Switch current",
  heat: "Heat in switch",
  gate_max: "Gate, highest",
  off_level: "Turned fully off",
  boot: "Off at rest",
  surge: "Inrush",
  transfer: "Transfer",
  pull_in: "Load pulls in",
};

function FaceOff({ onCard }: { onCard: (path: string) => void }) {
  const { answer, commit } = useWorkspace();
  const { schools, refused, cards } = answer.evaluation;
  const used = schools.find((s) => s.in_use);
  const [first, setFirst] = useState<string | null>(null);
  const [picked, setPicked] = useState<string | null>(null);
  const a = schools.find((s) => s.kind === first) ?? used;
  const [all, setAll] = useState(false);
  const out = refused.find((r) => r.title === picked);
  // Across from the one in use: what was picked, else the simplest other one.
  const b = schools.find((s) => s.kind === picked && s !== a) ?? schools.find((s) => s !== a);
  if (!a || !b) return null;
  const ids = [...new Set([...a.verdicts, ...b.verdicts].map((v) => v.id))];
  const cell = (school: S["School"], id: string, flip: boolean) => {
    const v = school.verdicts.find((x) => x.id === id);
    return v ? (
      <span className={`faced ${v.standing}`} title={v.sentence}>
        <b className="value">{v.figures}</b>
        <Gauge used={v.used} worst={v.used_worst} standing={v.standing} flip={flip} />
      </span>
    ) : (
      <span className="faced none">–</span>
    );
  };
  const costs = [...new Set([...a.costs, ...b.costs].map((c) => c.title))];
  const take = (s: S["School"]) => (
    <button
      className="do"
      onClick={() => void commit(s.changes as { path: string; value: unknown }[], `${s.title} chosen`)}
    >
      Use it
    </button>
  );
  const hardest = (id: string) =>
    Math.min(...[a, b].map((s) => s.verdicts.find((v) => v.id === id)?.left ?? 1));
  const shown = all
    ? ids
    : ids.filter((id) =>
        [...ids]
          .sort((x, y) => hardest(x) - hardest(y))
          .slice(0, ROWS)
          .includes(id),
      );
  return (
    <section className="face-off" aria-label="Schools compared">
      <div className="schools">
        <div className="school left">
          <h3>
            <select aria-label="Compare" value={a.kind} onChange={(e) => setFirst(e.target.value)}>
              {schools
                .filter((s) => s !== b)
                .map((s) => (
                  <option key={s.kind} value={s.kind}>
                    {MARKS[s.standing]} {s.title}
                  </option>
                ))}
            </select>
            {a.in_use ? <span className="now">in use</span> : take(a)}
          </h3>
          <p className={a.standing === "fails" ? "fails" : ""}>
            <Glyph standing={a.standing} size={18} /> {a.note}
          </p>
        </div>
        <div className="school right">
          <h3>
            <select
              aria-label="Compare with"
              value={out ? out.title : b.kind}
              onChange={(e) => setPicked(e.target.value)}
            >
              {schools
                .filter((s) => s !== a)
                .map((s) => (
                  <option key={s.kind} value={s.kind}>
                    {MARKS[s.standing]} {s.title}
                  </option>
                ))}
              {refused.map((r) => (
                <option key={r.title} value={r.title}>
                  ✕ {r.title}
                </option>
              ))}
            </select>
            {!out && (b.in_use ? <span className="now">in use</span> : take(b))}
          </h3>
          {!out && (
            <p className={b.standing === "fails" ? "fails" : ""}>
              <Glyph standing={b.standing} size={18} /> {b.note}
            </p>
          )}
        </div>
      </div>
      {out ? (
        <div className="refused-way">
          <p>
            <b>{out.title} is not built here.</b> {out.why}
          </p>
          <p>
            <b>Instead:</b> {out.instead}
          </p>
        </div>
      ) : (
        <>
          <ul className="faced-list">
            {shown.map((id) => (
              <li key={id}>
                {cell(a, id, true)}
                <span className="what">{SAID[id] ?? id}</span>
                {cell(b, id, false)}
              </li>
            ))}
            {costs.map((c) => (
              <li key={c} className="cost">
                <b className="value">{a.costs.find((x) => x.title === c)?.text ?? "–"}</b>
                <span className="what">costs in {c}</span>
                <b className="value">{b.costs.find((x) => x.title === c)?.text ?? "–"}</b>
              </li>
            ))}
          </ul>
          {ids.length > ROWS && (
            <button className="link" aria-expanded={all} onClick={() => setAll(!all)}>
              {all ? "Only the closest calls" : `${ids.length - ROWS} more checks`}
            </button>
          )}
          <div className="foot">
            {[a, b].map((s) => (
              <p key={s.kind}>
                <b>Right when</b> {low(s.choose)} <b>Wrong when</b> {low(s.avoid)}{" "}
                <small>
                  {s.summary}; in drawer: <b className="value">{s.stock}</b>
                </small>
              </p>
            ))}
          </div>
        </>
      )}
      <p className="card-links">
        What else would do:{" "}
        {cards
          .filter((c) => c.role === "drive" || c.role === "guard")
          .map((c) => (
            <button key={c.path} className="link" onClick={() => onCard(c.path)}>
              {c.card_title}
            </button>
          ))}
      </p>
    </section>
  );
}

export function Drive(props: FacetProps) {
  const { answer } = useWorkspace();
  const { windows, cards, wall } = answer.evaluation;
  const picked = windows.find((w) => w.path === props.part);
  const card = cards.find((c) => c.path === props.part);
  const close = () => props.onPart(null);
  const panel = picked ? (
    <WindowPanel key={picked.path} window={picked} onClose={close} />
  ) : card ? (
    <Shortlist key={card.path} path={card.path} title={card.title} onClose={close} />
  ) : null;
  const schools = <FaceOff onCard={(p) => props.onPart(p)} />;
  // Near the wall the drawing comes first, and what lies above it stands beside.
  if (wall)
    return (
      <div className="two walled">
        {panel ?? <SchematicPane {...props} />}
        <div className="beyond">
          {panel ? (
            <SchematicPane {...props} />
          ) : (
            <>
              <Wall wall={wall} />
              {schools}
            </>
          )}
        </div>
      </div>
    );
  return (
    <div className="two">
      {panel ?? schools}
      <SchematicPane {...props} />
    </div>
  );
}
