// Build: parts, legs, and the ordered steps, each check with the reading to expect. One step a screen on a phone.
import { useState } from "react";
import type { S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { useKeys } from "../find/keys";
import { stepsDone } from "../workspace/useBench";
import { useWorkspace } from "../workspace/useDesign";

const LEG: Record<string, string> = {
  g: "gate",
  d: "drain",
  s: "source",
  b: "base",
  c: "collector",
  e: "emitter",
  a: "anode",
  k: "cathode",
  coil: "coil",
  com: "COM",
  no: "NO",
  nc: "NC",
  either: "any",
  "+": "plus",
  "-": "minus",
  "~": "AC",
};
const ICON: Record<string, string> = {
  place: "M0 8h5M15 8h5M5 4h10v8h-10z",
  link: "M2 13C4 3 16 3 18 13M1 13h2M17 13h2",
  check: "M2 14A8 8 0 0 1 18 14M10 14L14 7",
};

export function StepIcon({ action }: { action: string }) {
  return (
    <svg width={20} height={17} viewBox="0 0 20 17" role="img" aria-label={action}>
      <path d={ICON[action]} fill="none" stroke="currentColor" strokeWidth={1.8} />
    </svg>
  );
}

export function Legs({ part }: { part: S["Part"] }) {
  const legs = part.legs ?? [];
  if (legs.length < 2 || legs[0] === "either") return <p>Either way round.</p>;
  const w = Math.max(120, legs.length * 44);
  return (
    <svg
      className="legs"
      viewBox={`0 0 ${w} 132`}
      width={w}
      role="img"
      aria-label={`Legs from left to right, ${part.face}: ${legs.map((l) => LEG[l] ?? l).join(", ")}`}
    >
      <rect
        x={10}
        y={22}
        width={w - 20}
        height={42}
        fill="var(--sheet)"
        stroke="var(--ink)"
        strokeWidth={2}
      />
      <text x={w / 2} y={48} textAnchor="middle" className="part-value">
        {part.ref}
      </text>
      {legs.map((l, k) => {
        const x = 10 + ((w - 20) * (k + 0.5)) / legs.length;
        return (
          <g key={k}>
            <path d={`M${x} 64V92`} stroke="var(--copper)" strokeWidth={2.6} />
            <path d={`M${x - 6} 92l3 -5h6l3 5l-3 5h-6z`} fill="var(--copper)" />
            <text x={x} y={116} textAnchor="middle" className="part-value">
              {l.length > 1 ? (LEG[l] ?? l) : l.toUpperCase()}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

export function Build() {
  const { opened, bench, kept, setNotice } = useWorkspace();
  const [at, setAt] = useState<number | null>(null);
  const [view, setView] = useState<"step" | "parts">("step");
  const steps = bench?.steps ?? [];
  const done = stepsDone(bench?.done ?? [], kept.acts);
  const first = steps.findIndex((s) => !done.has(s.id));
  const current = at ?? (first < 0 ? steps.length - 1 : first);
  const step = steps[current];
  const parts = bench?.parts ?? [];
  const part = parts.find((p) => p.ref === step?.part);
  const tick = async (id: string, value: boolean) => {
    const problems = await kept.act({ do: "step", step: id, done: value });
    if (problems) setNotice(problems[0]?.message ?? "Not taken.");
  };
  const forward = () => {
    if (!step) return;
    void tick(step.id, true);
    setAt(Math.min(current + 1, steps.length - 1));
  };
  useKeys("Building", [
    { shown: "Enter", words: "done, and the next step", press: ["Enter"], alone: true, act: forward },
  ]);
  if (!bench) return <p className="empty">Working out the steps …</p>;
  if (steps.length === 0)
    return (
      <section className="empty">
        <h3>No build plan</h3>
        <p>
          This supply is above 30 V AC or 60 V DC. Ratings are computed for information; there are no wiring
          steps, because how it is built and connected is a matter for your local electrical code and a
          licensed person.
        </p>
      </section>
    );
  const next = steps[current + 1];
  return (
    <div className="build">
      <nav className="steps" aria-label="Build steps">
        <header>
          <h3>Steps</h3>
          <b className="value">
            {bench.progress.built} of {steps.length} done
          </b>
        </header>
        <div className="dashes" aria-hidden>
          {steps.map((s, k) => (
            <i key={s.id} className={k === current ? "now" : done.has(s.id) ? "done" : ""} />
          ))}
        </div>
        <ol>
          {steps.map((s, k) => (
            <li key={s.id}>
              <button
                aria-current={k === current ? "step" : undefined}
                className={done.has(s.id) ? "done" : ""}
                onClick={() => setAt(k)}
              >
                <span className="value">{k + 1}</span>
                <StepIcon action={s.action} />
                <span>
                  {s.title}
                  {s.expect && <small className="value">{s.expect}</small>}
                </span>
                {done.has(s.id) && <b aria-label="done">✓</b>}
              </button>
            </li>
          ))}
        </ol>
      </nav>
      <section className="step-main">
        <div className="toggle" role="group" aria-label="What to show">
          <button aria-pressed={view === "step"} onClick={() => setView("step")}>
            This step
          </button>
          <button aria-pressed={view === "parts"} onClick={() => setView("parts")}>
            Parts list
          </button>
          <span className="grow" />
          <a className="link" href={`/api/designs/${opened.id}/export/parts`}>
            Parts as CSV
          </a>
          <button className="link" onClick={() => print()}>
            Print
          </button>
        </div>
        {view === "parts" ? (
          <table className="parts">
            <thead>
              <tr>
                <th>Ref</th>
                <th>Part</th>
                <th>Value</th>
                <th>Legs</th>
                <th>In drawer</th>
              </tr>
            </thead>
            <tbody>
              {parts.map((p) => (
                <tr key={p.ref}>
                  <td>
                    <b>{p.ref}</b>
                  </td>
                  <td>
                    {p.title}
                    <small>
                      {p.rating}
                      {p.on_board === false ? " Off the board." : ""}
                    </small>
                  </td>
                  <td className="value">{p.value}</td>
                  <td className="value">
                    {(p.legs ?? []).map((l) => (l.length > 1 ? (LEG[l] ?? l) : l.toUpperCase())).join(" ")}
                  </td>
                  <td>
                    {p.stock ? <b className="value">{p.stock}</b> : <span className="fails">to buy</span>}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        ) : step ? (
          <>
            <div className="step-card">
              <p className="step-no">
                <span className="value">{current + 1}</span> of {steps.length}{" "}
                <StepIcon action={step.action} />
              </p>
              <h3>{step.title}</h3>
              <p>{step.detail}</p>
              {step.expect && (
                <p className="expect">
                  Expect <b className="value">{step.expect}</b>
                </p>
              )}
              <div className="actions">
                <button className="primary" onClick={forward}>
                  {step.action === "check"
                    ? "It reads so"
                    : step.action === "place"
                      ? `${step.part} is in`
                      : "Done"}{" "}
                  <kbd>Enter</kbd>
                </button>
                <button className="secondary" disabled={current === 0} onClick={() => setAt(current - 1)}>
                  Back
                </button>
                {done.has(step.id) && (
                  <button className="link" onClick={() => void tick(step.id, false)}>
                    Not done after all
                  </button>
                )}
              </div>
              {next && (
                <p className="then">
                  <StepIcon action={next.action} /> Then {current + 2}: {next.title}{" "}
                  {next.expect && <b className="value">{next.expect}</b>}
                </p>
              )}
            </div>
            {part && (
              <div className="leg-card">
                <h3>
                  Leg order <small>{part.face}</small>
                </h3>
                <div className="leg-row">
                  <Legs part={part} />
                  <p>
                    <b>{part.title}</b>
                    <br />
                    Yours may differ: check its sheet, or find the legs with the meter.
                  </p>
                </div>
                <p className="meter-way">
                  <StepIcon action="check" /> {bench.meter_ways[part.kind] ?? ""}
                </p>
              </div>
            )}
            {!part && (
              <p className="hint">
                <Glyph standing="unknown" size={16} /> The strip map, which gives every leg its hole, comes in
                a later version.
              </p>
            )}
          </>
        ) : null}
      </section>
    </div>
  );
}
