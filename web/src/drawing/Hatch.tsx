// A hatched fill with an id of its own: several drawings may stand on one page.
import { useId } from "react";

/** The pattern to put into `defs`, and the fill that uses it. */
export function useHatch(size: number, colour: string) {
  const id = useId();
  const pattern = (
    <pattern id={id} width={size} height={size} patternUnits="userSpaceOnUse">
      <path d={`M0 ${size}L${size} 0`} stroke={colour} strokeWidth={1.2} />
    </pattern>
  );
  return [pattern, `url(#${id})`] as const;
}
