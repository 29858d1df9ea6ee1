// A potentiometer across its turn: what it sets as curves, the knob as the cursor; turning it tries, Enter keeps.
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { S } from "../../api/client";
import { show } from "../../drawing/format";
import { Plot, type Axis } from "../../drawing/Plot";
import { useWidth } from "../../drawing/useRoom";
import { useWorkspace } from "../workspace/useDesign";

const place = (v: number) => `${Number(v.toPrecision(3))}%`;
const said = (curve: S["TurnCurve"], v: number) => (curve.unit === "%" ? place(v) : show(v, curve.unit));
const HEIGHT = 124; // of the first curve, which has the knob

export function TurnPane({ map }: { map: S["TurnMap"] }) {
  const { tryOut, commit, trying } = useWorkspace();
  const [box, width] = useWidth();
  const { turns, curves } = map;
  const tried = trying?.find((c) => c.path === map.path);
  const at = typeof tried?.value === "number" ? tried.value : map.at; // the answer comes a moment later
  const value = (c: S["TurnCurve"]) => scaleLinear([...turns], [...c.values]).clamp(true)(at);
  const told = curves.map((c) => `${c.title} ${said(c, value(c))}`).join(", ");
  const move = (to: number) => tryOut([{ path: map.path, value: Number(to.toFixed(1)) }]);
  const take = () => void commit([{ path: map.path, value: at }], `Turned to ${place(at)}`);
  const across: Axis = { low: 0, high: 100, title: "turn", shown: place };
  const cursor = {
    at: at,
    label: `${map.title}: the knob`,
    text: `${place(at)}: ${told}`,
    step: 1,
    onMove: move,
    onTake: take,
    onLeave: () => tryOut(null),
  };
  return (
    <section className="turn-pane" aria-label={map.title} ref={box}>
      <h3>
        {map.title}{" "}
        <small>
          {place(at)}: {told}
        </small>
      </h3>
      {curves.map((curve, first) => (
        <Plot
          key={curve.title}
          width={width}
          height={first ? 0.8 * HEIGHT : HEIGHT}
          x={across}
          y={rising(curve)}
          label={`${curve.title} across the turn`}
          {...(first === 0 && { cursor })}
        >
          {(x, y) => (
            <>
              {curve.low != null && curve.high != null && (
                <rect
                  className="asked"
                  x={x(0)}
                  width={x(100) - x(0)}
                  y={y(curve.high)}
                  height={y(curve.low) - y(curve.high)}
                />
              )}
              <path
                d={
                  line<number>(
                    (_, k) => x(turns[k] ?? 0),
                    (v) => y(v),
                  )([...curve.values]) ?? ""
                }
                fill="none"
                stroke="var(--ink)"
                strokeWidth={2}
              />
              <circle cx={x(at)} cy={y(value(curve))} r={4} fill="var(--copper)" stroke="var(--sheet)" />
            </>
          )}
        </Plot>
      ))}
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

/** From nothing up to a little above what it sets; a share goes up to all. */
function rising(curve: S["TurnCurve"]): Axis {
  const high = curve.unit === "%" ? 100 : Math.max(...curve.values) * 1.15;
  return {
    low: 0,
    high,
    title: curve.title,
    shown: (v) => (curve.unit === "%" ? place(v) : show(v, curve.unit, 2)),
    ticks: 2,
  };
}
