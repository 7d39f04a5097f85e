import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { Fragment } from "react";
import styles from "@/ui/frame/strip.module.css";
import type { Key } from "@/ui/state/use-keys";

/** Lists the keys that work in the view. */
export function KeysHelp({ open, keys, onClose }: { open: boolean; keys: readonly Key[]; onClose: () => void }) {
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
      <DialogActions>
        <Button onClick={onClose} autoFocus>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
