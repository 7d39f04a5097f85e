"use client";
import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import { createContext, type ReactNode, useCallback, useContext, useState } from "react";
import { describeRefusal } from "@/ui/api";

/** The result of an act in one sentence, and its undo; `redo` makes it again after an undo. */
export type Notice = {
  readonly text: string;
  readonly undo?: () => Promise<unknown>;
  readonly redo?: () => Promise<unknown>;
  /** The act was an undo itself: redo comes first. */
  readonly isUndone?: boolean;
};

type NextAct = { readonly label: string; readonly run: () => Promise<unknown>; readonly next: Notice };

/** Actions on the notice shown, and the notice after it. */
function nextAct({ undo, redo, isUndone }: Notice): NextAct | null {
  if (isUndone) return redo ? { label: "Redo", run: redo, next: { text: "Done again.", undo, redo } } : null;
  return undo ? { label: "Undo", run: undo, next: { text: "Undone.", undo, redo, isUndone: true } } : null;
}

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
  const act = shown && nextAct(shown);
  const turn = () => {
    if (!act) return;
    setBusy(true);
    act
      .run()
      .then(
        () => show(act.next),
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
              {act && (
                <Button onClick={turn} disabled={busy}>
                  {act.label}
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
