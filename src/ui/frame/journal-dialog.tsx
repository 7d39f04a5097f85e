"use client";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import InputBase from "@mui/material/InputBase";
import { type FormEvent, useState } from "react";
import { ROUTES } from "@/api/routes";
import { ask } from "@/ui/api";
import { useNotice } from "@/ui/frame/notices";
import { Problem } from "@/ui/frame/problem";
import { useAsk } from "@/ui/state/use-ask";

/** The place that an entry is about. */
export type JournalPlace = {
  readonly module?: string | null;
  readonly section?: string | null;
  readonly case?: string | null;
  /** Text that an entry begins with, such as a complaint with its file and line. */
  readonly quote?: string | null;
};

const KINDS = ["note", "decision", "assumption"] as const;

type Props = {
  readonly port: string;
  readonly about: JournalPlace;
  readonly onClose: () => void;
};

/** An entry for the journal, written where its reason is seen. */
export function JournalDialog({ port, about: { quote, ...about }, onClose }: Props) {
  const [kind, setKind] = useState<(typeof KINDS)[number]>("note");
  const [text, setText] = useState(quote ?? "");
  const { attempt, busy, refusal } = useAsk();
  const notice = useNotice();
  const place = Object.fromEntries(Object.entries(about).filter(([, value]) => value)) as { [key: string]: string };
  const save = (event: FormEvent) => {
    event.preventDefault();
    attempt(async () => {
      await ask(ROUTES.addEntry, { kind, text: text.trim(), ...place }, { port });
      notice({ text: "Written into the journal." });
      onClose();
    });
  };
  return (
    <Dialog
      open
      onClose={(_event, reason) => reason !== "backdropClick" && onClose()}
      fullWidth
      maxWidth="sm"
      aria-labelledby="journal-title"
    >
      <form onSubmit={save}>
        <DialogTitle id="journal-title">Write into the journal</DialogTitle>
        <DialogContent>
          <p className="soft">About {Object.values(place).join(", ") || "the port"}</p>
          <p>
            {KINDS.map((name) => (
              <label key={name} style={{ marginRight: 16 }}>
                <input type="radio" name="kind" checked={kind === name} onChange={() => setKind(name)} /> {name}
              </label>
            ))}
          </p>
          <InputBase
            autoFocus
            multiline
            fullWidth
            minRows={3}
            value={text}
            onChange={(event) => setText(event.target.value)}
            placeholder={kind === "assumption" ? "what is taken to be so" : "what, and why"}
            inputProps={{ "aria-label": "Text of the entry" }}
          />
          {refusal && <Problem record={refusal} />}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" className="main" disabled={busy || text.trim() === ""}>
            Write
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
