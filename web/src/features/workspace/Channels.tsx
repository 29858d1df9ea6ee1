// Which of several channels is open: alike ones are joined by a double line and edited as one.
import { useState } from "react";
import type { S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { useWorkspace } from "./useDesign";

type Channel = S["Channel"];

/** "1 and 2", "1, 2 and 3". */
const listed = (numbers: readonly number[]) =>
  numbers.length < 2
    ? `${numbers[0]}`
    : `${numbers.slice(0, -1).join(", ")} and ${numbers[numbers.length - 1]}`;

const linked = (a: Channel, b: Channel | undefined) => b !== undefined && a.alike.includes(b.number);

export function Channels() {
  const { answer, channel, openChannel, commit } = useWorkspace();
  const [asking, setAsking] = useState(false);
  const { channels, flow } = answer.evaluation;
  if (channels.length < 2) return null;
  const open = channels.find((c) => c.number === channel);
  const standing = (c: Channel) => flow.blocks.find((b) => b.id === c.load)?.standing ?? "unknown";
  const together = async () => {
    if (!open) return;
    setAsking(false);
    await commit(open.together ?? [], "All channels alike");
  };
  return (
    <section className="channels" aria-label="Channels">
      <div role="group" aria-label="Open channel">
        {channels.map((c, k) => (
          <span key={c.load} className="channel-seat">
            {k > 0 && <i aria-hidden className={linked(c, channels[k - 1]) ? "alike" : "apart"} />}
            <button
              className="channel"
              aria-pressed={c.number === channel}
              data-alike={!!open && open.alike.includes(c.number)}
              title={`${c.title}  Shift+${c.number}`}
              onClick={() => openChannel(c.number)}
            >
              <Glyph standing={standing(c)} size={18} />
              <b className="channel-number">{c.number}</b>
              <span>
                <b>{c.title}</b>
                <small className="value">{c.value}</small>
              </span>
            </button>
          </span>
        ))}
        <button className="link" aria-pressed={channel === 0} onClick={() => openChannel(0)}>
          All
        </button>
      </div>
      {open && (
        <p>
          {open.alike.length > 1 ? (
            <>
              You edit <b>{listed(open.alike)}</b> at once.
            </>
          ) : (
            <>
              <b>{open.number}</b> stands by itself{open.differs ? `: ${open.differs}` : ""}.
            </>
          )}
          {(open.apart ?? []).length > 0 && (
            <button
              className="link"
              onClick={() => void commit(open.apart ?? [], `Channel ${open.number} told apart`)}
            >
              Tell {open.number} apart
            </button>
          )}
          {(open.together ?? []).length > 0 && (
            <button
              className="link"
              aria-expanded={asking}
              onClick={() => (open.lost ? setAsking(!asking) : void together())}
            >
              All alike
            </button>
          )}
          {asking && open.lost && (
            <span role="status">
              Overwrites {open.lost} with the values of {open.number}.
              <button className="do" onClick={() => void together()}>
                Make them alike
              </button>
            </span>
          )}
        </p>
      )}
    </section>
  );
}
