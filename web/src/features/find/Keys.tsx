// The keys that answer now, on one sheet.
import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { keysNow } from "./keys";

export function KeysDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="keys-title">
      <DialogTitle id="keys-title">Keys</DialogTitle>
      <DialogContent>
        <div className="keys-sheet">
          {open &&
            keysNow().map(({ where, keys }) => (
              <section key={where} aria-label={where}>
                <h3>{where}</h3>
                <dl className="keys-list">
                  {keys.map((k) => (
                    <div key={k.shown + k.words}>
                      <dt>
                        <kbd>{k.shown}</kbd>
                      </dt>
                      <dd>{k.words}</dd>
                    </div>
                  ))}
                </dl>
              </section>
            ))}
        </div>
        <p>Letters act outside text fields.</p>
      </DialogContent>
    </Dialog>
  );
}
