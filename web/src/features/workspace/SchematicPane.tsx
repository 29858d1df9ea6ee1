// The signal path's head and the schematic, lit at the cursor's moment.
import { Schematic } from "../../drawing/Schematic";
import { usePreferences } from "../../theme/mode";
import { useMoment } from "../rehearsal/Rehearsal";
import type { FacetProps } from "./types";
import { useWorkspace } from "./useDesign";

export function SchematicPane({ cursor, part, onPart }: FacetProps) {
  const { answer } = useWorkspace();
  const { us } = usePreferences();
  const moment = useMoment(cursor);
  return (
    <section className="schematic-pane" aria-label="Schematic">
      <p className="path">
        <b>Signal</b><span aria-hidden>›</span><span>no timing</span><span aria-hidden>›</span><span>no hold</span><span aria-hidden>›</span><b>Drive</b><span aria-hidden>›</span><b>Load</b>
      </p>
      <Schematic drawing={answer.evaluation.drawing} lit={moment.lit} values={moment.values} closed={moment.closed} us={us} picked={part} onPick={onPart} />
    </section>
  );
}
