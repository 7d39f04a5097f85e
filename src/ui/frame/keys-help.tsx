import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { Fragment, useEffect, useState } from "react";
import styles from "@/ui/frame/strip.module.css";
import { hasLetterKeys, type Key, setLetterKeys } from "@/ui/state/use-keys";

/** Lists the keys that work in the view. */
export function KeysHelp({ open, keys, onClose }: { open: boolean; keys: readonly Key[]; onClose: () => void }) {
  const [letters, setLetters] = useState(true);
  useEffect(() => setLetters(hasLetterKeys()), []);
  return (
    <Dialog open={open} onClose={onClose} aria-labelledby="keys-title">
      <DialogTitle id="keys-title">Keyboard shortcuts</DialogTitle>
      <DialogContent>
        <dl className={styles.keys}>
          {keys
            .filter((entry) => entry.does !== "")
            .map((entry) => (
              <Fragment key={entry.key}>
                <dt>
                  <kbd>{entry.shows ?? entry.key}</kbd>
                </dt>
                <dd>{entry.does}</dd>
              </Fragment>
            ))}
        </dl>
      </DialogContent>
      <label className={styles.letters}>
        <input
          type="checkbox"
          checked={letters}
          onChange={(event) => {
            setLetterKeys(event.target.checked);
            setLetters(event.target.checked);
          }}
        />
        Single letters and signs act. Without them the arrows, Enter and Escape remain, and <kbd>?</kbd>.
      </label>
      <DialogActions>
        <Button onClick={onClose} autoFocus>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
