"use client";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import InputBase from "@mui/material/InputBase";
import { type FormEvent, useState } from "react";
import { ROUTES } from "@/api/routes";
import { ask, recordOf } from "@/ui/api";
import { useNotice } from "@/ui/frame/notices";
import styles from "@/ui/frame/place-link.module.css";
import { Problem } from "@/ui/frame/problem";
import { useAsk } from "@/ui/state/use-ask";
import { useView } from "@/ui/state/use-view";

/** A place in a file of a side; `side` null for files beside the port file. */
export type FilePlace = { readonly side: string | null; readonly file: string; readonly line: number };

type Props = { readonly port: string; readonly place: FilePlace; readonly words?: string };

/** A place as `file:line`: opens in the person's editor, and can be copied. */
export function PlaceLink({ port, place, words }: Props) {
  const { open, dialog } = useOpenPlace(port);
  const notice = useNotice();
  const text = `${place.file}:${place.line}`;
  const copy = () =>
    navigator.clipboard.writeText(text).then(
      () => notice({ text: `Copied ${text}` }),
      () => notice({ text: `The browser does not allow copying; it is ${text}` }),
    );
  return (
    <span className={styles.place}>
      <button type="button" className={styles.open} onClick={() => open(place)} title={`Open ${text} in your editor`}>
        {words ?? text}
      </button>
      <button type="button" className={styles.copy} onClick={copy} aria-label={`Copy ${text}`}>
        copy
      </button>
      {dialog}
    </span>
  );
}

/** Opens places; where no editor is set yet, the dialog that sets one. */
export function useOpenPlace(port: string) {
  const [asked, setAsked] = useState<FilePlace | null>(null);
  const notice = useNotice();
  const open = (place: FilePlace) =>
    void ask(ROUTES.openPlace, { side: place.side, file: place.file, line: place.line }, { port }).catch(
      (thrown: unknown) => {
        const record = recordOf(thrown);
        if (record.code === "toolchain-missing") setAsked(place);
        else notice({ text: [record.what, record.next].filter(Boolean).join(". ") });
      },
    );
  const dialog = asked && (
    <EditorDialog
      onClose={() => setAsked(null)}
      onSet={() => {
        setAsked(null);
        open(asked);
      }}
    />
  );
  return { open, dialog };
}

/** Sets the command that opens a place, once for this machine. */
export function EditorDialog({ onClose, onSet }: { onClose: () => void; onSet: () => void }) {
  const { data } = useView(ROUTES.editor, {});
  const [text, setText] = useState<string | null>(null);
  const { attempt, busy, refusal } = useAsk();
  const command = text ?? data?.command ?? data?.proposed[0] ?? "";
  const save = (event: FormEvent) => {
    event.preventDefault();
    attempt(async () => {
      await ask(ROUTES.setEditor, { command });
      onSet();
    });
  };
  return (
    <Dialog open onClose={onClose} aria-labelledby="editor-title" fullWidth maxWidth="sm">
      <form onSubmit={save}>
        <DialogTitle id="editor-title">Your editor</DialogTitle>
        <DialogContent>
          <p>
            The command that opens a place, with <span className="mono">{"{file}"}</span> and{" "}
            <span className="mono">{"{line}"}</span>. It is set once, for all ports.
          </p>
          <InputBase
            autoFocus
            fullWidth
            value={command}
            onChange={(event) => setText(event.target.value)}
            placeholder="an-editor +{line} {file}"
            inputProps={{ spellCheck: false, className: "mono", "aria-label": "Command of your editor" }}
          />
          {data && data.proposed.length > 0 && (
            <p className={styles.proposed}>
              Found on this machine:{" "}
              {data.proposed.map((proposed) => (
                <Button key={proposed} onClick={() => setText(proposed)}>
                  {proposed.split(" ", 1)[0]}
                </Button>
              ))}
            </p>
          )}
          {refusal && <Problem record={refusal} />}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" className="main" disabled={busy || command.trim() === ""}>
            Save and open
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
