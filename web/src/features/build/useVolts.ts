// What stands on every net at the cursor's moment, asked for when the cursor rests.
import { useEffect, useState } from "react";
import { about, call, client, plain } from "../../api/client";
import { useNow } from "../rehearsal/Rehearsal";
import { useWorkspace } from "../workspace/useDesign";

const REST = 250; // [ms]
const NONE: ReadonlyMap<string, string> = new Map();

export function useVolts(): ReadonlyMap<string, string> {
  const { opened, shown } = useWorkspace();
  const at = useNow();
  const [found, setFound] = useState(NONE);
  const { document } = opened;
  useEffect(() => {
    let wanted = true;
    const timer = setTimeout(() => {
      const body = {
        ...about(document),
        script: shown ? plain(shown) : null,
        at: Math.max(0, at),
      };
      call(client.POST("/api/board/volts", { body })).then(
        (answer) => wanted && setFound(new Map(Object.entries(answer.volts))),
        () => wanted && setFound(NONE),
      );
    }, REST);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [document, shown, at]);
  return found;
}
