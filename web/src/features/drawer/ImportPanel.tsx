// A file of cards, row by row: what is new, what is the same, what was not read and why. Nothing is kept until confirmed.
import { useState } from "react";
import { call, client, Refused, type Problem, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";

export function ImportPanel({
  name,
  rows,
  onKept,
  onClose,
}: {
  name: string;
  rows: readonly S["Row"][];
  onKept: (all: S["DrawerOut"]) => void;
  onClose: () => void;
}) {
  const [problem, setProblem] = useState<Problem | null>(null);
  const good = rows.filter((r) => r.status === "new" || r.status === "changed");
  const bad = rows.filter((r) => r.status === "refused");
  const number = (s: string) => rows.filter((r) => r.status === s).length;
  const keep = async () => {
    try {
      onKept(
        await call(
          client.POST("/api/drawer/rows", {
            body: {
              name,
              rows: good.map((r) => ({ card: r.card as Record<string, unknown>, stock: r.stock })),
            },
          }),
        ),
      );
    } catch (e) {
      setProblem(
        e instanceof Refused
          ? (e.problems[0] ?? null)
          : {
              field: "",
              message: "No answer from the server. Nothing was kept.",
              got: "",
              allowed: "",
              suggestion: null,
            },
      );
    }
  };
  return (
    <section className="import" aria-label={`Import ${name}`}>
      <header>
        <h3>Import {name}</h3>
        <span>
          <b>{number("new")}</b> new, <b>{number("changed")}</b> changed, <b>{number("same")}</b> the same
          {bad.length > 0 && (
            <>
              , <b className="fails">{bad.length} not read</b>
            </>
          )}
        </span>
        <small>nothing is saved yet</small>
      </header>
      <div className="import-rows">
        <table className="parts">
          <thead>
            <tr>
              <th>row</th>
              <th>name</th>
              <th>kind</th>
              <th>stock</th>
              <th>
                <span className="hidden">Standing</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.number} className={r.status}>
                <td className="value">{r.number}</td>
                <td>{r.title || "–"}</td>
                <td>{r.kind || "–"}</td>
                <td className="value">{r.stock}</td>
                <td>
                  {r.status === "refused"
                    ? r.problems.map((p, k) => (
                        <span key={k} className="fails">
                          <Glyph standing="fails" size={15} /> <b className="value">{p.field}</b> {p.message}
                          {p.suggestion ? ` Try ${p.suggestion}.` : ""}{" "}
                        </span>
                      ))
                    : r.note}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {problem && (
        <p role="alert" className="fails">
          {problem.message}
        </p>
      )}
      <div className="actions">
        <button className="primary" disabled={good.length === 0} onClick={() => void keep()}>
          {bad.length > 0 ? `Import ${good.length}, leave ${bad.length} out` : `Import ${good.length}`}
        </button>
        <button className="secondary" onClick={onClose}>
          Do not import
        </button>
        <span className="grow" />
        <small>Undo takes it all back</small>
      </div>
    </section>
  );
}
