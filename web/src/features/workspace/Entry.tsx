// A value in a sentence: click or type, Enter takes it, Esc keeps the old one; a half-typed entry survives the browser.
import { useRef, useState } from "react";
import type { Problem, S } from "../../api/client";
import { useWorkspace } from "./useDesign";
import { useDraft } from "./useDraft";

type Field = S["Field"];

export function EntryProblem({
  problem,
  kept,
  onUse,
}: {
  problem: Problem;
  kept: string;
  onUse: (text: string) => void;
}) {
  return (
    <div className="entry-problem" role="alert">
      <svg width={16} height={14} viewBox="-10.5 -9.5 21 19" aria-hidden>
        <path d="M-4.6 -8h9.2L9.2 0L4.6 8h-9.2L-9.2 0z" fill="none" stroke="var(--fails)" strokeWidth={2} />
        <path d="M0 -4.5V1.5M0 4v1" stroke="var(--fails)" strokeWidth={2.4} />
      </svg>
      <span>
        <b>{problem.message}</b>{" "}
        {problem.suggestion && (
          <button className="link" onClick={() => onUse(problem.suggestion!)}>
            Use {problem.suggestion}
          </button>
        )}{" "}
        The old value, <b className="value">{kept}</b>, stays in force.
      </span>
    </div>
  );
}

export function SentenceField({ field }: { field: Field }) {
  const { opened, commit } = useWorkspace();
  const [draft, setDraft] = useDraft(`draft:${opened.id}:${field.paths[0]}`);
  const [problem, setProblem] = useState<Problem | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const editing = draft !== null;
  const name = `${field.note}: ${field.text}`;

  const take = async (text: string) => {
    if (text.trim() === field.text) {
      setProblem(null);
      return setDraft(null);
    }
    const parts = field.paths.length > 1 ? text.split("/").map((p) => p.trim()) : [text.trim()];
    if (parts.length !== field.paths.length) {
      return setProblem({
        field: "",
        message: `${field.paths.length} values with slashes between are wanted.`,
        got: text,
        allowed: "",
        suggestion: field.text,
      });
    }
    const changes = field.paths.map((path, k) => ({ path, value: parts[k] as unknown }));
    const problems = await commit(changes);
    if (problems) {
      setProblem(problems[0] ?? null);
      setDraft(text);
      input.current?.focus();
    } else {
      setProblem(null);
      setDraft(null);
    }
  };
  if (field.choices.length > 0) {
    return (
      <span className="given">
        <select
          value={field.choices.find(([, words]) => words === field.text)?.[0]}
          aria-label={field.note}
          onChange={(e) => void commit([{ path: field.paths[0]!, value: e.target.value }])}
        >
          {field.choices.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
        <small>{field.note}</small>
      </span>
    );
  }
  return (
    <span
      className={`given ${field.origin === "assumed" ? "assumed" : ""} ${editing ? "editing" : ""} ${problem ? "refused" : ""}`}
    >
      {editing ? (
        <input
          ref={input}
          autoFocus
          aria-label={name}
          aria-invalid={!!problem}
          value={draft}
          style={{ width: `${Math.max(draft.length, 4) + 1.5}ch` }}
          onChange={(e) => {
            setDraft(e.target.value);
            setProblem(null);
          }}
          onBlur={() => {
            if (!problem && draft.trim() === field.text) setDraft(null);
            else if (!problem) void take(draft);
          }}
          onKeyDown={(e) => {
            if (e.key === "Enter") void take(draft);
            if (e.key === "Escape") {
              e.stopPropagation();
              setDraft(null);
              setProblem(null);
            }
          }}
        />
      ) : (
        <button onClick={() => setDraft(field.text)} aria-label={`${name}. Change it`}>
          {field.text}
        </button>
      )}
      <small>{field.note}</small>
      {problem && <EntryProblem problem={problem} kept={field.text} onUse={(t) => void take(t)} />}
    </span>
  );
}

export function Sentence({ facet }: { facet: string }) {
  const { answer } = useWorkspace();
  const parts = answer.evaluation.sentences[facet];
  if (!parts) return null;
  return (
    <div className="sentence" aria-label="Givens">
      {parts.map((p, k) =>
        p.type === "field" ? (
          <SentenceField key={`${(p as Field).paths[0]}-${k}`} field={p as Field} />
        ) : (
          <span key={k} className="said">
            {(p as S["Word"]).text}
          </span>
        ),
      )}
    </div>
  );
}
