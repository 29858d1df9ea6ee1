// What becomes of a time when things go otherwise: each way as a small wave, how it may be counted, a map of dips.
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { call, client, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { show } from "../../drawing/format";
import { useWidth } from "../../drawing/useRoom";
import { useWorkspace } from "../workspace/useDesign";
import { DipTable } from "./DipTable";
import { Underway } from "./Underway";
import { useRested } from "./useRested";

const REST = 1200; // how long nothing must change before it is run [ms]
const LEAST = 200; // how wide a wave is [px]
const [TALL, BAR] = [54, 8];

const ask = (body: S["AnswerIn"]) => call(client.POST("/api/jobs/otherwise", { body }));

export function OtherwisePane() {
  const { last, running, problem, stop } = useRested(ask, REST);
  const [box, width] = useWidth();
  const step = last?.otherwise ?? null;
  const found = step?.otherwise ?? null;
  return (
    <section className="otherwise-pane" aria-label="When things go otherwise" ref={box}>
      <h3>
        When things go otherwise{" "}
        <small>{found ? "each way run in the circuit; take one to rehearse it" : "every way is run"}</small>
      </h3>
      {problem && <p role="status">{problem}</p>}
      {running && !found && (
        <Underway words={step ? `${step.done} of ${step.of} runs` : "Trying …"} stop={stop} />
      )}
      {found && (
        <>
          <Courses courses={found.courses} width={width} />
          {found.counts.length > 0 && <Counts counts={found.counts} />}
          {found.by_hand.length > 0 && <ByHand rows={found.by_hand} />}
          {found.dips.length > 0 && (
            <DipTable
              dips={found.dips}
              label="The supply dips while it runs"
              corner="Supply dips to"
              told={(dip) => ({ standing: STANDING[dip.fate], words: dip.words })}
            />
          )}
        </>
      )}
    </section>
  );
}

function Courses({ courses, width }: { courses: readonly S["Course"][]; width: number }) {
  const { setScript } = useWorkspace();
  const columns = Math.max(1, Math.floor((width + 12) / (LEAST + 12)));
  const each = Math.floor((width - 12 * (columns - 1)) / columns) - 2;
  const stop = Math.max(...courses.map((w) => w.script.stop ?? 0));
  const volts = courses.flatMap((w) => w.volts);
  const ends: [number, number] = [Math.min(0, ...volts), Math.max(1e-9, ...volts)];
  return (
    <ul className="courses" style={{ gridTemplateColumns: `repeat(${columns}, 1fr)` }}>
      {courses.map((way) => (
        <li key={way.title}>
          <button onClick={() => setScript(way.script)} title="Rehearse it">
            <b>{way.title}</b>
            <small>{way.why}</small>
            <Wave way={way} width={each} stop={stop} ends={ends} />
            <span className={way.same ? "" : "other"}>
              {!way.same && <Glyph standing="tight" size={14} />} {way.says}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** The volts that make the time over a bar that is there while the load is on; a tick where anything is done. */
function Wave(props: { way: S["Course"]; width: number; stop: number; ends: [number, number] }) {
  const { way, width, stop, ends } = props;
  const x = scaleLinear()
    .domain([0, stop])
    .range([1, width - 1]);
  const y = scaleLinear()
    .domain(ends)
    .range([TALL - 2, 4]);
  const points = way.time.map((t, k): [number, number] => [x(t), y(way.volts[k]!)]);
  return (
    <svg width={width} height={TALL + BAR + 6} aria-hidden>
      {way.script.events?.map((e, k) => (
        <path key={k} d={`M${x(e.at)} 0V${TALL}`} stroke="var(--rule)" strokeWidth={1} />
      ))}
      <path d={line()(points) ?? ""} fill="none" stroke="var(--ink)" strokeWidth={1.5} />
      <path d={`M0 ${TALL + BAR + 2}H${width}`} stroke="var(--rule)" />
      {way.on.map(({ begin: a, end: b }) => (
        <rect
          key={a}
          x={x(a)}
          y={TALL + 2}
          width={Math.max(1.5, x(b) - x(a))}
          height={BAR}
          fill="var(--copper)"
        />
      ))}
    </svg>
  );
}

function Counts({ counts }: { counts: readonly S["Count"][] }) {
  const ends = [...new Set(counts.map((c) => c.ends))];
  const begins = [...new Set(counts.map((c) => c.begins))];
  return (
    <table className="counts" aria-label="How it may be counted">
      <thead>
        <tr>
          <th scope="col">Counted from</th>
          {ends.map((e) => (
            <th key={e} scope="col">
              until {e}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {begins.map((b) => (
          <tr key={b}>
            <th scope="row">{b}</th>
            {ends.map((e) => {
              const found = counts.find((c) => c.begins === b && c.ends === e);
              return <td key={e}>{found ? show(found.seconds, "s", 4) : ""}</td>;
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function ByHand({ rows }: { rows: readonly S["Taking"][] }) {
  return (
    <table className="counts" aria-label="Taking it by hand">
      <thead>
        <tr>
          <th scope="col">To know it within</th>
          <th scope="col">with a stop watch</th>
          <th scope="col">counting aloud</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.within}>
            <th scope="row">{show(100 * r.within, "%")}</th>
            <td>{r.watch}</td>
            <td>{r.aloud}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const STANDING = {
  through: "fits",
  short: "tight",
  long: "tight",
  off: "fails",
  unsettled: "unknown",
} as const;
