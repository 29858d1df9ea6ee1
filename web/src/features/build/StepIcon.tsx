// What a step does: put a part in, draw a wire, move, take out, or read the meter.
const ICON: Record<string, string> = {
  place: "M0 8h5M15 8h5M5 4h10v8h-10z",
  move: "M1 4h7v7h-7zM11 8h8M15 4l4 4l-4 4",
  out: "M5 4h10v8h-10zM2 1l16 14",
  link: "M2 13C4 3 16 3 18 13M1 13h2M17 13h2",
  check: "M2 14A8 8 0 0 1 18 14M10 14L14 7",
};

export function StepIcon({ action }: { action: string }) {
  return (
    <svg width={20} height={17} viewBox="0 0 20 17" role="img" aria-label={action}>
      <path d={ICON[action]} fill="none" stroke="currentColor" strokeWidth={1.8} />
    </svg>
  );
}
