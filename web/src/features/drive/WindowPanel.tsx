// One part's value: typed, dragged or stepped, tried beside the one in use; an empty window says why and offers.
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { call, client, type Problem, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { show, showPart } from "../../drawing/format";
import { Formula } from "../../drawing/Formula";
import { Ruler } from "../../drawing/Ruler";
import { EntryProblem } from "../workspace/Entry";
import { Explained } from "../terms";
import { useWorkspace } from "../workspace/useDesign";
import { useDraft } from "../workspace/useDraft";

const SERIES: Record<NonNullable<S["Design"]["series"]>, string> = {
  E12: "E12",
  E24: "E24",
  E96: "E96",
  drawer: "only my drawer",
};

/** Which values are suggested, in the whole design. */
function SeriesChoice() {
  const { opened, commit } = useWorkspace();
  return (
    <label className="series">
      Values from
      <select
        value={opened.document.series ?? "E24"}
        onChange={(e) =>
          void commit([{ path: "series", value: e.target.value }], `Values from ${e.target.value}`)
        }
      >
        {Object.entries(SERIES).map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

export function WindowPanel({ window: live, onClose }: { window: S["Window"]; onClose: () => void }) {
  const { opened, trying, tryOut, commit, settled } = useWorkspace();
  // Limits follow what is tried; the value in use stays the saved one.
  const w = {
    ...live,
    present: (settled.evaluation.windows.find((s) => s.path === live.path) ?? live).present,
  };
  const tried = trying?.find((c) => c.path === w.path)?.value;
  const value = typeof tried === "number" ? tried : (w.present ?? w.suggested ?? w.high?.value ?? 1000);
  // What else could be done is worked out when an empty window is looked at.
  const asked = useQuery({
    queryKey: ["windows", opened.id, opened.stamp, w.block],
    queryFn: () =>
      call(
        client.POST("/api/windows", {
          body: { document: opened.document as unknown as Record<string, unknown>, block: w.block },
        }),
      ),
    enabled: w.gap != null,
  });
  const offers = asked.data?.windows.find((o) => o.path === w.path)?.offers ?? w.offers ?? [];
  const [text, setText] = useDraft(`draft:${opened.id}:${w.path}`);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [showWhy, setShowWhy] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.focus(), [w.path]);
  const ticks = (w.ticks ?? []).map((t) => t.value);
  const stock = new Map((w.ticks ?? []).filter((t) => t.stock > 0).map((t) => [t.value, t.stock]));
  const put = async (v: unknown) => {
    const problems = await commit([{ path: w.path, value: v }]);
    setProblem(problems?.[0] ?? null);
    if (!problems) setText(null);
  };
  const keep = () => {
    tryOut(null);
    setText(null);
    setProblem(null);
  };
  const near = [...stock.keys()]
    .sort((a, b) => Math.abs(Math.log(a / value)) - Math.abs(Math.log(b / value)))
    .slice(0, 3)
    .sort((a, b) => a - b);
  const outside =
    (w.gap == null &&
      ((w.low && value < w.low.value && w.low) || (w.high && value > w.high.value && w.high))) ||
    null;
  const kept = w.present == null ? "not fitted" : `${showPart(w.present)} ${w.unit}`;
  const bounds = [w.low, w.high, ...w.others].filter((b): b is S["Bound"] => b != null);
  return (
    <section
      className="window-panel"
      aria-label={`${w.ref}, ${w.title}`}
      onKeyDown={(e) => e.key === "Escape" && (trying || text !== null ? keep() : onClose())}
    >
      <header>
        <h3>
          {w.ref}, {w.title}
        </h3>
        <span className={`typed ${problem ? "refused" : ""}`}>
          <input
            ref={input}
            aria-label={`${w.ref} value in ${w.unit}`}
            value={
              text ?? (tried !== undefined ? showPart(value) : w.present == null ? "" : showPart(w.present))
            }
            aria-invalid={!!problem}
            onChange={(e) => {
              setText(e.target.value);
              setProblem(null);
            }}
            onKeyDown={(e) => {
              if (e.key === "Enter") void put(text ?? value);
            }}
          />
          <i>{w.unit}</i>
        </span>
        <button
          className="icon"
          aria-label="Close the window"
          onClick={() => {
            keep();
            onClose();
          }}
        >
          ✕
        </button>
      </header>
      {problem && <EntryProblem problem={problem} kept={kept} onUse={(t) => void put(t)} />}
      <Ruler
        window={w}
        stock={stock}
        ticks={ticks}
        value={value}
        onTry={(v) => {
          setText(null);
          tryOut(v === w.present ? null : [{ path: w.path, value: v }]);
        }}
        onTake={(v) => void put(v)}
      />
      <p className="standing">
        {w.gap != null ? (
          <>
            <Glyph standing="fails" />{" "}
            <b className="fails">No value fits: the two limits are {show(w.gap, w.unit)} apart.</b>
          </>
        ) : outside ? (
          <>
            <Glyph standing={outside.soft ? "tight" : "fails"} />{" "}
            <b className={outside.soft ? "tight" : "fails"}>
              {outside.soft ? "Outside good practice" : "Outside"}: {outside.title} (
              {outside.side === "low" ? "at least" : "at most"} {show(outside.value, w.unit)}).
            </b>
          </>
        ) : w.present == null && tried === undefined ? (
          <>
            <Glyph standing="unknown" /> Not fitted.{" "}
            {w.suggested != null && `${showPart(w.suggested)} ${w.unit} would do.`}
          </>
        ) : (
          <>
            <Glyph standing="fits" /> Inside its window.
          </>
        )}
      </p>
      <div className="chips" role="group" aria-label="Nearest in the drawer">
        <span>Nearest in drawer:</span>
        {near.map((v) => (
          <button key={v} aria-pressed={v === value} onClick={() => void put(v)}>
            <b className="value">{showPart(v)}</b>
            <small>{stock.get(v)}</small>
          </button>
        ))}
        {near.length === 0 && <span>none</span>}
        <SeriesChoice />
      </div>
      <div className="actions">
        {trying ? (
          <>
            <button className="primary" onClick={() => void put(value)}>
              Use {showPart(value)} {w.unit} <kbd>Enter</kbd>
            </button>
            <button className="secondary" onClick={keep}>
              Keep {kept} <kbd>Esc</kbd>
            </button>
          </>
        ) : (
          <>
            {w.suggested != null && w.suggested !== w.present && (
              <button className="secondary" onClick={() => void put(w.suggested)}>
                Use {showPart(w.suggested)} {w.unit}
              </button>
            )}
            {w.removable && w.present != null && (
              <button className="link" onClick={() => void put(null)}>
                Leave it out
              </button>
            )}
            <button className="link" aria-expanded={showWhy} onClick={() => setShowWhy(!showWhy)}>
              Why these limits
            </button>
          </>
        )}
      </div>
      {showWhy && (
        <ul className="bounds">
          {bounds.map((b) => (
            <li key={b.side + b.title}>
              <b>
                {b.side === "low" ? "At least" : "At most"}{" "}
                <span className="value">{show(b.value, w.unit)}</span>
              </b>{" "}
              {b.title}
              <p className="value">
                <Formula text={`${b.working.formula}: ${b.working.substituted}`} />
              </p>
              <small>
                <Explained text={b.working.reason} />
              </small>
            </li>
          ))}
        </ul>
      )}
      {w.gap != null && offers.length > 0 && (
        <ul className="offers" aria-label="What to try">
          {offers.map((o) => (
            <li key={o.title}>
              <Glyph standing={o.standing} />
              <span>
                <b>{o.title}</b>
                <small className="value">{o.detail}</small>
              </span>
              {o.stock != null && (
                <small>
                  drawer <b className="value">{o.stock}</b>
                </small>
              )}
              {o.changes && o.changes.length > 0 && (
                <button className="do" onClick={() => void commit(o.changes, o.title)}>
                  Use
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
