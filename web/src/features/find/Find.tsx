// Find or do anything: designs, facets, parts, verdicts and commands, by the words people use, right or wrong.
import Dialog from "@mui/material/Dialog";
import useAutocomplete from "@mui/material/useAutocomplete";

export type Findable = { title: string; hint: string; words?: string; go: () => void };

const SHOWN = 12;
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

/** What is meant by a text, the likeliest first. */
export function found(all: readonly Findable[], text: string): Findable[] {
  const asked = text.trim().toLowerCase();
  if (!asked) return all.slice(0, SHOWN);
  const also = ALSO.flatMap(([said, meant]) => (said.test(asked) ? meant.split(" ") : []));
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
    .slice(0, SHOWN);
}

export function Find({
  open,
  onClose,
  all,
}: {
  open: boolean;
  onClose: () => void;
  all: readonly Findable[];
}) {
  return (
    <Dialog
      open={open}
      onClose={onClose}
      fullWidth
      maxWidth="sm"
      aria-label="Find or do anything"
      slotProps={{ paper: { sx: { position: "fixed", top: 40 } } }}
    >
      <Box all={all} onClose={onClose} />
    </Dialog>
  );
}

function Box({ all, onClose }: { all: readonly Findable[]; onClose: () => void }) {
  const { getRootProps, getInputProps, getListboxProps, getOptionProps, groupedOptions } = useAutocomplete({
    options: all,
    open: true,
    autoHighlight: true,
    clearOnBlur: false,
    getOptionLabel: (f) => f.title,
    getOptionKey: (f) => f.title + f.hint,
    filterOptions: (options, { inputValue }) => found(options, inputValue),
    onChange: (_, f) => {
      if (!f) return;
      onClose();
      f.go();
    },
    onClose: (_, reason) => reason === "escape" && onClose(),
  });
  const options = groupedOptions as Findable[];
  return (
    <div className="find" {...getRootProps()}>
      <input
        {...getInputProps()}
        autoFocus
        aria-label="Find or do"
        placeholder="Find a design, part or check, or do something"
      />
      <ul {...getListboxProps()} aria-label="Found">
        {options.map((option, index) => {
          const { key, ...props } = getOptionProps({ option, index });
          return (
            <li key={key} {...props}>
              <b>{option.title}</b>
              <small>{option.hint}</small>
            </li>
          );
        })}
      </ul>
      {options.length === 0 && (
        <p className="none" role="status">
          Nothing here is called that. Try what it does: “switch”, “release”, “reading”.
        </p>
      )}
    </div>
  );
}
