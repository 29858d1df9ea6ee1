// Build: the board's plan with its steps, each check with the reading to expect. One step a screen on a phone.
import { useState } from "react";
import type { S } from "../../api/client";
import { StripMap, type State } from "../../drawing/StripMap";
import { useKeys } from "../find/keys";
import { useMoment } from "../rehearsal/Rehearsal";
import { stepsDone } from "../workspace/useBench";
import { useWorkspace } from "../workspace/useDesign";
import { BenchSheet } from "./BenchSheet";
import { Beside } from "./Beside";
import { BoardBar } from "./BoardBar";
import { LegCard } from "./Legs";
import { Mistakes } from "./Mistakes";
import { PartInSchematic } from "./PartInSchematic";
import { PartsList } from "./PartsList";
import { StepIcon } from "./StepIcon";
import { StepList } from "./StepList";
import { useBoard } from "./useBoard";
import { useNarrow } from "./useNarrow";
import { useVolts } from "./useVolts";

const SAID: Record<string, (step: S["Step"]) => string> = {
  check: () => "It reads so",
  place: (s) => `${s.part} is in`,
  move: (s) => `${s.part} is moved`,
  out: () => "It is out",
};

type About = "legs" | "schematic" | "wrong";
const ABOUT: Record<About, string> = { legs: "Legs", schematic: "Schematic", wrong: "Mistakes" };

/** `lighted`: whether the map shows what carries current at the rehearsal's cursor. */
export function Build({ lighted }: { lighted: boolean }) {
  const { opened, bench, kept, setNotice } = useWorkspace();
  const board = useBoard();
  const [at, setAt] = useState<number | null>(null);
  const [picked, setPicked] = useState<string | null>(null);
  const [listed, setListed] = useState(false);
  const [about, setAbout] = useState<About>("legs");
  const { view } = board;
  const steps = view?.steps ?? bench?.steps ?? [];
  const done = stepsDone(bench?.done ?? [], kept.acts);
  const first = steps.findIndex((s) => !done.has(s.id));
  const current = Math.min(at ?? (first < 0 ? steps.length - 1 : first), steps.length - 1);
  const step = steps[current];
  const tick = async (id: string, value: boolean) => {
    if (value && view && !board.held) await board.keep(view.plan);
    const problems = await kept.act({ do: "step", step: id, done: value });
    if (problems) setNotice(problems[0]?.message ?? "Not taken.");
  };
  const forward = () => {
    if (!step) return;
    void tick(step.id, true);
    setAt(Math.min(current + 1, steps.length - 1));
  };
  /** A part picked in the schematic is picked on the map, and its step is the one looked at. */
  const pickPart = (key: string) => {
    setPicked(key);
    const of = steps.findIndex(
      (s) => s.action !== "check" && (s.key === key || s.key?.startsWith(`${key}.`)),
    );
    if (of >= 0) setAt(of);
  };
  useKeys("Building", [
    { shown: "Enter", words: "done, and the next step", press: ["Enter"], alone: true, act: forward },
  ]);
  if (!bench) return <p className="empty">Working out the steps …</p>;
  if (bench.steps.length === 0)
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
  const built = steps.filter((s) => done.has(s.id)).length;
  return (
    <div className="build">
      <StepList steps={steps} done={done} current={current} built={built} onStep={setAt} />
      <section className="step-main">
        <BoardBar board={board} listed={listed} onListed={setListed} picked={picked} onPick={setPicked} />
        {listed ? (
          <PartsList parts={bench.parts} />
        ) : (
          <>
            {view ? (
              <PlanMap
                view={view}
                step={step}
                done={done}
                picked={picked}
                onPick={setPicked}
                board={board}
                lighted={lighted}
              />
            ) : (
              <p className="map-empty" role="status">
                {board.step?.problems?.length ? "No plan yet." : "Planning the board …"}
              </p>
            )}
            {view && <Beside plan={view.plan} step={step} />}
            {step && (
              <div className="step-foot">
                <section className="leg-card">
                  <div className="toggle" role="group" aria-label="About this step">
                    {(Object.keys(ABOUT) as About[]).map((which) => (
                      <button key={which} aria-pressed={about === which} onClick={() => setAbout(which)}>
                        {ABOUT[which]}
                      </button>
                    ))}
                  </div>
                  {about === "wrong" && view ? (
                    <Mistakes view={view} step={step} />
                  ) : about === "schematic" ? (
                    <PartInSchematic parts={bench.parts} shown={picked ?? step.key ?? ""} onPick={pickPart} />
                  ) : (
                    <LegCard bench={bench} part={bench.parts.find((p) => p.ref === step.part)} step={step} />
                  )}
                </section>
                <StepCard
                  step={step}
                  number={current + 1}
                  of={steps.length}
                  next={steps[current + 1]}
                  done={done.has(step.id)}
                  onDone={forward}
                  onBack={() => setAt(Math.max(0, current - 1))}
                  onUndone={() => void tick(step.id, false)}
                />
              </div>
            )}
          </>
        )}
      </section>
      <BenchSheet id={opened.id} name={opened.name} steps={steps} done={done} plans={bench.plans} />
    </div>
  );
}

function PlanMap({
  view,
  step,
  done,
  picked,
  onPick,
  board,
  lighted,
}: {
  lighted: boolean;
  view: S["BoardView"];
  step: S["Step"] | undefined;
  done: ReadonlySet<string>;
  picked: string | null;
  onPick: (part: string | null) => void;
  board: ReturnType<typeof useBoard>;
}) {
  const { lit } = useMoment();
  const volts = useVolts();
  const narrow = useNarrow();
  const wires = new Map(view.steps.filter((s) => s.wire).map((s) => [s.wire!, s.id]));
  const keyed = new Map(view.steps.filter((s) => s.key && s.action !== "check").map((s) => [s.key!, s.id]));
  const stateOf = (id: string): State => {
    if (step && (step.wire === id || step.key === id)) return "now";
    const of = wires.get(id) ?? keyed.get(id) ?? `${id}.place`;
    return done.has(of) ? "done" : "later";
  };
  const live = new Set(
    view.plan.placings
      .filter((p) => lighted && lit.has(p.ref))
      .flatMap((p) => p.legs.map((l) => l.net ?? "")),
  );
  live.delete("");
  const wrong = new Set(view.findings.flatMap((f) => [f.part ?? "", ...(f.nets ?? [])]));
  wrong.delete("");
  return (
    <StripMap
      key={narrow ? step?.id : undefined}
      close={narrow}
      sheet={view.sheet}
      words={view.words}
      says={view.findings.length === 0 ? (board.step?.says ?? "") : ""}
      volts={volts}
      stateOf={stateOf}
      live={live}
      wrong={wrong}
      pinned={new Set(view.plan.pinned)}
      picked={picked}
      onPick={onPick}
      onMove={narrow ? undefined : (part, along, rows, leg) => void board.move({ part, along, rows, leg })} // a thumb moves the map, not the parts
      onTurn={(part) => void board.move({ part, turned: true })}
    />
  );
}

function StepCard({
  step,
  number,
  of,
  next,
  done,
  onDone,
  onBack,
  onUndone,
}: {
  step: S["Step"];
  number: number;
  of: number;
  next: S["Step"] | undefined;
  done: boolean;
  onDone: () => void;
  onBack: () => void;
  onUndone: () => void;
}) {
  const named = (step.seats ?? []).some((s) => s.leg);
  return (
    <div className="step-card">
      <h3>
        <span className="value">{number}</span> {step.title} <small>of {of}</small>
      </h3>
      <p>{step.detail}</p>
      {named && (
        <dl className="seats">
          {step.seats!.map((s, k) => (
            <div key={k}>
              <dt>{s.leg}</dt>
              <dd className="value">{s.seat}</dd>
            </div>
          ))}
        </dl>
      )}
      {step.expect && (
        <p className="expect">
          Expect <b className="value">{step.expect}</b>
        </p>
      )}
      <div className="actions">
        <button className="primary" onClick={onDone}>
          {(SAID[step.action] ?? (() => "Done"))(step)} <kbd>Enter</kbd>
        </button>
        <button className="secondary" disabled={number === 1} onClick={onBack}>
          Back
        </button>
        {done && (
          <button className="link" onClick={onUndone}>
            Not done after all
          </button>
        )}
      </div>
      {next && (
        <p className="then">
          <StepIcon action={next.action} /> Then {number + 1}: {next.title}{" "}
          {next.expect && <b className="value">{next.expect}</b>}
        </p>
      )}
    </div>
  );
}
