// One event as fields: typed in shorthand, refused at its field, kept until it is right.
import { useState } from "react";
import { Popover } from "@mui/material";
import type { Problem, S } from "../../api/client";
import { show } from "../../drawing/format";
import { VERBS, type Event } from "./script";

type Props = {
  event: Partial<Event> & { do: string };
  index: number; // its place in the script, or -1 for a new one
  anchor: { x: number; y: number };
  rehearsal: S["Rehearsal"];
  onTake: (event: Record<string, unknown>) => Promise<Problem[] | null>;
  onRemove: (() => void) | null;
  onClose: () => void;
};

const UNITS: Record<string, string> = {
  at: "s",
  until: "s",
  over: "s",
  ramp: "s",
  hold: "s",
  volts: "V",
  resistance: "Ω",
};

export function EventEditor({ event, index, anchor, rehearsal, onTake, onRemove, onClose }: Props) {
  const verb = VERBS[event.do]!;
  const told = (key: string) => {
    const value = (event as Record<string, unknown>)[key];
    return typeof value === "number" ? show(value, UNITS[key] ?? "", 4) : String(value ?? "");
  };
  const [typed, setTyped] = useState<Record<string, string>>(
    Object.fromEntries(verb.fields.map(([key]) => [key, told(key)])),
  );
  const [problems, setProblems] = useState<Problem[]>([]);
  const lists: Record<string, readonly string[]> = {
    part: rehearsal.parts,
    red: rehearsal.nodes,
    black: ["0", ...rehearsal.nodes],
  };
  const take = async () => {
    const found = await onTake({ ...event, ...typed });
    if (found) setProblems(found);
    else onClose();
  };
  return (
    <Popover
      open
      onClose={onClose}
      anchorReference="anchorPosition"
      anchorPosition={{ left: anchor.x, top: anchor.y }}
    >
      <form
        className="event-editor"
        onSubmit={(e) => {
          e.preventDefault();
          void take();
        }}
        aria-label={verb.title}
      >
        <h3>{verb.title}</h3>
        {verb.fields.map(([key, label]) => {
          const problem = problems.find((p) => p.field.endsWith(`.${key}`));
          const choices =
            verb.choices?.[key] ?? lists[key]?.map((n) => [n, n === "0" ? "0 V" : n] as [string, string]);
          const set = (value: string) => {
            setTyped({ ...typed, [key]: value });
            setProblems([]);
          };
          return (
            <label key={key}>
              <span>{label}</span>
              {choices ? (
                <select value={typed[key]} onChange={(e) => set(e.target.value)}>
                  {choices.map(([value, words]) => (
                    <option key={value} value={value}>
                      {words}
                    </option>
                  ))}
                </select>
              ) : (
                <input
                  autoFocus={key === "at"}
                  value={typed[key]}
                  aria-invalid={!!problem}
                  onChange={(e) => set(e.target.value)}
                  onFocus={(e) => e.target.select()}
                />
              )}
              {problem && (
                <em role="alert">
                  {problem.message}{" "}
                  {problem.suggestion && (
                    <button type="button" className="link" onClick={() => set(problem.suggestion!)}>
                      Use {problem.suggestion}
                    </button>
                  )}
                </em>
              )}
            </label>
          );
        })}
        {problems
          .filter((p) => !verb.fields.some(([key]) => p.field.endsWith(`.${key}`)))
          .map((p) => (
            <em key={p.message} role="alert">
              {p.message}
            </em>
          ))}
        <div className="actions">
          <button type="submit" className="primary">
            {index < 0 ? "Add it" : "Change it"}
          </button>
          {onRemove && (
            <button type="button" className="link" onClick={onRemove}>
              Remove
            </button>
          )}
          <button type="button" className="link" onClick={onClose}>
            Leave it
          </button>
        </div>
      </form>
    </Popover>
  );
}
