// The wall: what lies above it is rated for information and never wired here.
import type { S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";

export function Wall({ wall }: { wall: S["Wall"] }) {
  return (
    <section className={`wall ${wall.above ? "above" : ""}`} aria-label={`Above ${wall.limit}: ratings only`}>
      <span className="wall-tag value">{wall.limit}</span>
      <h3>{wall.above ? `${wall.volts}: ratings only` : `Above ${wall.limit}: ratings only`}</h3>
      {wall.above ? (
        <p>
          <b>No wiring steps, no board plan.</b>
        </p>
      ) : (
        <p>At {wall.volts} this one can be built.</p>
      )}
      {wall.says.map((s) => (
        <p key={s}>{s}</p>
      ))}
      <ul>
        {wall.ratings.map((r) => (
          <li key={r.title}>
            <Glyph standing={r.standing} size={18} />
            <b>{r.title}</b>
            <span className="value">{r.text}</span>
            <small>{r.margin}</small>
          </li>
        ))}
      </ul>
    </section>
  );
}
