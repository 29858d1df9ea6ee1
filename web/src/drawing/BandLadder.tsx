// One rung: every band falls in the same vertical channel, whatever its scale.
import { Glyph } from "./Badge";

const [LOW, HIGH] = [36, 62]; // the channel, in percent of the width

export function Rung({
  place,
  standing,
  unit = true,
}: {
  place: number | null;
  standing: "inside" | "outside" | null;
  unit?: boolean;
}) {
  const x = place === null ? null : Math.max(3, Math.min(97, LOW + place * (HIGH - LOW)));
  const far = place !== null && (place > 2.2 || place < -1.2);
  return (
    <div className="rung" aria-hidden={!unit}>
      <i className="rung-line" />
      <i className="rung-band" style={{ left: `${LOW}%`, width: `${HIGH - LOW}%` }} />
      {x !== null && standing && (
        <span className="rung-mark" style={{ left: `${x}%` }}>
          {far && <span className="rung-far">{place! > 0 ? "»" : "«"}</span>}
          <Glyph standing={standing} size={20} />
        </span>
      )}
    </div>
  );
}
