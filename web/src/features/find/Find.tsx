// Find or do anything: designs, facets, parts, verdicts and commands, by the words people use, right or wrong.
import Dialog from "@mui/material/Dialog";
import { useMemo, useState } from "react";

export type Findable = { title: string; hint: string; words?: string; go: () => void };

// What people call things, and what they are called here.
const ALSO: [RegExp, string][] = [
  [/kick|flyback|snubber diode|free.?wheel|back.?emf|catch diode/i, "guard freewheel diode"],
  [/n.?channel|fet|mos/i, "mosfet drive"],
  [/transistor|bjt|npn|darlington/i, "bipolar drive"],
  [/relay|solenoid|coil/i, "load coil"],
  [/multimeter|voltmeter|measure|test/i, "prove reading"],
  [/solder|breadboard|assemble|wiring/i, "build steps"],
  [/pull.?down|pull.?up|bleed/i, "pull-down"],
  [/scope|wave|simulat/i, "rehearsal"],
];

export function Find({ open, onClose, all }: { open: boolean; onClose: () => void; all: Findable[] }) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const found = useMemo(() => {
    const asked = text.trim().toLowerCase();
    if (!asked) return all.slice(0, 12);
    const also = ALSO.filter(([r]) => r.test(asked))
      .map(([, w]) => w.split(" "))
      .flat();
    const score = (f: Findable) => {
      const hay = `${f.title} ${f.hint} ${f.words ?? ""}`.toLowerCase();
      if (asked.split(/\s+/).every((w) => hay.includes(w)))
        return f.title.toLowerCase().startsWith(asked) ? 3 : 2;
      return also.some((w) => hay.includes(w)) ? 1 : 0;
    };
    return all
      .map((f) => [score(f), f] as const)
      .filter(([s]) => s > 0)
      .sort((a, b) => b[0] - a[0])
      .map(([, f]) => f)
      .slice(0, 12);
  }, [text, all]);
  const go = (f: Findable | undefined) => {
    if (!f) return;
    onClose();
    setText("");
    f.go();
  };
  return (
    <Dialog
      open={open}
      onClose={onClose}
      fullWidth
      maxWidth="sm"
      aria-label="Find or do anything"
      slotProps={{ paper: { sx: { position: "fixed", top: 40 } } }}
    >
      <div className="find">
        <input
          autoFocus
          aria-label="Find or do"
          placeholder="Find a design, part or check, or do something"
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            setAt(0);
          }}
          onKeyDown={(e) => {
            if (e.key === "ArrowDown") {
              e.preventDefault();
              setAt(Math.min(at + 1, found.length - 1));
            }
            if (e.key === "ArrowUp") {
              e.preventDefault();
              setAt(Math.max(at - 1, 0));
            }
            if (e.key === "Enter") go(found[at]);
          }}
        />
        <ul>
          {found.map((f, k) => (
            <li key={f.title + f.hint}>
              <button className={k === at ? "now" : ""} onMouseEnter={() => setAt(k)} onClick={() => go(f)}>
                <b>{f.title}</b>
                <small>{f.hint}</small>
              </button>
            </li>
          ))}
          {found.length === 0 && (
            <li className="none">
              Nothing here is called that. Try what it does: “switch”, “release”, “reading”.
            </li>
          )}
        </ul>
      </div>
    </Dialog>
  );
}
