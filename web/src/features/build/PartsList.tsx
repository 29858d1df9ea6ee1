// What it is made of: value, rating, legs, what is in the drawer, what it costs, and what would do instead.
import { Fragment, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { about, call, client, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { useWorkspace } from "../workspace/useDesign";
import { shortLeg } from "./Legs";
import { Shopping } from "./Shopping";

export const coins = (value: number) => value.toFixed(2);

export function PartsList({ parts }: { parts: readonly S["Part"][] }) {
  const [open, setOpen] = useState<string | null>(null);
  return (
    <div className="parts-scroll" tabIndex={0} role="group" aria-label="Parts list">
      <table className="parts">
        <thead>
          <tr>
            <th>Ref</th>
            <th>Part</th>
            <th>Value</th>
            <th>Legs</th>
            <th>In drawer</th>
            <th>Price</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {parts.map((p) => (
            <Fragment key={p.ref}>
              <tr>
                <td>
                  <b>{p.ref}</b>
                </td>
                <td>
                  {(p.count ?? 1) > 1 && <b>{p.count} × </b>}
                  {p.title}
                  <small>
                    {[p.rating, p.package, p.on_board === false ? "off the board" : ""]
                      .filter(Boolean)
                      .join(", ")}
                  </small>
                </td>
                <td className="value">{p.value}</td>
                <td className="value">{(p.legs ?? []).map(shortLeg).join(" ")}</td>
                <td>
                  {(p.stock ?? 0) >= (p.count ?? 1) ? (
                    <b className="value">{p.stock}</b>
                  ) : (
                    <span className="fails">
                      {p.stock ? `${p.stock}, to buy ${(p.count ?? 1) - p.stock}` : "to buy"}
                    </span>
                  )}
                </td>
                <td className="value">{p.price ? coins(p.price) : ""}</td>
                <td>
                  {p.path && (p.card || p.kind === "resistor") && (
                    <button
                      className="link"
                      aria-expanded={open === p.ref}
                      onClick={() => setOpen(open === p.ref ? null : p.ref)}
                    >
                      Instead
                    </button>
                  )}
                </td>
              </tr>
              {open === p.ref && (
                <tr>
                  <td />
                  <td colSpan={6}>
                    <Instead part={p} onTaken={() => setOpen(null)} />
                  </td>
                </tr>
              )}
            </Fragment>
          ))}
        </tbody>
      </table>
      <Shopping />
    </div>
  );
}

function Instead({ part, onTaken }: { part: S["Part"]; onTaken: () => void }) {
  const { opened, commit } = useWorkspace();
  const found = useQuery({
    queryKey: ["substitutes", opened.id, opened.stamp, part.block, part.local],
    queryFn: () =>
      call(
        client.POST("/api/board/substitutes", {
          body: {
            ...about(opened.document),
            block: part.block,
            local: part.local,
          },
        }),
      ),
  });
  if (found.isPending) return <p role="status">Trying what would do …</p>;
  if (found.isError) return <p role="alert">It could not be tried: {found.error.message}</p>;
  if (found.data.rows.length === 0)
    return <p>Nothing else of this kind is known, or none of the drawer’s values is near.</p>;
  return (
    <table className="instead">
      <tbody>
        {found.data.rows.map((r) => (
          <tr key={r.title}>
            <td>
              <Glyph standing={r.standing} size={14} /> {r.title}
            </td>
            <td>{r.effect}</td>
            <td className="value">{r.stock ? `${r.stock} in drawer` : "to buy"}</td>
            <td>
              <button
                className="link"
                onClick={() => void commit(r.changes, `${part.ref}: ${r.title}`).then(onTaken)}
              >
                Take it
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
