// What becomes of a dip of the supply, by its depth and its length.
import { Glyph } from "../../drawing/Badge";
import type { S } from "../../api/client";
import { show } from "../../drawing/format";

type Dip = { volts: number; seconds: number };

export function DipTable<D extends Dip>(props: {
  dips: readonly D[];
  label: string;
  corner: string; // what stands over the volts
  told: (dip: D) => { standing: S["Verdict"]["standing"]; words: string };
}) {
  const { dips, label, corner, told } = props;
  const volts = [...new Set(dips.map((d) => d.volts))];
  const lengths = [...new Set(dips.map((d) => d.seconds))];
  return (
    <table className="dips" aria-label={label}>
      <thead>
        <tr>
          <th scope="col">{corner}</th>
          {lengths.map((s) => (
            <th key={s} scope="col">
              for {show(s, "s")}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {volts.map((v) => (
          <tr key={v}>
            <th scope="row">{show(v, "V", 2)}</th>
            {lengths.map((s) => {
              const found = dips.find((d) => d.volts === v && d.seconds === s);
              if (!found) return <td key={s} />;
              const { standing, words } = told(found);
              return (
                <td key={s}>
                  <Glyph standing={standing} size={14} /> {words}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
