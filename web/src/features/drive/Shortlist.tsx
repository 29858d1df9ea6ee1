// What would do: every card for one place, judged in this design; those that pass first, the others with what breaks.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { call, client, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { show } from "../../drawing/format";
import { useWorkspace } from "../workspace/useDesign";

type Key = "price" | "drop" | "heat" | "gate" | "package" | "stock";
const COLUMNS: { key: Key; title: string; unit: string }[] = [
  { key: "drop", title: "drop", unit: "V" },
  { key: "heat", title: "heat", unit: "W" },
  { key: "gate", title: "gate wants", unit: "V" },
  { key: "package", title: "body", unit: "" },
  { key: "price", title: "price", unit: "" },
  { key: "stock", title: "drawer", unit: "" },
];

export function Shortlist({ path, title, onClose }: { path: string; title: string; onClose: () => void }) {
  const { opened, commit } = useWorkspace();
  const [sort, setSort] = useState<Key>("price");
  const [owned, setOwned] = useState(false);
  const [failing, setFailing] = useState(false);
  const list = useQuery({
    queryKey: ["shortlist", opened.id, opened.stamp, path],
    queryFn: () =>
      call(
        client.POST("/api/shortlist", {
          body: { document: opened.document as unknown as Record<string, unknown>, path },
        }),
      ),
    placeholderData: (old) => old,
  });
  const rows = (list.data?.rows ?? []).filter((r) => !owned || r.stock > 0);
  const value = (r: S["Listed"], key: Key) => r[key] ?? Infinity;
  const sorted = [...rows].sort((a, b) => {
    const [x, y] = [value(a, sort), value(b, sort)];
    return sort === "stock" ? Number(y) - Number(x) : x < y ? -1 : x > y ? 1 : 0;
  });
  const good = sorted.filter((r) => r.standing !== "fails"),
    bad = sorted.filter((r) => r.standing === "fails");
  const shownColumns = COLUMNS.filter((c) => rows.some((r) => r[c.key] != null && r[c.key] !== ""));
  const row = (r: S["Listed"]) => (
    <tr key={r.card} className={r.in_use ? "in-use" : ""}>
      <td>
        <Glyph standing={r.standing} size={18} />
      </td>
      <td>
        <b>{r.title}</b>
        <small className="value">{r.brief}</small>
        {r.in_use ? (
          <span className="now">in use</span>
        ) : (
          <button className="do" onClick={() => void commit(r.changes, `${r.title} chosen`)}>
            Use it
          </button>
        )}
        {r.failing.map((f) => (
          <small key={f} className="fails">
            {f}
          </small>
        ))}
      </td>
      {shownColumns.map((c) => (
        <td key={c.key} className="value">
          {r[c.key] == null
            ? "–"
            : c.unit
              ? show(r[c.key] as number, c.unit, 2)
              : c.key === "price"
                ? r.price.toFixed(2)
                : r[c.key] || "none"}
        </td>
      ))}
    </tr>
  );
  return (
    <section
      className="shortlist"
      aria-label={`What would do for ${title}`}
      onKeyDown={(e) => e.key === "Escape" && onClose()}
    >
      <header>
        <h3>
          What would do <small>{title}</small>
        </h3>
        <button className="icon" aria-label="Close the shortlist" onClick={onClose}>
          ✕
        </button>
      </header>
      <div className="toggle" role="group" aria-label="From where">
        <button aria-pressed={owned} onClick={() => setOwned(true)}>
          My drawer
        </button>
        <button aria-pressed={!owned} onClick={() => setOwned(false)}>
          Catalogue
        </button>
      </div>
      {list.error && (
        <p role="alert" className="fails">
          No answer from the server.{" "}
          <button className="link" onClick={() => void list.refetch()}>
            Try again
          </button>
        </p>
      )}
      <table className="parts">
        <thead>
          <tr>
            <th>
              <span className="hidden">Standing</span>
            </th>
            <th>Part</th>
            {shownColumns.map((c) => (
              <th key={c.key} aria-sort={sort === c.key ? "ascending" : "none"}>
                <button aria-pressed={sort === c.key} onClick={() => setSort(c.key)}>
                  {c.title}
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {good.map(row)}
          {good.length === 0 && !list.isPending && (
            <tr>
              <td />
              <td colSpan={8}>
                None {owned ? "in the drawer " : ""}passes every check here. See below what breaks.
              </td>
            </tr>
          )}
          {(failing || good.length === 0) && bad.map(row)}
        </tbody>
      </table>
      {bad.length > 0 && good.length > 0 && (
        <button className="link" aria-expanded={failing} onClick={() => setFailing(!failing)}>
          {failing ? "Hide those that fail" : `${bad.length} fail, and why`}
        </button>
      )}
    </section>
  );
}
