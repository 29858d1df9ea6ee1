// A potentiometer across its turn: pace and share as curves, the knob as the cursor; turning it tries, Enter keeps.
import { line } from "d3-shape";
import type { S } from "../../api/client";
import { show } from "../../drawing/format";
import { Plot, useWidth, type Axis, type Scale } from "../../drawing/Plot";
import { useWorkspace } from "../workspace/useDesign";

const share = (v: number) => `${Number((100 * v).toPrecision(3))}%`;
const place = (v: number) => `${Number(v.toPrecision(3))}%`;

export function TurnPane({ map }: { map: S["TurnMap"] }) {
  const { tryOut, commit, trying } = useWorkspace();
  const [box, width] = useWidth();
  const { points } = map;
  const tried = trying?.find((c) => c.path === map.path);
  const at = typeof tried?.value === "number" ? tried.value : map.at; // the answer comes a moment later
  const near = points.reduce((a, b) => (Math.abs(b.turn - at) < Math.abs(a.turn - at) ? b : a));
  const move = (to: number) => tryOut([{ path: map.path, value: Number(to.toFixed(1)) }]);
  const take = () => void commit([{ path: map.path, value: at }], `Turned to ${place(at)}`);
  const across: Axis = { low: 0, high: 100, title: "turn", shown: place };
  const cursor = {
    at: at,
    label: `${map.title}: the knob`,
    text: `${place(at)}: on for ${share(near.duty)}, ${show(near.hertz, "Hz")}`,
    step: 1,
    onMove: move,
    onTake: take,
    onLeave: () => tryOut(null),
  };
  const most = Math.max(...points.map((p) => p.hertz)) * 1.15;
  const curve = (value: (p: S["TurnPoint"]) => number) => (x: Scale, y: Scale) => (
    <>
      <path
        d={
          line<S["TurnPoint"]>(
            (p) => x(p.turn),
            (p) => y(value(p)),
          )([...points]) ?? ""
        }
        fill="none"
        stroke="var(--ink)"
        strokeWidth={2}
      />
      <circle cx={x(near.turn)} cy={y(value(near))} r={4} fill="var(--copper)" stroke="var(--sheet)" />
    </>
  );
  return (
    <section className="turn-pane" aria-label={map.title} ref={box}>
      <h3>
        {map.title}{" "}
        <small>
          {place(at)}: on for {share(near.duty)} of the time, {show(near.hertz, "Hz")}
        </small>
      </h3>
      <Plot
        width={width}
        height={124}
        x={across}
        y={{ low: 0, high: 1, title: "on for", shown: share, ticks: 2 }}
        label="Share of the time across the turn"
        cursor={cursor}
      >
        {curve((p) => p.duty)}
      </Plot>
      <Plot
        width={width}
        height={96}
        x={across}
        y={{ low: 0, high: most, title: "pace", shown: (v) => show(v, "Hz", 2), ticks: 2 }}
        label="Pace across the turn"
      >
        {curve((p) => p.hertz)}
      </Plot>
      {tried && (
        <p>
          <button className="primary" onClick={take}>
            Use {place(at)} <kbd>Enter</kbd>
          </button>{" "}
          <button className="link" onClick={() => tryOut(null)}>
            Leave it
          </button>
        </p>
      )}
      {map.says.map((text) => (
        <p key={text} className="legend">
          {text}
        </p>
      ))}
    </section>
  );
}
