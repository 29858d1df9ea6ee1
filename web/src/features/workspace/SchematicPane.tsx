// The signal path's head and the schematic, lit at the cursor's moment.
import { Schematic } from "../../drawing/Schematic";
import { usePreferences } from "../../theme/mode";
import { useMoment } from "../rehearsal/Rehearsal";
import type { FacetProps } from "./types";
import { useWorkspace } from "./useDesign";

export function SchematicPane({ cursor, part, onPart }: FacetProps) {
  const { answer, commit } = useWorkspace();
  const { signals, schools, loads } = answer.evaluation;
  // Swapping one stage keeps all others and their values.
  const pick = (
    name: string,
    all: readonly { kind: string; title: string; in_use: boolean; changes: unknown }[],
  ) => (
    <label>
      <b>{name}</b>
      <select
        aria-label={name}
        value={all.find((c) => c.in_use)?.kind}
        onChange={(e) => {
          const to = all.find((c) => c.kind === e.target.value);
          if (to) void commit(to.changes as { path: string; value: unknown }[], `${to.title} chosen`);
        }}
      >
        {all.map((c) => (
          <option key={c.kind} value={c.kind}>
            {c.title}
          </option>
        ))}
      </select>
    </label>
  );
  const { us } = usePreferences();
  const moment = useMoment(cursor);
  return (
    <section className="schematic-pane" aria-label="Schematic">
      <p className="path">
        {pick("Signal", signals)}
        <span aria-hidden>›</span>
        {pick("Drive", schools)}
        <span aria-hidden>›</span>
        {pick("Load", loads)}
      </p>
      <Schematic
        drawing={answer.evaluation.drawing}
        lit={moment.lit}
        values={moment.values}
        closed={moment.closed}
        us={us}
        picked={part}
        onPick={onPart}
      />
    </section>
  );
}
