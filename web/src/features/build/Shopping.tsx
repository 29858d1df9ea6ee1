// What is to be bought, for this design alone or for several: what they share is counted once against the drawer.
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { call, client } from "../../api/client";
import { useWorkspace } from "../workspace/useDesign";
import { coins } from "./PartsList";

export function Shopping() {
  const { opened } = useWorkspace();
  const [others, setOthers] = useState<readonly string[]>([]);
  const shelf = useQuery({ queryKey: ["shelf"], queryFn: () => call(client.GET("/api/shelf")) });
  const designs = [opened.id, ...others];
  const list = useQuery({
    queryKey: ["shopping", opened.stamp, ...designs],
    queryFn: () => call(client.POST("/api/shopping", { body: { designs } })),
  });
  const toggle = (id: string) =>
    setOthers(others.includes(id) ? others.filter((o) => o !== id) : [...others, id]);
  const rows = list.data?.rows.filter((r) => r.buy > 0) ?? [];
  return (
    <section className="shopping" aria-label="Shopping list">
      <h3>
        Shopping list{" "}
        <small>
          {list.data
            ? `${list.data.buy} of ${list.data.parts} parts to buy, ${coins(list.data.cost)} in all`
            : "counting …"}
        </small>
      </h3>
      <details>
        <summary>For other designs too{others.length > 0 && ` (${others.length})`}</summary>
        <ul>
          {shelf.data?.designs
            .filter((d) => d.id !== opened.id)
            .map((d) => (
              <li key={d.id}>
                <label>
                  <input type="checkbox" checked={others.includes(d.id)} onChange={() => toggle(d.id)} />{" "}
                  {d.name}
                </label>
              </li>
            ))}
        </ul>
      </details>
      {list.isError && <p role="alert">It could not be counted: {list.error.message}</p>}
      {list.data && rows.length === 0 && <p>Everything is in the drawer.</p>}
      {rows.length > 0 && (
        <table className="parts">
          <thead>
            <tr>
              <th>Buy</th>
              <th>Part</th>
              <th>Value</th>
              <th>For</th>
              <th>Each</th>
              <th>Cost</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={`${r.title}${r.value}`}>
                <td className="value">
                  {r.buy}
                  {r.stock > 0 && <small> of {r.need}</small>}
                </td>
                <td>
                  {r.title} <small>{r.package}</small>
                </td>
                <td className="value">{r.value}</td>
                <td>
                  <small>{r.used.join(", ")}</small>
                </td>
                <td className="value">{r.price ? coins(r.price) : ""}</td>
                <td className="value">{r.cost ? coins(r.cost) : ""}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <a className="link" href={`/api/shopping.csv?${designs.map((d) => `design=${d}`).join("&")}`}>
        Shopping list as CSV
      </a>
    </section>
  );
}
