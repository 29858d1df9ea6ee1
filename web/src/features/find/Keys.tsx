// All keys on one sheet.
import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";

const KEYS: [string, string][] = [
  ["1 – 6", "facet"],
  ["Shift 1 – 6", "channel"],
  ["[  ]", "previous, next verdict"],
  ["W", "working"],
  ["R", "rehearsal"],
  ["E", "rehearsal, large"],
  ["← →  on an event", "move it; with Shift, further"],
  ["Enter, Del  on an event", "change it, remove it"],
  [",  .", "previous, next event"],
  ["Space", "play"],
  ["Enter", "done and next"],
  ["O  S  U", "over range, skip, undo (empty reading field)"],
  ["Ctrl Z", "undo"],
  ["Ctrl Shift Z", "redo"],
  ["/", "find or do anything"],
  ["N", "new design"],
  ["?", "this sheet"],
];

export function KeysDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="keys-title">
      <DialogTitle id="keys-title">Keys</DialogTitle>
      <DialogContent>
        <dl className="keys-list">
          {KEYS.map(([k, w]) => (
            <div key={k}>
              <dt>
                <kbd>{k}</kbd>
              </dt>
              <dd>{w}</dd>
            </div>
          ))}
        </dl>
        <p>Letters act outside text fields.</p>
      </DialogContent>
    </Dialog>
  );
}
