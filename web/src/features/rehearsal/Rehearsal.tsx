// The rehearsal strip: live waveforms of the design under a script; its cursor sets what the schematic lights.
import { useEffect, useMemo, useState } from "react";
import { Lanes, shownValue, valueAt } from "../../drawing/Lanes";
import { show } from "../../drawing/format";
import { useWorkspace } from "../workspace/useDesign";

export type Moment = { lit: ReadonlySet<string>; values: ReadonlyMap<string, number>; closed: boolean };

/** What the schematic needs for one moment, read off the core's lanes. */
export function useMoment(cursor: number): Moment {
  const { answer } = useWorkspace();
  const r = answer.rehearsal;
  return useMemo(() => {
    if (!r) return { lit: new Set<string>(), values: new Map<string, number>(), closed: false };
    const lit = new Set(r.conducting.filter((c) => c.spans.some(([a, b]) => cursor >= a! && cursor <= b!)).map((c) => c.ref));
    if ([...lit].some((ref) => /^[KRL]\d/.test(ref) && r.lanes.some((l) => l.id === `i(${ref})`))) lit.add("load");
    if (lit.has("BAT")) ["plus", "zero"].forEach((p) => lit.add(p));
    const values = new Map(r.lanes.filter((l) => !l.digital).map((l) => [l.id, valueAt(l, cursor)]));
    const contact = r.lanes.find((l) => l.id === "contact");
    return { lit, values, closed: contact ? valueAt(contact, cursor) > 0.5 : false };
  }, [r, cursor]);
}

type Props = { cursor: number; onCursor: (t: number) => void; open: boolean; onOpen: (open: boolean) => void };

export function RehearsalStrip({ cursor, onCursor, open, onOpen }: Props) {
  const { answer, settled, trying, setScript } = useWorkspace();
  const [span, setSpan] = useState<[number, number] | null>(null);
  const [playing, setPlaying] = useState(false);
  const r = answer.rehearsal;
  const stop = r?.stop ?? 1;
  const events = r?.events ?? [];
  const next = (way: 1 | -1) => {
    const eps = stop * 1e-6;
    const found = way > 0 ? events.find((e) => e > cursor + eps) : [...events].reverse().find((e) => e < cursor - eps);
    if (found !== undefined) onCursor(found);
  };
  useEffect(() => {
    if (!playing) return;
    const begin = performance.now(), from = cursor >= stop ? 0 : cursor;
    let frame = requestAnimationFrame(function step(now) {
      const t = from + ((now - begin) / 4000) * stop;
      onCursor(Math.min(t, stop));
      if (t < stop) frame = requestAnimationFrame(step);
      else setPlaying(false);
    });
    return () => cancelAnimationFrame(frame);
    // Playing starts where the cursor is then.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [playing, stop]);
  useEffect(() => {
    const keys = (e: KeyboardEvent) => {
      if (e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement || e.target instanceof HTMLSelectElement || e.ctrlKey || e.metaKey) return;
      if (e.key === ",") next(-1);
      if (e.key === ".") next(1);
      if (e.key === " " && e.target === document.body) { e.preventDefault(); setPlaying((p) => !p); }
    };
    addEventListener("keydown", keys);
    return () => removeEventListener("keydown", keys);
  });
  if (!r) {
    return (
      <section className="rehearsal unsettled" aria-label="Rehearsal">
        <h2>Rehearsal</h2>
        <p role="alert"><b>It did not settle.</b> {answer.unsettled?.message} Up to {show(answer.unsettled?.time ?? 0, "s")} all was well; the verdicts from formulas stand.</p>
      </section>
    );
  }
  const lane = r.lanes.find((l) => l.id.startsWith("i("));
  return (
    <section className={`rehearsal ${open ? "" : "folded"}`} aria-label="Rehearsal">
      <header>
        <h2>Rehearsal</h2>
        {open ? (
          <>
            <select className="preset" aria-label="Script" value={r.script?.title} onChange={(e) => { setSpan(null); setScript(answer.presets.find((p) => p.title === e.target.value) ?? null); }}>
              {answer.presets.map((p) => <option key={p.title}>{p.title}</option>)}
            </select>
            <button className="icon" aria-label="Previous event" title="Previous event  ," onClick={() => next(-1)}><svg width={16} height={16} viewBox="0 0 16 16"><path d="M3 3v10M12 3L6 8l6 5" fill="none" stroke="currentColor" strokeWidth={2} /></svg></button>
            <button className="icon" aria-label={playing ? "Pause" : "Play"} title="Play  Space" onClick={() => setPlaying(!playing)}><svg width={16} height={16} viewBox="0 0 16 16"><path d={playing ? "M4 3v10M11 3v10" : "M4 2l9 6l-9 6z"} fill={playing ? "none" : "currentColor"} stroke="currentColor" strokeWidth={2} /></svg></button>
            <button className="icon" aria-label="Next event" title="Next event  ." onClick={() => next(1)}><svg width={16} height={16} viewBox="0 0 16 16"><path d="M13 3v10M4 3l6 5l-6 5" fill="none" stroke="currentColor" strokeWidth={2} /></svg></button>
            <button className="link" onClick={() => setSpan(span ? null : [Math.max(0, cursor - stop / 10), Math.min(stop, cursor + stop / 10)])}>{span ? "Whole" : "Closer"}</button>
            <span className="grow" />
            <span>Reading at <b className="copper value">{show(cursor, "s")}</b></span>
          </>
        ) : (
          <>
            <div className="small-wave"><MiniWave r={r} cursor={cursor} /></div>
            {lane && <span className="small-value"><small>{lane.title} at {show(cursor, "s")}</small><b className="value">{shownValue(lane, cursor)}</b></span>}
            <span className="grow" />
          </>
        )}
        <button className="link" onClick={() => onOpen(!open)}>{open ? "Fold" : "Unfold"} <kbd>R</kbd></button>
      </header>
      {open && <Lanes rehearsal={r} ghost={trying ? settled.rehearsal : null} cursor={Math.min(cursor, stop)} onCursor={onCursor} span={span ?? [0, stop]} height={172} />}
    </section>
  );
}

function MiniWave({ r, cursor }: { r: NonNullable<ReturnType<typeof useWorkspace>["answer"]["rehearsal"]>; cursor: number }) {
  const lane = r.lanes.find((l) => l.id.startsWith("i(")) ?? r.lanes[0]!;
  const most = Math.max(...lane.value, 1e-12);
  const points = lane.time.map((t, k) => `${(t / r.stop) * 560},${36 - (lane.value[k]! / most) * 30}`).join(" ");
  return (
    <svg viewBox="0 0 560 40" preserveAspectRatio="none" aria-hidden>
      <polyline points={points} fill="none" stroke="var(--ink)" strokeWidth={2} vectorEffect="non-scaling-stroke" />
      <path d={`M${(cursor / r.stop) * 560} 0V40`} stroke="var(--copper)" strokeWidth={2} vectorEffect="non-scaling-stroke" />
    </svg>
  );
}
