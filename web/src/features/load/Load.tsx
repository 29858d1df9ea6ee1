// Load: what is switched, how to measure it, what its contact may carry, and what the supply really does.
import { useState } from "react";
import type { Problem, S } from "../../api/client";
import { ContactLadder } from "../../drawing/ContactLadder";
import { Pictogram } from "../../drawing/Pictogram";
import { SupplyRange } from "../../drawing/SupplyRange";
import { EntryProblem } from "../workspace/Entry";
import { SchematicPane } from "../workspace/SchematicPane";
import type { FacetProps } from "../workspace/types";
import { useDraft } from "../workspace/useDraft";
import { useWorkspace } from "../workspace/useDesign";
import { Wall } from "./Wall";

const MODES: Record<string, string> = { ohms: "Ω", volts: "V", amps: "A", diode: "▷|" };

/** One measurement: where the two leads go, in which mode, what the reading means; a reading is kept beside the rated value. */
function Measuring({ measured }: { measured: S["Measuring"] }) {
  const { opened, commit } = useWorkspace();
  const { measure } = measured;
  const path = measured.typable ? (measure.path ?? null) : null;
  const [text, setText] = useDraft(`measured:${opened.id}:${path ?? measure.title}`);
  const [problem, setProblem] = useState<Problem | null>(null);
  const origins = opened.document.origins ?? {},
    rated = opened.document.rated ?? {};
  const without = <T,>(all: Record<string, T>) =>
    Object.fromEntries(Object.entries(all).filter(([p]) => p !== path));
  const now = (): unknown =>
    path!.split(".").reduce<unknown>((at, step) => (at as Record<string, unknown>)[step], opened.document);
  const keep = async (value: unknown) => {
    const kept = path! in rated ? rated : { ...rated, [path!]: now() };
    const problems = await commit(
      [
        { path: path!, value },
        { path: "origins", value: { ...origins, [path!]: "measured" } },
        { path: "rated", value: kept },
      ],
      `${measure.title} measured`,
    );
    setProblem(problems?.[0] ?? null);
    if (!problems) setText(null);
  };
  const tick = async (on: boolean) => {
    if (on) return keep(now());
    const back = path! in rated && rated[path!] !== now() ? [{ path: path!, value: rated[path!] }] : [];
    await commit(
      [...back, { path: "origins", value: without(origins) }, { path: "rated", value: without(rated) }],
      `${measure.title} not measured`,
    );
  };
  return (
    <li className="measuring">
      <svg
        className="leads-picture"
        viewBox="0 0 300 52"
        role="img"
        aria-label={`Red on ${measure.red}, black on ${measure.black}, meter on ${measure.mode}`}
      >
        <path
          d="M26 4h28l13 22l-13 22h-28l-13 -22z"
          fill="var(--sheet)"
          stroke="var(--ink)"
          strokeWidth={2}
        />
        <text x={40} y={32} textAnchor="middle" className="strong">
          {MODES[measure.mode]}
        </text>
        <path d="M60 14H82M60 38H82" stroke="var(--ink)" strokeWidth={1.6} />
        <path d="M82 14l6 -9h206v18h-206z" fill="var(--sheet)" stroke="var(--ink)" />
        <path d="M82 38l6 -9h206v18h-206z" fill="var(--ink)" />
        <text x={96} y={18.5}>
          red: {measure.red}
        </text>
        <text x={96} y={42.5} style={{ fill: "var(--paper)" }}>
          black: {measure.black}
        </text>
      </svg>
      <p>
        <b>{measure.title}.</b> {measure.means}
      </p>
      {path !== null && (
        <div className="measured-row">
          <b className="value">{measured.value}</b>
          {measured.measured && measured.rated && measured.rated !== measured.value && (
            <small>
              measured; rated <span className="value">{measured.rated}</span>
            </small>
          )}
          <span className="typed">
            <input
              aria-label={`${measure.title}: what the meter shows`}
              placeholder="meter shows"
              value={text ?? ""}
              onChange={(e) => {
                setText(e.target.value);
                setProblem(null);
              }}
              onKeyDown={(e) => e.key === "Enter" && text && void keep(text)}
            />
          </span>
          <label className="tick">
            <input
              type="checkbox"
              checked={measured.measured}
              onChange={(e) => void tick(e.target.checked)}
            />{" "}
            I measured it
          </label>
        </div>
      )}
      {problem && <EntryProblem problem={problem} kept={measured.value} onUse={(t) => void keep(t)} />}
    </li>
  );
}

export function Load(props: FacetProps) {
  const { answer, commit, channel } = useWorkspace();
  const open = answer.evaluation.channels.find((c) => c.number === channel);
  const { loads, measures, contact, paths, supply, wall } = answer.evaluation;
  const mine = measures.filter((m) => m.role === "load" && (!open || m.block === open.load));
  const signals = measures.filter((m) => m.role === "signal");
  const battery = supply.battery ? "battery" : "supply";
  return (
    <div className="load">
      <ul className="kinds" aria-label="Kinds of load">
        <li className="legend">
          <span className="thin" /> volts in <span className="thick" /> amps it takes
        </li>
        {loads.map((l) => (
          <li key={l.kind}>
            <button
              aria-pressed={l.in_use}
              title={l.purpose}
              onClick={() => !l.in_use && void commit(l.changes, `${l.title} chosen`)}
            >
              <Pictogram name={l.picture} />
              <span>
                <b>{l.title}</b>
              </span>
            </button>
          </li>
        ))}
      </ul>
      <div className="load-middle">
        <section className="measure">
          <h3>
            Measure it <small>before anything is built</small>
          </h3>
          <ul>
            {mine.map((m) => (
              <Measuring key={m.measure.title} measured={m} />
            ))}
          </ul>
          {signals.length > 0 && (
            <details>
              <summary>Measure the signal too</summary>
              <ul>
                {signals.map((m) => (
                  <Measuring key={m.measure.title} measured={m} />
                ))}
              </ul>
            </details>
          )}
        </section>
        {contact ? (
          <section className="measure">
            <h3>
              The contact{" "}
              <small>
                rated at {contact.rated_volts} V {contact.ac ? "AC" : "DC"}
              </small>
            </h3>
            <ContactLadder contact={contact} />
            <p>
              <b>
                {contact.title}: {contact.says}
              </b>{" "}
              On NO, a dead signal stops the load; NC keeps it running.
            </p>
            {paths.length > 0 && (
              <table className="parts">
                <thead>
                  <tr>
                    <th>Pole</th>
                    <th>Relaxed</th>
                    <th>Energised</th>
                  </tr>
                </thead>
                <tbody>
                  {paths.map((p) => (
                    <tr key={p.pole}>
                      <td>{p.pole}</td>
                      <td className="value">{p.relaxed}</td>
                      <td className="value">{p.energised}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
          </section>
        ) : wall ? (
          <Wall wall={wall} />
        ) : (
          <SchematicPane {...props} />
        )}
        <section className="measure wide">
          <h3>
            What the {battery} really does <small>against what the load needs</small>
          </h3>
          <SupplyRange range={supply} />
        </section>
        {contact && wall && (
          <div className="wide">
            <Wall wall={wall} />
          </div>
        )}
      </div>
    </div>
  );
}
