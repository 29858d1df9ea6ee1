// The steps in their order, under the sub-circuit they belong to.
import { useEffect, useRef } from "react";
import type { S } from "../../api/client";
import { StepIcon } from "./StepIcon";

type Props = {
  steps: readonly S["Step"][];
  done: ReadonlySet<string>;
  current: number;
  built: number;
  onStep: (at: number) => void;
};

export function StepList({ steps, done, current, built, onStep }: Props) {
  const now = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    void now.current?.scrollIntoView({ block: "nearest" });
  }, [current]);
  return (
    <nav className="steps" aria-label="Build steps">
      <header>
        <h3>Steps</h3>
        <b className="value">
          {built} of {steps.length} done
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
            {s.group && s.group !== steps[k - 1]?.group && <h4>{s.group}</h4>}
            <button
              ref={k === current ? now : undefined}
              aria-current={k === current ? "step" : undefined}
              className={done.has(s.id) ? "done" : ""}
              onClick={() => onStep(k)}
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
  );
}
