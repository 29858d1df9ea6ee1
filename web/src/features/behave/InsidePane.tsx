// Inside a timer at the cursor's moment: its two levels, the comparators that watch them, the latch and pin 7.
import type { S } from "../../api/client";
import { valueAt } from "../../drawing/Lanes";
import { show } from "../../drawing/format";
import { useNow } from "../rehearsal/Rehearsal";

const [WIDTH, HEIGHT] = [440, 168];
const [UPPER, LOWER] = [50, 112]; // the heights of the two levels
const [SETS, RESETS, HELD] = [1, 2, 3]; // rows in which a comparator or the reset pin acts

export function InsidePane({ inside }: { inside: S["Inside"] }) {
  const now = useNow();
  const upper = valueAt(inside.upper, now);
  const row = valueAt(inside.row, now);
  const high = valueAt(inside.latch, now) > 0.5;
  const over = row === RESETS;
  const under = row === SETS;
  const said = inside.rows[row] ?? "";
  const volts = (v: number) => show(Math.abs(v) < 5e-4 ? 0 : v, "V");
  return (
    <section className="inside-pane" aria-label={`Inside ${inside.ref}`}>
      <h3>
        Inside {inside.ref} <small>at the cursor</small>
      </h3>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`${said} Upper level ${volts(upper)}, lower ${volts(upper / 2)}; output ${high ? "high" : "low"}.`}
      >
        <path d={`M24 8V${HEIGHT - 8}M14 8H34M14 ${HEIGHT - 8}H34`} className="inside-wire" />
        {[24, 78, 132].map((y) => (
          <rect key={y} x={19} y={y - 8} width={10} height={18} className="inside-body" />
        ))}
        <Comparator
          at={UPPER}
          on={over}
          level={volts(upper)}
          input={volts(valueAt(inside.threshold, now))}
          name="threshold"
        />
        <Comparator
          at={LOWER}
          on={under}
          level={volts(upper / 2)}
          input={volts(valueAt(inside.trigger, now))}
          name="trigger"
        />
        <rect x={268} y={36} width={76} height={92} className={`inside-body${row === HELD ? " now" : ""}`} />
        <text x={306} y={56} className="inside-name" textAnchor="middle">
          latch
        </text>
        <text x={306} y={86} className="inside-state" textAnchor="middle">
          {high ? "high" : "low"}
        </text>
        <text x={306} y={116} className="inside-name" textAnchor="middle">
          {under ? "set" : over ? "reset" : row === HELD ? "held" : "keeps"}
        </text>
        <path d="M344 62H384" className={`inside-wire${high ? " now" : ""}`} />
        <text x={390} y={66} className="inside-name">
          out
        </text>
        <path d="M344 106H362" className="inside-wire" />
        <path
          d={high ? "M362 106L384 94M388 106H396" : "M362 106H396"}
          className={`inside-wire${high ? "" : " now"}`}
        />
        <text x={400} y={110} className="inside-name">
          7
        </text>
        <text x={362} y={130} className="inside-name">
          {high ? "open" : "conducts"}
        </text>
      </svg>
      <p>{said}</p>
    </section>
  );
}

function Comparator({
  at,
  on,
  level,
  input,
  name,
}: {
  at: number;
  on: boolean;
  level: string;
  input: string;
  name: string;
}) {
  return (
    <g>
      <path d={`M24 ${at}H206`} className="inside-wire" />
      <text x={34} y={at - 6} className="inside-volts">
        {level}
      </text>
      <path d={`M120 ${at + 18}H206`} className={`inside-wire${on ? " now" : ""}`} />
      <text x={112} y={at + 22} className="inside-name" textAnchor="end">
        {name}
      </text>
      <text x={124} y={at + 34} className="inside-volts">
        {input}
      </text>
      <path d={`M206 ${at - 8}L238 ${at + 9}L206 ${at + 26}z`} className={`inside-body${on ? " now" : ""}`} />
      <path d={`M238 ${at + 9}H268`} className={`inside-wire${on ? " now" : ""}`} />
    </g>
  );
}
