// The schematic beside the map: the step's part is marked in it, and a part picked in it is picked on the map.
import type { S } from "../../api/client";
import { Schematic } from "../../drawing/Schematic";
import { usePreferences } from "../../theme/mode";
import { useMoment } from "../rehearsal/Rehearsal";
import { useWorkspace } from "../workspace/useDesign";

type Props = { parts: readonly S["Part"][]; shown: string; onPick: (key: string) => void };

const keyOf = (part: S["Part"]) => `${part.block}.${part.local}`;

export function PartInSchematic({ parts, shown, onPick }: Props) {
  const { answer } = useWorkspace();
  const { us } = usePreferences();
  const moment = useMoment();
  const part = parts.find((p) => shown === keyOf(p) || shown.startsWith(`${keyOf(p)}.`));
  return (
    <div className="beside">
      <Schematic
        drawing={answer.evaluation.drawing}
        {...moment}
        us={us}
        picked={part?.path ?? null}
        onPick={(path) => {
          const found = parts.find((p) => p.path === path);
          if (found) onPick(keyOf(found));
        }}
      />
    </div>
  );
}
