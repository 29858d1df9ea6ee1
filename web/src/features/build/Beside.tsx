// What meets beside the board: wires of their own, thick where they carry the load's current.
import type { S } from "../../api/client";

type Props = { plan: S["BoardPlan"]; step: S["Step"] | undefined };

export function Beside({ plan, step }: Props) {
  const meetings = plan.meetings ?? [];
  if (meetings.length === 0) return null;
  const heavy = new Set(plan.heavy);
  return (
    <ul className="beside-board" aria-label="Joined beside the board">
      {meetings.map((m) => {
        const thick = m.ends.some((e) => heavy.has(e.part));
        return (
          <li
            key={m.net}
            className={`${thick ? "thick" : ""} ${step?.id === `meet.${m.net}` ? "now" : ""}`}
            title={thick ? "Carries the load's current: a thick wire" : undefined}
          >
            {m.ends.map((e, k) => (
              <span key={k}>
                {k > 0 && (
                  <svg width={22} height={8} aria-hidden>
                    <path d="M0 4h22" />
                  </svg>
                )}
                {e.ref} {e.leg.toUpperCase()}
              </span>
            ))}
            {thick && <small> thick</small>}
          </li>
        );
      })}
    </ul>
  );
}
