"use client";
import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import { ROUTES } from "@/api/routes";
import { ask } from "@/ui/api";
import { useAsk } from "@/ui/state/use-ask";

const SHOWN_MS = 20_000;

type Props = {
  readonly port: string;
  readonly snapshot: string;
  readonly onUndone: () => void;
  readonly onClose: () => void;
};

/** What was saved can be taken back for a while; later from the Journal. */
export function SavedNotice({ port, snapshot, onUndone, onClose }: Props) {
  const { attempt, busy, refusal } = useAsk();
  const undo = () =>
    attempt(async () => {
      await ask(ROUTES.undo, { id: snapshot }, { port });
      onUndone();
    });
  return (
    <Snackbar
      open
      key={snapshot}
      autoHideDuration={SHOWN_MS}
      onClose={(_event, reason) => reason === "timeout" && onClose()}
      message={refusal ? refusal.what : "Saved, and checked again."}
      action={
        <>
          <Button onClick={undo} disabled={busy}>
            Undo
          </Button>
          <Button onClick={onClose}>Close</Button>
        </>
      }
    />
  );
}
