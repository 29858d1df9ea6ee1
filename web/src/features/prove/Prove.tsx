// Prove: every rung with the band it should land in, fast entry, and the judgement. One rung a screen on a phone.
import { useEffect, useRef, useState } from "react";
import { call, client, Refused, type Problem, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { Rung } from "../../drawing/BandLadder";
import { useKeys } from "../find/keys";
import { readingsKept } from "../workspace/useBench";
import { useWorkspace } from "../workspace/useDesign";
import { useDraft } from "../workspace/useDraft";
import { CalibratePane } from "./CalibratePane";

const KEYS = ["7", "8", "9", "m", "4", "5", "6", "OL", "1", "2", "3", "±", ".", "0", "⌫", "Skip"];

export function Prove() {
  const { opened, bench, refreshBench, kept, setNotice, answer } = useWorkspace();
  const { calibrated } = answer.evaluation;
  const [at, setAt] = useState<number | null>(null);
  const [draft, setDraft] = useDraft(`draft:${opened.id}:reading`);
  const text = draft ?? "";
  const setText = (typed: string) => setDraft(typed || null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [supply, setSupply] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const rungs = bench?.progress.rungs ?? [];
  const here = readingsKept(kept.acts);
  const todo = (r: S["Rung"]) => !r.taken && !here.has(r.expected.id);
  const open = rungs.findIndex(todo);
  const current = at ?? (open < 0 ? 0 : open);
  const rung = rungs[current];
  useKeys("An empty reading", [
    { shown: "O", words: "over range" },
    { shown: "S", words: "skip it" },
    { shown: "U", words: "take the last one back" },
    { shown: "↑  ↓", words: "the reading before, after" },
    { shown: "Enter", words: "done, and the next reading" },
  ]);
  useEffect(() => input.current?.focus({ preventScroll: true }), [current]);
  if (bench && rungs.length === 0)
    return (
      <section className="empty">
        <h3>Nothing to read with a meter</h3>
        <p>
          {bench.steps.length === 0
            ? "There are no readings above 30 V AC or 60 V DC, or before the design is whole."
            : "It changes faster than a meter follows and slower than it averages. Count its rounds: Build’s last check says how long they should take."}
        </p>
      </section>
    );
  if (!bench || !rung) return <p className="empty">Working out what the meter should show …</p>;
  const path = { params: { path: { design_id: opened.id } } };
  const send = async (body: Partial<S["ReadingIn"]>) => {
    const problems = await kept.act({
      do: "reading",
      rung: rung.expected.id,
      text: "",
      over_range: false,
      skipped: false,
      ...body,
    });
    if (problems) return setProblem(problems[0] ?? null);
    setText("");
    setProblem(null);
    const next = rungs.findIndex((r, k) => k > current && todo(r));
    setAt(next >= 0 ? next : Math.min(current + 1, rungs.length - 1));
    input.current?.focus();
  };
  const undo = async () => {
    const problems = await kept.act({ do: "undo" });
    setNotice(problems?.[0]?.message ?? "Last reading taken back.");
  };
  const press = (k: string) => {
    if (k === "OL") void send({ over_range: true });
    else if (k === "Skip") void send({ skipped: true });
    else if (k === "⌫") setText(text.slice(0, -1));
    else if (k === "±") setText(text.startsWith("-") ? text.slice(1) : `-${text}`);
    else setText(text + k);
  };
  const saveSupply = async () => {
    if (supply === null) return;
    try {
      refreshBench(
        await call(client.PUT("/api/designs/{design_id}/supply", { ...path, body: { text: supply } })),
      );
      setSupply(null);
      setProblem(null);
    } catch (error) {
      if (error instanceof Refused) setProblem(error.problems[0] ?? null);
    }
  };
  const p = bench.progress;
  const e = rung.expected;
  const entry = (
    <div className="entry">
      <div className="entry-row">
        <label className={`big ${problem ? "refused" : ""}`}>
          <input
            ref={input}
            aria-label={`Reading at ${e.probe.title}, ${e.words}`}
            inputMode="none"
            value={text}
            placeholder={rung.text}
            aria-invalid={!!problem}
            onChange={(x) => {
              setText(x.target.value);
              setProblem(null);
            }}
            onKeyDown={(x) => {
              const empty = text === "";
              if (x.key === "Enter") {
                x.preventDefault();
                void (empty ? setAt(Math.min(current + 1, rungs.length - 1)) : send({ text }));
              } else if (empty && /^[oO]$/.test(x.key)) {
                x.preventDefault();
                void send({ over_range: true });
              } else if (empty && /^[sS]$/.test(x.key)) {
                x.preventDefault();
                void send({ skipped: true });
              } else if (empty && /^[uU]$/.test(x.key)) {
                x.preventDefault();
                void undo();
              } else if (x.key === "ArrowDown") {
                x.preventDefault();
                setAt(Math.min(current + 1, rungs.length - 1));
              } else if (x.key === "ArrowUp") {
                x.preventDefault();
                setAt(Math.max(current - 1, 0));
              }
            }}
          />
          <i>{e.unit}</i>
        </label>
        <button
          className="primary"
          onClick={() => (text ? void send({ text }) : setAt(Math.min(current + 1, rungs.length - 1)))}
        >
          Save, next <kbd>Enter</kbd>
        </button>
      </div>
      {problem && (
        <p className="entry-problem" role="alert">
          <b>{problem.message}</b>{" "}
          {problem.suggestion && (
            <button className="link" onClick={() => setText(problem.suggestion!.replace(/\s?[VA]$/, ""))}>
              Use {problem.suggestion}
            </button>
          )}
        </p>
      )}
      <p className="keys">
        <kbd>O</kbd> over range <kbd>S</kbd> skip <kbd>U</kbd> undo{" "}
        <span className="value">12m, 0.012 and .012 all work</span>
      </p>
      <div className="pad" aria-label="Keypad">
        {KEYS.map((k) => (
          <button
            key={k}
            onClick={() => press(k)}
            className={["m", "OL", "±", "Skip"].includes(k) ? "side" : ""}
          >
            {k}
          </button>
        ))}
      </div>
    </div>
  );
  return (
    <div className="prove">
      <section className="ladder" aria-label="Readings">
        <p className="supply-line">
          The supply reads{" "}
          {supply === null ? (
            <button className="value given-button" onClick={() => setSupply(bench.supply_text)}>
              {bench.supply_text}
            </button>
          ) : (
            <input
              autoFocus
              aria-label="Supply reading in volts"
              className="value given-input"
              value={supply}
              onChange={(x) => setSupply(x.target.value)}
              onBlur={() => void saveSupply()}
              onKeyDown={(x) => {
                if (x.key === "Enter") void saveSupply();
                if (x.key === "Escape") setSupply(null);
              }}
            />
          )}{" "}
          , so each band below is worked out for that.
        </p>
        <div className="ladder-head">
          <span>Where to probe</span>
          <span>should land in here</span>
          <span>you read</span>
        </div>
        <ol>
          {rungs.map((r, k) => (
            <li key={r.expected.id} className={k === current ? "now" : ""}>
              <button onClick={() => setAt(k)} aria-current={k === current ? "step" : undefined}>
                <span className="no value">{k + 1}</span>
                <span className="where">
                  <b>{r.expected.probe.title}</b>
                  <small>{r.expected.words}</small>
                </span>
                <span className="band">
                  <small className="value lo">{r.expected.low_text}</small>
                  <small className="value hi">{r.expected.high_text}</small>
                  <Rung place={r.place} standing={r.judged?.standing ?? null} />
                </span>
                <span className="read">
                  <b className="value">{here.get(r.expected.id) ?? r.text}</b>
                  {here.has(r.expected.id) && <small>kept here</small>}
                  {r.judged && r.judged.standing === "outside" && (
                    <small className="fails">{r.judged.text}</small>
                  )}
                </span>
                {r.judged ? <Glyph standing={r.judged.standing} /> : <Glyph standing="unknown" />}
              </button>
            </li>
          ))}
        </ol>
      </section>
      <section className="probe-now" aria-label="This reading">
        <h3>
          <span className="value">{current + 1}</span> {e.probe.title}, {e.words}
        </h3>
        <p className="leads">
          <span className="lead red">red: {e.probe.red}</span>
          <span className="lead black">black: {e.probe.black}</span>
        </p>
        <p className="should">
          Should read{" "}
          <b className="value">
            {e.low_text} to {e.high_text}
          </b>
          {e.unit === "A" ? ". Meter in series, on its amps jack." : "."}
        </p>
        {entry}
        <p className="judgement" role="status">
          {p.outside > 0 ? (
            <>
              <Glyph standing="fails" />{" "}
              <b className="fails">
                {p.outside} of {rungs.length} outside.
              </b>{" "}
              Read those again; if they stay, the build differs from the design. Naming suspects comes in a
              later version.
            </>
          ) : p.left === 0 ? (
            <>
              <Glyph standing="proven" /> <b>All {rungs.length} inside. Proven.</b>
            </>
          ) : (
            <>
              <Glyph standing="unknown" progress={p.inside / Math.max(rungs.length, 1)} /> {p.inside} inside,{" "}
              {p.left} left.
            </>
          )}
        </p>
        {calibrated && <CalibratePane />}
      </section>
    </div>
  );
}
