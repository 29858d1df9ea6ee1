// A timing capacitor's two plates at the cursor's moment, each as high as its volts: it keeps the step between them.
import { scaleLinear } from "d3-scale";
import type { S } from "../../api/client";
import { valueAt } from "../../drawing/Lanes";
import { show } from "../../drawing/format";
import { usePreferences } from "../../theme/mode";
import { useNow } from "../rehearsal/Rehearsal";

const [WIDTH, HEIGHT] = [440, 176];
const [FIRST, SECOND, REACH] = [150, 320, 100]; // the middles of the plates, and how wide each is
const BETWEEN = (FIRST + SECOND) / 2;
const LEAST = 1e-6; // a current that is shown [A]

export function PlatesPane({ plates }: { plates: S["Plates"] }) {
  const now = useNow();
  const { electrons } = usePreferences();
  const { first, second } = { first: plates.first_volts, second: plates.second_volts };
  const every = [...first.value, ...second.value, 0];
  const y = scaleLinear()
    .domain([Math.min(...every), Math.max(...every)])
    .range([HEIGHT - 20, 24]);
  const [a, b] = [valueAt(first, now), valueAt(second, now)];
  const amps = valueAt(plates.current, now);
  const volts = (v: number) => show(Math.abs(v) < 5e-3 ? 0 : v, "V", 3);
  const said = plates.rows[valueAt(plates.row, now)] ?? "";
  return (
    <section className="inside-pane" aria-label={`Plates of ${plates.ref}`}>
      <h3>
        Plates of {plates.ref} <small>at the cursor</small>
      </h3>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`${plates.first} at ${volts(a)}, ${plates.second} at ${volts(b)}. ${said}`}
      >
        <path d={`M60 ${y(0)}H${WIDTH - 60}`} stroke="var(--rule)" strokeWidth={2} />
        <text x={56} y={y(0) + 4} className="inside-name" textAnchor="end">
          0 V
        </text>
        <path
          d={`M${FIRST + REACH / 2} ${y(a)}H${BETWEEN}V${y(b)}H${SECOND - REACH / 2}`}
          className="plates-step"
        />
        <text x={BETWEEN + 5} y={(y(a) + y(b)) / 2 + 4} className="inside-volts">
          {Math.abs(y(a) - y(b)) > 16 ? volts(a - b) : ""}
        </text>
        <Plate x={FIRST} y={y(a)} name={plates.first} volts={volts(a)} end="start" />
        <Plate x={SECOND} y={y(b)} name={plates.second} volts={volts(b)} end="end" />
        {Math.abs(amps) > LEAST && <Flow amps={amps} electrons={electrons} />}
      </svg>
      <p>{said}</p>
    </section>
  );
}

type PlateProps = { x: number; y: number; name: string; volts: string; end: "start" | "end" };

function Plate({ x, y, name, volts, end }: PlateProps) {
  const left = x - REACH / 2;
  const at = end === "start" ? left : left + REACH;
  return (
    <g>
      <path d={`M${left} ${y}h${REACH}`} className="plates-plate" />
      <text x={at} y={y - 8} className="inside-name" textAnchor={end}>
        {`${name} `}
        <tspan className="inside-volts">{volts}</tspan>
      </text>
    </g>
  );
}

/** Which way it flows through the capacitor, as current or as electrons. */
function Flow({ amps, electrons }: { amps: number; electrons: boolean }) {
  const onward = amps > 0 !== electrons;
  const [from, to] = onward ? [FIRST, BETWEEN] : [BETWEEN, FIRST];
  const tip = onward ? -7 : 7;
  return (
    <g>
      <path
        d={`M${from} ${HEIGHT - 8}H${to}M${to + tip} ${HEIGHT - 13}L${to} ${HEIGHT - 8}L${to + tip} ${HEIGHT - 3}`}
        className="plates-flow"
      />
      <text x={BETWEEN + 14} y={HEIGHT - 4} className="inside-name">
        {show(Math.abs(amps), "A", 2)} {electrons ? "of electrons" : "of current"}
      </text>
    </g>
  );
}
