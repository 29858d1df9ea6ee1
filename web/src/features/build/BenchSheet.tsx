// What is printed: the map at true scale, so that a part can be laid on the paper, and the steps with room for readings.
import type { S } from "../../api/client";

type Props = {
  id: string;
  name: string;
  steps: readonly S["Step"][];
  done: ReadonlySet<string>;
  plans: number;
};

export function BenchSheet({ id, name, steps, done, plans }: Props) {
  return (
    <section className="bench-sheet" aria-hidden>
      <h2>{name}</h2>
      <p>
        Print at 100 %, not fitted to the page: the seats lie 2.54 mm apart. Ten positions are{" "}
        <span className="measure" /> long.
      </p>
      {plans > 0 && <img src={`/api/designs/${id}/export/board?plan=${plans}`} alt="" />}
      <table>
        <thead>
          <tr>
            <th />
            <th>Step</th>
            <th>What to do</th>
            <th>Expect</th>
            <th>Read</th>
          </tr>
        </thead>
        <tbody>
          {steps.map((s, k) => (
            <tr key={s.id}>
              <td>{done.has(s.id) ? "☑" : "☐"}</td>
              <td>
                {k + 1}. {s.title}
              </td>
              <td>{s.detail}</td>
              <td className="value">{s.expect}</td>
              <td className="write">{s.action === "check" ? "" : "—"}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
