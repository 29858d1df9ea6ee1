// What becomes of a press, by how long it is held: run by itself when the design has come to rest.
import { call, client, type S } from "../../api/client";
import { useWidth } from "../../drawing/useRoom";
import { PressMap } from "../../drawing/PressMap";
import { show } from "../../drawing/format";
import { Underway } from "./Underway";
import { useRested } from "./useRested";

const REST = 400; // how long nothing must change before it is run [ms]

const ask = (body: S["AnswerIn"]) => call(client.POST("/api/jobs/press-map", { body }));

export function PressPane() {
  const { last: job, running, problem, stop } = useRested(ask, REST);
  const last = job?.map ?? null;
  const [box, width] = useWidth();
  const map = last?.map ?? null;
  const odd = map?.rows.flatMap((r) => r.spans.filter((s) => !s.meant).map((s) => ({ ...s, row: r }))) ?? [];
  return (
    <section className="press-pane" aria-label="How long you hold it" ref={box}>
      <h3>
        How long you hold it{" "}
        <small>{map ? `${map.runs} presses of ${map.button}, bounce included` : "every press is run"}</small>
      </h3>
      {problem && <p role="alert">{problem}</p>}
      {running && !map && (
        <Underway words={last ? `${last.done} of ${last.of} presses` : "Pressing …"} stop={stop} />
      )}
      {map && <PressMap map={map} width={width} />}
      {map &&
        (odd.length === 0 ? (
          <p>
            Held for {show(map.low, "s", 1)} or for {show(map.high, "s", 1)}: the same.
          </p>
        ) : (
          <ul>
            {odd.map((s) => (
              <li key={`${s.row.begin}${s.row.supply}${s.low}`}>
                {s.words} when held{" "}
                {s.low <= map.low ? `under ${show(s.high, "s", 2)}` : `over ${show(s.low, "s", 2)}`} on{" "}
                {show(s.row.supply, "V")}
                {s.row.begin === "on" ? ", from on" : ""}.
              </li>
            ))}
          </ul>
        ))}
      {map && map.again.length > 0 && <Again map={map} width={width} />}
    </section>
  );
}

/** The next press of the usual length, by how long after the last one it comes. */
function Again({ map, width }: { map: S["PressMap"]; width: number }) {
  const late = Math.max(0, ...map.again.flatMap((r) => r.spans.filter((s) => !s.meant).map((s) => s.high)));
  return (
    <>
      <h3>
        How soon the next press counts <small>the second press turns it off again</small>
      </h3>
      <PressMap map={map} width={width} again />
      <p>
        {late > 0
          ? `From ${show(late, "s", 2)} after the last one it counts; sooner it may not.`
          : "It counts at once."}
      </p>
    </>
  );
}
