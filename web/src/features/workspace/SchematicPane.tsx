// The flow of blocks over the schematic, both lit at the cursor's moment.
import { Schematic } from "../../drawing/Schematic";
import { usePreferences } from "../../theme/mode";
import { Flow } from "../flow";
import { useMoment } from "../rehearsal/Rehearsal";
import type { FacetProps } from "./types";
import { useWorkspace } from "./useDesign";

export function SchematicPane({ part, onPart }: FacetProps) {
  const { answer, openChannel } = useWorkspace();
  const { us } = usePreferences();
  const moment = useMoment();
  return (
    <section className="schematic-pane" aria-label="Schematic">
      <Flow lit={moment.lit} />
      <Schematic
        drawing={answer.evaluation.drawing}
        {...moment}
        us={us}
        picked={part}
        onPick={onPart}
        onOpen={openChannel}
      />
    </section>
  );
}
