// A trimmer that is set by the volts at which it acts: how to read them, and after each reading where to turn it.
import { useEffect, useState } from "react";
import { call, client, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { useWorkspace } from "../workspace/useDesign";

const TRIES = 3;
const volts = (text: string) => Number(text.trim().replace(",", ".").replace(/\s*V$/i, ""));
const wrong = (text: string) => text.trim() !== "" && !(volts(text) > 0 && volts(text) < 1000);

export function CalibratePane() {
  const { opened, commit, answer } = useWorkspace();
  const [typed, setTyped] = useState<string[]>(() => Array.from({ length: TRIES }, () => ""));
  const [told, setTold] = useState<S["Calibration"] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const readings = typed.filter((t) => t.trim() !== "" && !wrong(t)).map(volts);
  const asked = JSON.stringify(readings);
  const { document } = opened;
  useEffect(() => {
    let here = true;
    const body = { document, readings: JSON.parse(asked) as number[] } as unknown as S["ReadingsIn"];
    call(client.POST("/api/calibrate", { body }))
      .then((found) => {
        if (!here) return;
        setTold(found);
        setProblem(null);
      })
      .catch((e: unknown) => here && setProblem(e instanceof Error ? e.message : "It did not answer."));
    return () => {
      here = false;
    };
  }, [asked, document]);
  const path = answer.evaluation.turns[0]?.path;
  const turn = told?.turn;
  const set = (k: number, text: string) => setTyped((t) => t.map((old, n) => (n === k ? text : old)));
  return (
    <section className="calibrate" aria-label="Set the trimmer">
      <h3>Set the trimmer</h3>
      {problem && <p role="alert">{problem}</p>}
      <ol>
        {told?.steps.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ol>
      <div className="tries">
        {typed.map((text, k) => (
          <label key={k}>
            Off at, try {k + 1}
            <input
              className="value"
              inputMode="decimal"
              value={text}
              placeholder="V"
              aria-invalid={wrong(text)}
              onChange={(x) => set(k, x.target.value)}
            />
            {wrong(text) && <small className="fails">Volts, such as 10.62</small>}
          </label>
        ))}
      </div>
      {told && readings.length > 0 && (
        <p role="status">
          <Glyph standing={told.done ? "proven" : "unknown"} /> {told.says}
        </p>
      )}
      {path && turn != null && !told?.done && readings.length > 0 && (
        <button
          className="secondary"
          onClick={() => {
            void commit([{ path, value: turn }], `Turned to ${turn}%`);
            setTyped(typed.map(() => ""));
          }}
        >
          Turned to {turn}%, try again
        </button>
      )}
    </section>
  );
}
