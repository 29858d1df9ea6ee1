// What it is made of: value, rating, legs, what is in the drawer and what it costs.
import type { S } from "../../api/client";
import { shortLeg } from "./Legs";

export function PartsList({ parts }: { parts: readonly S["Part"][] }) {
  return (
    <table className="parts">
      <thead>
        <tr>
          <th>Ref</th>
          <th>Part</th>
          <th>Value</th>
          <th>Legs</th>
          <th>In drawer</th>
        </tr>
      </thead>
      <tbody>
        {parts.map((p) => (
          <tr key={p.ref}>
            <td>
              <b>{p.ref}</b>
            </td>
            <td>
              {p.title}
              <small>
                {p.rating}
                {p.on_board === false ? " Off the board." : ""}
              </small>
            </td>
            <td className="value">{p.value}</td>
            <td className="value">{(p.legs ?? []).map(shortLeg).join(" ")}</td>
            <td>{p.stock ? <b className="value">{p.stock}</b> : <span className="fails">to buy</span>}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
