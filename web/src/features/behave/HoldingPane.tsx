// How surely a state is kept: how it wakes, which dips it forgets in, how many of all builds do everything, and
// what waiting costs.
import { call, client, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { show } from "../../drawing/format";
import { DipTable } from "./DipTable";
import { Underway } from "./Underway";
import { useRested } from "./useRested";

const REST = 800; // how long nothing must change before it is run [ms]

const ask = (body: S["AnswerIn"]) => call(client.POST("/api/jobs/holding", { body }));

export function HoldingPane() {
  const { last, running, problem, stop } = useRested(ask, REST);
  const step = last?.holding ?? null;
  const found = step?.holding ?? null;
  return (
    <section className="otherwise-pane" aria-label="How surely it keeps its state">
      <h3>
        How surely it keeps its state{" "}
        <small>{found ? `${step!.of} runs of the circuit` : "every case is run"}</small>
      </h3>
      {problem && <p role="status">{problem}</p>}
      {running && !found && (
        <Underway words={step ? `${step.done} of ${step.of} runs` : "Trying …"} stop={stop} />
      )}
      {found && (
        <>
          <Builds found={found} />
          <p className="holding-says">{found.match.says}</p>
          <Wakes found={found} />
          {found.drawn && <p className="holding-says">{found.drawn.says}</p>}
          <DipTable
            dips={found.dips}
            label="The supply dips while it is on"
            corner="While on, a dip to"
            told={(dip) => ({ standing: dip.stays ? "fits" : "tight", words: dip.stays ? "stays" : "off" })}
          />
        </>
      )}
    </section>
  );
}

function Builds({ found }: { found: S["Keeping"] }) {
  const all = found.passed === found.builds;
  return (
    <p className="holding-says">
      <Glyph standing={all ? "fits" : found.passed ? "tight" : "fails"} size={16} /> {found.passed} of{" "}
      {found.builds} builds, their parts drawn at random, come up off, are turned on, ride a sag, are turned
      off and ride another.
      {found.lost.map((l) => ` ${l.count} ${l.count === 1 ? "does" : "do"} not: it ${l.words}.`)}
    </p>
  );
}

/** As the supply comes up: of so many sets of parts, how many come up on, by how fast it comes. */
function Wakes({ found }: { found: S["Keeping"] }) {
  const raced = found.wakes.some((w) => w.on > 0 && w.on < w.of);
  return (
    <>
      <p className="holding-says">
        <Glyph standing={raced ? "tight" : "fits"} size={16} /> {found.says}
      </p>
      {found.wakes.some((w) => w.on > 0) && (
        <table className="dips" aria-label="As the supply comes up">
          <thead>
            <tr>
              <th scope="col">Supply up within</th>
              {found.wakes.map((w) => (
                <th key={w.ramp} scope="col">
                  {show(w.ramp, "s")}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <tr>
              <th scope="row">come up on</th>
              {found.wakes.map((w) => (
                <td key={w.ramp}>
                  {w.on} of {w.of}
                </td>
              ))}
            </tr>
          </tbody>
        </table>
      )}
    </>
  );
}
