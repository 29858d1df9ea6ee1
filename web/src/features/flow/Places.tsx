// What would fit around the picked block, each judged in this design; tried first, then taken or left.
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import { call, client, type Problem, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { Explained } from "../terms";
import { useWorkspace } from "../workspace/useDesign";
import { usePicked } from "./picked";

const FEW = 3; // choices shown at each place at first
const VERBS: Record<S["Place"]["where"], string> = {
  before: "Insert",
  instead: "Exchange",
  after: "Insert",
  beside: "Add",
  rail: "Insert",
};
const nameOf = (choice: S["PlaceChoice"]) => `${choice.offer.kind} ${choice.offer.block}`;

export function Places({ block }: { block: string }) {
  const { opened, tryOut, trying, commit } = useWorkspace();
  const { where, pick } = usePicked();
  const [tried, setTried] = useState<string | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const panel = useRef<HTMLElement>(null);
  const found = useQuery({
    queryKey: ["places", opened.id, opened.stamp, block],
    queryFn: () =>
      call(
        client.POST("/api/places", {
          body: { document: opened.document as unknown as Record<string, unknown>, block },
        }),
      ),
    placeholderData: (old) => (old?.block === block ? old : undefined),
  });
  const all = found.data;
  const leave = () => {
    setTried(null);
    setProblem(null);
    tryOut(null);
    if (where) pick(block);
  };
  const close = () => {
    tryOut(null);
    pick(null);
  };
  const attempt = (choice: S["PlaceChoice"]) => {
    setTried(nameOf(choice));
    tryOut(choice.offer.changes);
  };
  const take = async (choice: S["PlaceChoice"], label: string, gone: boolean) => {
    const problems = await commit(choice.offer.changes, label);
    if (problems) return setProblem(problems[0] ?? null);
    setTried(null);
    if (gone) pick(null);
  };
  // The place that was asked for comes into view; asked to remove, its effect is told first.
  const removal = all?.removal;
  const now = tried ?? (where === "remove" && removal ? nameOf(removal) : null);
  const told = useRef("");
  useEffect(() => {
    const asked = `${block} ${where}`;
    if (!all || told.current === asked) return;
    told.current = asked;
    const first = panel.current?.querySelector<HTMLElement>(
      `[data-where="${where ?? "instead"}"] .choice-head`,
    );
    first?.focus();
    first?.scrollIntoView({ block: "nearest" });
    if (where === "remove" && removal) tryOut(removal.offer.changes);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [all, where, block]);
  // Leaving the panel leaves what was being tried.
  useEffect(() => () => tryOut(null), [block, tryOut]);

  const choiceProps = (choice: S["PlaceChoice"], verb: string, label: string, gone = false) => ({
    choice,
    verb,
    tried: now === nameOf(choice) && trying !== null,
    onTry: () => (now === nameOf(choice) ? leave() : attempt(choice)),
    onTake: () => void take(choice, label, gone),
    onLeave: leave,
    problem: now === nameOf(choice) ? problem : null,
  });
  return (
    <section
      className="places"
      aria-label={`Around the ${all?.title ?? "block"}`}
      ref={panel}
      onKeyDown={(e) => {
        if (e.key !== "Escape") return;
        e.stopPropagation();
        if (now) leave();
        else close();
      }}
    >
      <header>
        <h2>
          {all?.title ?? "…"} <small>what would fit around it</small>
        </h2>
        <button className="icon" aria-label="Close" title="Close  Esc" onClick={close}>
          ✕
        </button>
      </header>
      {found.isPending && <p role="status">Trying what fits …</p>}
      {found.error && (
        <p role="alert" className="fails">
          No answer from the server.{" "}
          <button className="link" onClick={() => void found.refetch()}>
            Try again
          </button>
        </p>
      )}
      {all?.places.map((p, k) => (
        <PlaceList key={`${p.where}${k}`} place={p} open={p.where === where}>
          {(c) => (
            <ChoiceRow
              key={nameOf(c)}
              {...choiceProps(c, VERBS[p.where], `${c.offer.title}: ${p.title.toLowerCase()}`)}
            />
          )}
        </PlaceList>
      ))}
      {removal && (
        <div className="removal" data-where="remove">
          <ChoiceRow
            {...choiceProps(removal, "Take it out", `${removal.offer.title} taken out`, true)}
            removal
          />
        </div>
      )}
    </section>
  );
}

function PlaceList({
  place,
  open,
  children,
}: {
  place: S["Place"];
  open: boolean;
  children: (choice: S["PlaceChoice"]) => React.ReactNode;
}) {
  const [all, setAll] = useState(false);
  const good = place.choices.filter((c) => c.offer.standing !== "fails").length;
  const few = Math.max(1, Math.min(FEW, good));
  const shown = all ? place.choices : place.choices.slice(0, few);
  const more = place.choices.length - few;
  return (
    <section className={`place ${open ? "asked" : ""}`} data-where={place.where}>
      <h3>
        {place.title} <small>{place.note}</small>
      </h3>
      {more > 0 && (
        <button className="link" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? "Fewer" : `${more} more`}
        </button>
      )}
      <ul>{shown.map(children)}</ul>
    </section>
  );
}

function ChoiceRow({
  choice,
  verb,
  tried,
  onTry,
  onTake,
  onLeave,
  problem,
  removal,
}: {
  choice: S["PlaceChoice"];
  verb: string;
  tried: boolean;
  onTry: () => void;
  onTake: () => void;
  onLeave: () => void;
  problem: Problem | null;
  removal?: boolean;
}) {
  const { offer, effects } = choice;
  const enter = (e: KeyboardEvent) => {
    if (e.key !== "Enter" || !tried) return;
    e.preventDefault();
    onTake();
  };
  const Row = removal ? "div" : "li";
  return (
    <Row className={tried ? "choice tried" : "choice"}>
      <button className="choice-head" aria-pressed={tried} onClick={onTry} onKeyDown={enter}>
        {!removal && <Glyph standing={offer.standing ?? "unknown"} size={18} />}
        <span>
          <b>{removal ? "Remove it" : offer.title}</b> {removal && <kbd>Del</kbd>}
          <small>
            {removal ? effects.map((e) => `${e.word.toLowerCase()} ${e.text}`).join("; ") : offer.note}
          </small>
          {removal && offer.note && <small className="fails">{offer.note}</small>}
        </span>
        {offer.stock > 0 && (
          <small>
            drawer <b className="value">{offer.stock}</b>
          </small>
        )}
      </button>
      {tried && (
        <div className="effects">
          {!removal &&
            effects.map((e) => (
              <p key={e.word} className={e.word === "Breaks" ? "fails" : ""}>
                <b>{e.word}</b> {e.text}
              </p>
            ))}
          {!removal && (
            <p className="purpose">
              <Explained text={offer.purpose} />
            </p>
          )}
          {problem && (
            <p role="alert" className="fails">
              {problem.message}
            </p>
          )}
          <div className="actions">
            <button className="primary" onClick={onTake}>
              {verb} <kbd>Enter</kbd>
            </button>
            <button
              className="secondary"
              onClick={(e) => {
                e.currentTarget.closest(".choice")?.querySelector<HTMLElement>(".choice-head")?.focus();
                onLeave();
              }}
            >
              Leave it <kbd>Esc</kbd>
            </button>
          </div>
        </div>
      )}
    </Row>
  );
}
