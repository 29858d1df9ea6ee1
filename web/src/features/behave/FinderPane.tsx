// Values near what is wanted: each pair's time over all tolerances as a bar in the band that will do.
import { scaleLinear } from "d3-scale";
import { useState } from "react";
import type { S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { show } from "../../drawing/format";
import { useWorkspace } from "../workspace/useDesign";

const [W, TALL] = [220, 30];

export function FinderPane({ finder }: { finder: S["Finder"] }) {
  const { commit } = useWorkspace();
  const [chosen, setChosen] = useState(0);
  const school = finder.schools[chosen] ?? finder.schools[0]!;
  const { rows } = school;
  const most = Math.max(finder.high * 1.15, ...rows.map((r) => Math.min(r.high, finder.high * 1.6)));
  const x = scaleLinear()
    .domain([Math.min(finder.low * 0.7, ...rows.map((r) => r.low)), most])
    .range([0, W])
    .clamp(true);
  const ends = [finder.low, finder.wanted, finder.high];
  return (
    <section className="finder" aria-label={finder.title}>
      <header>
        <h3>{finder.title}</h3>
        <div className="toggle" role="group" aria-label="By which school">
          {finder.schools.map((s, k) => (
            <button key={s.title} aria-pressed={s === school} onClick={() => setChosen(k)}>
              {s.title}
            </button>
          ))}
        </div>
      </header>
      <div className="finder-scale" aria-hidden>
        <svg width={W} height={18}>
          {ends.map((v, k) => (
            <text
              key={k}
              className="ruler"
              x={x(v)}
              y={13}
              textAnchor="middle"
              fontWeight={k === 1 ? 700 : 400}
            >
              {show(v, finder.unit, 2)}
            </text>
          ))}
        </svg>
      </div>
      <ul>
        {rows.map((r) => (
          <li key={r.title} className={r.in_use ? "in-use" : ""}>
            <button
              aria-pressed={r.in_use}
              onClick={() => !r.in_use && void commit(r.changes, `${r.title} taken`)}
              title={r.in_use ? undefined : "Use it"}
            >
              <span>
                <b className="value">{r.title}</b>
                <small>
                  {r.in_use && "in use, "}
                  {r.detail}
                </small>
              </span>
              <svg width={W} height={TALL} aria-hidden>
                <rect
                  x={x(finder.low)}
                  width={x(finder.high) - x(finder.low)}
                  height={TALL}
                  className="band"
                />
                <path d={`M${x(finder.low)} 0V${TALL}M${x(finder.high)} 0V${TALL}`} className="edge" />
                <path d={`M${x(finder.wanted)} 0V${TALL}`} className="wanted" />
                <rect
                  x={x(r.low)}
                  y={9}
                  width={Math.max(2, x(r.high) - x(r.low))}
                  height={12}
                  className={`span ${r.standing}`}
                />
                <path d={`M${x(r.nominal)} 5V25`} className="nominal" />
              </svg>
              <b className="value">{show(r.nominal, finder.unit)}</b>
              <Glyph standing={r.standing} size={18} />
            </button>
          </li>
        ))}
      </ul>
      {rows.length === 1 && <p>Nothing else comes near. Another school may find more.</p>}
      {school.why && <p className="legend">{school.why}</p>}
      <p className="legend">{finder.note}</p>
    </section>
  );
}
