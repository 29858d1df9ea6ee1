// One event as fields: typed in shorthand, refused at its field, kept until it is right.
import { useState } from "react";
import { Popover } from "@mui/material";
import type { Problem, S } from "../../api/client";
import { show } from "../../drawing/format";
import type { Event } from "./script";

type Props = {
  event: Partial<Event> & { do: string };
  index: number; // its place in the script, or -1 for a new one
  anchor: { x: number; y: number };
  verb: S["Verb"];
  onTake: (event: Record<string, unknown>) => Promise<Problem[] | null>;
  onRemove: (() => void) | null;
  onClose: () => void;
};

export function EventEditor({ event, index, anchor, verb, onTake, onRemove, onClose }: Props) {
  const told = (field: S["AskedFor"]) => {
    const value = (event as Record<string, unknown>)[field.name];
    return typeof value === "number" ? show(value, field.unit, 4) : String(value ?? "");
  };
  const [typed, setTyped] = useState<Record<string, string>>(
    Object.fromEntries(verb.fields.map((f) => [f.name, told(f)])),
  );
  const [problems, setProblems] = useState<Problem[]>([]);
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
        {verb.fields.map(({ name: key, label, choices }) => {
          const problem = problems.find((p) => p.field.endsWith(`.${key}`));
          const set = (value: string) => {
            setTyped({ ...typed, [key]: value });
            setProblems([]);
          };
          return (
            <label key={key}>
              <span>{label}</span>
              {choices.length > 0 ? (
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
          .filter((p) => !verb.fields.some((f) => p.field.endsWith(`.${f.name}`)))
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
