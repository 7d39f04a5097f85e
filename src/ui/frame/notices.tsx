"use client";
import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import { createContext, type ReactNode, useCallback, useContext, useState } from "react";
import { describeRefusal } from "@/ui/api";

/** The result of an act in one sentence, and its undo. */
export type Notice = { readonly text: string; readonly undo?: () => Promise<unknown> };

const NoticeContext = createContext<(notice: Notice) => void>(() => undefined);

/** Shows what an act did, until the next one or for a while. */
export const useNotice = (): ((notice: Notice) => void) => useContext(NoticeContext);

const SHOWN_MS = 20_000;

/** One notice at a time, at the foot of every view; spoken once. */
export function Notices({ children }: { children: ReactNode }) {
  const [shown, setShown] = useState<(Notice & { readonly id: number }) | null>(null);
  const [busy, setBusy] = useState(false);
  const show = useCallback((notice: Notice) => setShown((before) => ({ ...notice, id: (before?.id ?? 0) + 1 })), []);
  const close = () => setShown(null);
  const undo = () => {
    if (!shown?.undo) return;
    setBusy(true);
    shown
      .undo()
      .then(
        () => show({ text: "Undone." }),
        (thrown: unknown) => show({ text: describeRefusal(thrown) }),
      )
      .finally(() => setBusy(false));
  };
  return (
    <NoticeContext value={show}>
      {children}
      {shown && (
        <Snackbar
          key={shown.id}
          open
          autoHideDuration={SHOWN_MS}
          // Where it covers no button: what can be done with a case is at the left, its verdict at the right.
          anchorOrigin={{ vertical: "bottom", horizontal: "center" }}
          onClose={(_event, reason) => reason !== "clickaway" && close()}
          message={shown.text}
          action={
            <>
              {shown.undo && (
                <Button onClick={undo} disabled={busy}>
                  Undo
                </Button>
              )}
              <Button onClick={close}>Close</Button>
            </>
          }
        />
      )}
    </NoticeContext>
  );
}
