// How surely a state is kept: how it wakes, which dips it forgets in, and how many of all builds do everything.
import { call, client, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { show } from "../../drawing/format";
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
        <p role="status">
          {step ? `${step.done} of ${step.of} runs` : "Trying …"}{" "}
          <button className="link" onClick={stop}>
            Stop
          </button>
        </p>
      )}
      {found && (
        <>
          <Builds found={found} />
          <Wakes found={found} />
          <Dips dips={found.dips} />
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

function Dips({ dips }: { dips: readonly S["Forgets"][] }) {
  const volts = [...new Set(dips.map((d) => d.volts))];
  const lengths = [...new Set(dips.map((d) => d.seconds))];
  return (
    <table className="dips" aria-label="The supply dips while it is on">
      <thead>
        <tr>
          <th scope="col">While on, a dip to</th>
          {lengths.map((s) => (
            <th key={s} scope="col">
              for {show(s, "s")}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {volts.map((v) => (
          <tr key={v}>
            <th scope="row">{show(v, "V", 2)}</th>
            {lengths.map((s) => {
              const found = dips.find((d) => d.volts === v && d.seconds === s);
              return (
                <td key={s}>
                  {found && (
                    <>
                      <Glyph standing={found.stays ? "fits" : "tight"} size={14} />{" "}
                      {found.stays ? "stays" : "off"}
                    </>
                  )}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
