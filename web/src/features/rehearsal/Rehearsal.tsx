// The rehearsal strip: live waveforms of the design under a script; its cursor sets what the schematic lights.
import { Menu, MenuItem } from "@mui/material";
import { useEffect, useMemo, useState } from "react";
import { ask, type S } from "../../api/client";
import { Lanes, shownValue, valueAt, type EventHandles } from "../../drawing/Lanes";
import { useCell } from "../../drawing/cell";
import { show } from "../../drawing/format";
import { useKeys } from "../find/keys";
import { useDesk } from "../workspace/desk";
import { useWorkspace } from "../workspace/useDesign";
import { EventEditor } from "./EventEditor";
import { OWN, useScript, type Event } from "./script";
import { useSpread } from "./useSpread";

export type Moment = {
  lit: ReadonlySet<string>; // references of what conducts
  values: ReadonlyMap<string, number>; // by lane
  closed: ReadonlySet<string>; // references whose contact is made
};

/** The cursor's time, within what was run. */
export function useNow(): number {
  const { answer } = useWorkspace();
  return Math.min(useCell(useDesk().cursor), answer.rehearsal?.stop ?? Infinity);
}

/** What the schematic needs for one moment, read off the core's lanes. */
export function useMoment(): Moment {
  const { answer } = useWorkspace();
  const r = answer.rehearsal;
  const cursor = useNow();
  return useMemo(() => {
    const now = (spells: readonly S["Spell"][]) =>
      new Set(spells.filter((c) => c.spans.some(([a, b]) => cursor >= a && cursor <= b)).map((c) => c.ref));
    const lanes = r?.lanes.filter((l) => !l.digital) ?? [];
    const values = new Map(lanes.map((l) => [l.id, valueAt(l, cursor)]));
    return { lit: now(r?.conducting ?? []), values, closed: now(r?.closed ?? []) };
  }, [r, cursor]);
}

/** The quantity that stands for the whole run: the load's current, where one is watched. */
const mainLane = (r: S["Rehearsal"]) => r.lanes.find((l) => l.unit === "A") ?? r.lanes[0]!;

export type Size = "folded" | "open" | "large";
type Props = { size: Size; onSize: (size: Size) => void };

const Icon = ({ d, filled }: { d: string; filled?: boolean }) => (
  <svg width={16} height={16} viewBox="0 0 16 16" aria-hidden>
    <path d={d} fill={filled ? "currentColor" : "none"} stroke="currentColor" strokeWidth={2} />
  </svg>
);

export function RehearsalStrip({ size, onSize }: Props) {
  const { answer, opened, settled, trying, setScript, undo } = useWorkspace();
  const { cursor } = useDesk();
  const [span, setSpan] = useState<[number, number] | null>(null);
  const [playing, setPlaying] = useState(false);
  const [editing, setEditing] = useState<{
    event: Partial<Event> & { do: string };
    index: number;
    anchor: { x: number; y: number };
  } | null>(null);
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const spread = useSpread();
  const own = useScript();
  const r = answer.rehearsal;
  const stop = r?.stop ?? 1;
  const events = r?.events ?? [];
  const open = size !== "folded";
  const next = (way: 1 | -1) => {
    const eps = stop * 1e-6;
    const found =
      way > 0
        ? events.find((e) => e > cursor.get() + eps)
        : [...events].reverse().find((e) => e < cursor.get() - eps);
    if (found !== undefined) cursor.set(found);
  };
  useEffect(() => {
    if (!playing) return;
    const begin = performance.now(),
      from = cursor.get() >= stop ? 0 : cursor.get();
    let frame = requestAnimationFrame(function step(now) {
      const t = from + ((now - begin) / 4000) * stop;
      cursor.set(Math.min(t, stop));
      if (t < stop) frame = requestAnimationFrame(step);
      else setPlaying(false);
    });
    return () => cancelAnimationFrame(frame);
  }, [playing, stop, cursor]);
  useKeys("Rehearsal", [
    { shown: ",  .", words: "previous, next event", press: [",", "."], act: (k) => next(k === 0 ? -1 : 1) },
    { shown: "Space", words: "play", press: [" "], alone: true, act: () => setPlaying((p) => !p) },
    { shown: "R", words: "fold or unfold", press: ["R"], act: () => onSize(open ? "folded" : "open") },
    {
      shown: "E",
      words: "large, with its events",
      press: ["E"],
      act: () => onSize(size === "large" ? "open" : "large"),
    },
    ...(size === "large"
      ? [
          { shown: "← →  on an event", words: "move it; with Shift, further" },
          { shown: "Enter, Del  on an event", words: "change it, take it out" },
        ]
      : []),
  ]);
  const [tall, setTall] = useState(innerHeight);
  useEffect(() => {
    const resized = () => setTall(innerHeight);
    addEventListener("resize", resized);
    return () => removeEventListener("resize", resized);
  }, []);
  const waiting = answer.evaluation.open;
  if (!r && waiting.length > 0) {
    return (
      <section className="rehearsal unsettled" aria-label="Rehearsal">
        <h2>Rehearsal</h2>
        <p>
          <b>It waits until the design is whole.</b> {waiting.map((p) => p.text).join(" ")}
        </p>
      </section>
    );
  }
  if (!r) {
    return (
      <section className="rehearsal unsettled" aria-label="Rehearsal">
        <h2>Rehearsal</h2>
        <p role="alert">
          <b>It did not settle.</b> {answer.unsettled?.message} Up to {show(answer.unsettled?.time ?? 0, "s")}{" "}
          all was well; the verdicts from formulas stand.
        </p>
        {own.shownOwn && (
          <button className="secondary" onClick={undo}>
            Take the last change back
          </button>
        )}
      </section>
    );
  }
  const lane = mainLane(r);
  const handles: EventHandles = {
    onOpen: (index, anchor) => setEditing({ event: r.script.events[index] as Event, index, anchor }),
    onMove: own.move,
    onDrop: own.drop,
    onRemove: (index) => void own.change(r.script.events.filter((_, k) => k !== index)),
  };
  const fresh = (verb: S["Verb"]) => {
    const at = Number(Math.min(cursor.get(), stop).toPrecision(3));
    const until = verb.event.until === undefined ? {} : { until: Math.min(stop, at + stop / 4) };
    return { ...verb.event, at, ...until } as Partial<Event> & { do: string };
  };
  const save = async () => {
    const got = await ask("/api/waves", {
      document: opened.document,
      changes: trying ?? [],
      script: r.script,
    });
    const link = document.createElement("a");
    link.href = URL.createObjectURL(await got.blob());
    link.download = `${opened.name.toLowerCase().replaceAll(/[^a-z0-9]+/g, "-")}-waves.csv`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  const closeUps = r.marks
    .filter((m) => m.begin != null)
    .slice(0, 2)
    .map((m, k) => {
      const d = m.time - m.begin!;
      return {
        name: "AB"[k]!,
        text: m.text,
        span: [Math.max(0, m.begin! - d * 0.25), Math.min(stop, m.time + d * 0.4)] as [number, number],
      };
    });
  const verb = answer.menu.find((v) => v.do === editing?.event.do);
  const presets = answer.presets.map((p) => p.title!);
  const titles = [...new Set([...presets, ...(own.own ? [OWN] : []), r.script.title!])];
  return (
    <section className={`rehearsal ${size}`} aria-label="Rehearsal">
      <header>
        <h2>Rehearsal</h2>
        {open ? (
          <>
            <select
              className="preset"
              aria-label="Script"
              value={r.script.title}
              onChange={(e) => {
                setSpan(null);
                setScript(answer.presets.find((p) => p.title === e.target.value) ?? null);
              }}
            >
              {titles.map((t) => (
                <option key={t}>{t}</option>
              ))}
            </select>
            <button className="add-event" aria-haspopup="menu" onClick={(e) => setMenu(e.currentTarget)}>
              + Event
            </button>
            {own.shownOwn && (
              <button className="link" onClick={own.leave}>
                Leave own script
              </button>
            )}
            <button
              className="icon"
              aria-label="Previous event"
              title="Previous event  ,"
              onClick={() => next(-1)}
            >
              <Icon d="M3 3v10M12 3L6 8l6 5" />
            </button>
            <button
              className="icon"
              aria-label={playing ? "Pause" : "Play"}
              title="Play  Space"
              onClick={() => setPlaying(!playing)}
            >
              <Icon d={playing ? "M4 3v10M11 3v10" : "M4 2l9 6l-9 6z"} filled={!playing} />
            </button>
            <button className="icon" aria-label="Next event" title="Next event  ." onClick={() => next(1)}>
              <Icon d="M13 3v10M4 3l6 5l-6 5" />
            </button>
            <button
              className="link"
              onClick={() =>
                setSpan(
                  span
                    ? null
                    : [Math.max(0, cursor.get() - stop / 10), Math.min(stop, cursor.get() + stop / 10)],
                )
              }
            >
              {span ? "Whole" : "Closer"}
            </button>
            <span className="grow" />
            <span className="reading-at">
              Reading at <At />
            </span>
          </>
        ) : (
          <>
            <div className="small-wave">
              <MiniWave r={r} />
            </div>
            <span className="small-value">
              <Reading lane={lane} />
            </span>
            <span className="grow" />
          </>
        )}
        {open && (
          <button className="link" onClick={() => onSize(size === "large" ? "open" : "large")}>
            {size === "large" ? "Smaller" : "Larger"} <kbd>E</kbd>
          </button>
        )}
        <button className="link" onClick={() => onSize(open ? "folded" : "open")}>
          {open ? "Fold" : "Unfold"} <kbd>R</kbd>
        </button>
      </header>
      {open && r.passed.length > 0 && (
        <p className="passed" role="status">
          <b>A limit is passed.</b> {r.passed.join(". ")}.
        </p>
      )}
      {open && answer.left_out.length > 0 && (
        <p className="passed" role="status">
          <b>Left out of the script:</b> {answer.left_out.join(" ")}
        </p>
      )}
      {open && (
        <Lanes
          rehearsal={r}
          ghost={trying ? settled.rehearsal : null}
          cursor={cursor}
          span={span ?? [0, stop]}
          onSpan={setSpan}
          fan={spread.fan}
          events={size === "large" ? handles : null}
          boxes={size === "large" && !span ? closeUps : []}
          height={size === "large" ? Math.max(300, tall - 108 - 40 - 262) : 172}
        />
      )}
      {size === "large" && (
        <div className="below">
          {closeUps.map((c) => (
            <section key={c.name} aria-label={`Close-up ${c.name}`}>
              <h3>
                <b>{c.name}</b> {c.text}
              </h3>
              <Lanes
                rehearsal={r}
                ghost={trying ? settled.rehearsal : null}
                cursor={cursor}
                span={c.span}
                height={206}
                fan={spread.fan}
                compact
              />
            </section>
          ))}
          <SpreadPanel spread={spread} onSave={() => void save()} />
        </div>
      )}
      <Menu open={!!menu} anchorEl={menu} onClose={() => setMenu(null)}>
        {answer.menu.map((verb) => (
          <MenuItem
            key={verb.do}
            onClick={() => {
              const at = menu!.getBoundingClientRect();
              setEditing({ event: fresh(verb), index: -1, anchor: { x: at.left, y: at.bottom + 6 } });
              setMenu(null);
            }}
          >
            {verb.title}
          </MenuItem>
        ))}
      </Menu>
      {editing && verb && (
        <EventEditor
          {...editing}
          verb={verb}
          onClose={() => setEditing(null)}
          onTake={(event) =>
            own.change(
              editing.index < 0
                ? [...r.script.events, event]
                : r.script.events.map((e, k) => (k === editing.index ? event : e)),
            )
          }
          onRemove={
            editing.index < 0
              ? null
              : () => {
                  handles.onRemove(editing.index);
                  setEditing(null);
                }
          }
        />
      )}
    </section>
  );
}

function SpreadPanel({ spread, onSave }: { spread: ReturnType<typeof useSpread>; onSave: () => void }) {
  const [seed, setSeed] = useState("1");
  const share = spread.of ? spread.done / spread.of : 0;
  return (
    <section className="spread" aria-label="Spread">
      <h3>How far it spreads</h3>
      <div className="actions">
        {spread.running ? (
          <>
            <progress value={share} aria-label="Runs done" />
            <span className="value">
              {spread.done} of {spread.of || "…"}
            </span>
            <button className="secondary" onClick={spread.stop}>
              Stop
            </button>
          </>
        ) : (
          <>
            <button className="secondary" onClick={() => void spread.run({ kind: "corners" })}>
              All corners
            </button>
            <button
              className="secondary"
              onClick={() => void spread.run({ kind: "parts", count: 200, seed: Number(seed) || 1 })}
            >
              200 sets of parts
            </button>
            <label className="seed">
              set{" "}
              <input
                aria-label="Which random set"
                value={seed}
                inputMode="numeric"
                onChange={(e) => setSeed(e.target.value.replaceAll(/\D/g, "").slice(0, 9))}
              />
            </label>
          </>
        )}
      </div>
      {spread.problem && <p role="alert">{spread.problem}</p>}
      {spread.fan ? (
        <>
          <ul>
            {spread.fan.marks.map((m) => (
              <li key={m.id}>
                <span>{m.text}</span>
                <Histogram values={m.values} unit={m.unit} />
              </li>
            ))}
          </ul>
          <p className="legend">
            {spread.fan.runs} runs{spread.fan.failed ? `, ${spread.fan.failed} did not settle` : ""}. Varied:{" "}
            {spread.fan.varied.join(", ")}. Pale: all of them; darker: the middle nine tenths.
          </p>
        </>
      ) : (
        !spread.running && (
          <p className="legend">
            Corners: battery, heat, parts and signal at both ends, all together. Sets of parts: each part
            somewhere in its tolerance, drawn at random; the same set number draws the same parts.
          </p>
        )
      )}
      <button className="link" onClick={onSave}>
        Save these waves as CSV
      </button>
    </section>
  );
}

/** Where the values lie: a dash each, denser where more of them are. */
function Histogram({ values, unit }: { values: readonly number[]; unit: string }) {
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const at = (v: number) => (high > low ? 4 + ((v - low) / (high - low)) * 132 : 70);
  return (
    <svg width={140} height={30} aria-hidden>
      {values.map((v, k) => (
        <path
          key={k}
          d={`M${at(v)} 3v10`}
          stroke="var(--ink)"
          strokeWidth={1.4}
          opacity={values.length > 40 ? 0.16 : 0.7}
        />
      ))}
      <path d="M0 15H140" stroke="var(--rule2)" />
      <text className="ruler" x={2} y={28}>
        {show(low, unit)}
      </text>
      <text className="ruler" x={138} y={28} textAnchor="end">
        {high > low ? show(high, unit) : ""}
      </text>
    </svg>
  );
}

const At = () => <b className="copper value">{show(useNow(), "s")}</b>;

function Reading({ lane }: { lane: S["Lane"] }) {
  const now = useNow();
  return (
    <>
      <small>
        {lane.title} at {show(now, "s")}
      </small>
      <b className="value">{shownValue(lane, now)}</b>
    </>
  );
}

function MiniWave({ r }: { r: S["Rehearsal"] }) {
  const cursor = useNow();
  const lane = mainLane(r);
  const most = Math.max(...lane.value, 1e-12);
  const points = lane.time
    .map((t, k) => `${(t / r.stop) * 560},${36 - (lane.value[k]! / most) * 30}`)
    .join(" ");
  return (
    <svg viewBox="0 0 560 40" preserveAspectRatio="none" aria-hidden>
      <polyline
        points={points}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={2}
        vectorEffect="non-scaling-stroke"
      />
      <path
        d={`M${(cursor / r.stop) * 560} 0V40`}
        stroke="var(--copper)"
        strokeWidth={2}
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}
