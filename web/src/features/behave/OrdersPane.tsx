// Who ends up on: what an interlock makes of two buttons in every order, run for every pair of channels.
import { call, client, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { show } from "../../drawing/format";
import { Underway } from "./Underway";
import { useRested } from "./useRested";

const REST = 800; // how long nothing must change before it is run [ms]
const [WIDTH, ROW] = [62, 8];

const ask = (body: S["AnswerIn"]) => call(client.POST("/api/jobs/orders", { body }));

export function OrdersPane() {
  const { last, running, problem, stop } = useRested(ask, REST);
  const step = last?.orders ?? null;
  const found = step?.orders ?? null;
  return (
    <section className="orders-pane" aria-label="Who ends up on">
      <h3>
        Who ends up on{" "}
        <small>{found ? `${found.runs} runs, every pair both ways` : "every order is run"}</small>
      </h3>
      {problem && <p role="status">{problem}</p>}
      {running && !found && (
        <Underway words={step ? `${step.done} of ${step.of} runs` : "Pressing …"} stop={stop} />
      )}
      {found && (
        <>
          <p className="holding-says">
            <Glyph standing={standing(found)} size={16} /> {found.says}
          </p>
          <table className="orders">
            <thead>
              <tr>
                <th scope="col">Down</th>
                <th scope="col">Pressed</th>
                <th scope="col">On in the end</th>
                <th scope="col">Two on for</th>
              </tr>
            </thead>
            <tbody>
              {found.orders.map((order) => (
                <Way key={order.words} order={order} />
              ))}
            </tbody>
          </table>
        </>
      )}
    </section>
  );
}

const standing = (found: S["Orders"]) =>
  found.orders.some((o) => !o.meant || o.pairs.some((p) => p.on.length > 1))
    ? "fails"
    : found.overlap > 0
      ? "tight"
      : "fits";

function Way({ order }: { order: S["Order"] }) {
  const overlap = Math.max(0, ...order.pairs.map((p) => p.overlap));
  const others = order.alike ? [] : [...new Set(order.pairs.map(named))];
  return (
    <tr>
      <td>
        <Bars order={order} />
      </td>
      <td>{order.words}</td>
      <td>
        {!order.meant && <Glyph standing="fails" size={16} />} {order.ends}
        {others.length > 0 && <small> {others.slice(0, 4).join("; ")}</small>}
      </td>
      <td className={overlap > 0 ? "two-on" : ""}>{overlap > 0 ? show(overlap, "s", 2) : "never"}</td>
    </tr>
  );
}

/** "1 then 2: 1" */
const named = (p: S["Ended"]) => `${p.first} then ${p.second}: ${p.on.join(" and ") || "none"}`;

function Bars({ order }: { order: S["Order"] }) {
  const rows = ["first", "second", "off"] as const;
  const x = (t: number) => (t / order.stop) * WIDTH;
  return (
    <svg width={WIDTH} height={3 * ROW} aria-hidden>
      {rows.map((who, k) => (
        <g key={who}>
          <path d={`M0 ${k * ROW + 4}H${WIDTH}`} className="bar-rest" />
          {order.bars
            .filter((b) => b.who === who)
            .map((b) => (
              <path key={b.begin} d={`M${x(b.begin)} ${k * ROW + 4}H${x(b.end)}`} className="bar-down" />
            ))}
        </g>
      ))}
    </svg>
  );
}
