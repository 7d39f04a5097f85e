"use client";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import InputBase from "@mui/material/InputBase";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useState } from "react";
import { ROUTES } from "@/api/routes";
import type { CaseView } from "@/api/views";
import type { ErrorRecord } from "@/core/errors";
import { toErrorRecord } from "@/core/errors";
import { parseCaseLines, type SharedCase } from "@/core/formats/case-line";
import { ask, describeRefusal, recordOf } from "@/ui/api";
import { useNotice } from "@/ui/frame/notices";
import { Problem } from "@/ui/frame/problem";
import styles from "@/ui/views/reader/reader.module.css";

type Props = { readonly port: string; readonly twin: string; readonly detail: CaseView };

/** Changing, copying and deleting a case, each to be taken back. */
export function CaseActs({ port, twin, detail }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [editing, setEditing] = useState<"edit" | "copy" | null>(null);
  const notice = useNotice();
  const remove = () => {
    setAnchor(null);
    ask(ROUTES.dropCases, { ids: [detail.id] }, { port }).then(
      ({ dropped }) =>
        notice({
          text: `Deleted ${detail.id} from ${dropped[0]?.file ?? "its file"}.`,
          undo: () => ask(ROUTES.restoreCases, { dropped }, { port }),
        }),
      (thrown: unknown) => notice({ text: describeRefusal(thrown) }),
    );
  };
  const choose = (what: "edit" | "copy") => {
    setAnchor(null);
    setEditing(what);
  };
  return (
    <>
      <Button onClick={(event) => setAnchor(event.currentTarget)} aria-haspopup="menu" aria-expanded={anchor !== null}>
        Case …
      </Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <MenuItem onClick={() => choose("edit")}>Edit</MenuItem>
        <MenuItem onClick={() => choose("copy")}>Copy as a new case</MenuItem>
        <MenuItem onClick={remove}>Delete</MenuItem>
      </Menu>
      {editing && (
        <CaseEditor port={port} twin={twin} item={detail.item} what={editing} onClose={() => setEditing(null)} />
      )}
    </>
  );
}

type EditorProps = {
  readonly port: string;
  readonly twin: string;
  readonly item: SharedCase;
  readonly what: "edit" | "copy";
  readonly onClose: () => void;
};

/** A case as JSON, over several lines; saved as one line, and run at once. */
function CaseEditor({ port, twin, item, what, onClose }: EditorProps) {
  const before = what === "copy" ? { ...item, id: `${item.id}-copy` } : item;
  const [text, setText] = useState(() => JSON.stringify(withoutDefaults(before), null, 2));
  const [refusal, setRefusal] = useState<ErrorRecord | null>(null);
  const notice = useNotice();
  const save = () => {
    try {
      const given: SharedCase = JSON.parse(text); // checked below, and again by the server
      const [read] = parseCaseLines(JSON.stringify(given), "the case");
      if (!read) return;
      const saved =
        what === "copy"
          ? ask(ROUTES.addCase, { case: given }, { port })
          : ask(ROUTES.editCase, { id: item.id, case: given }, { port });
      const undo = () =>
        what === "copy"
          ? ask(ROUTES.dropCases, { ids: [read.id] }, { port })
          : ask(ROUTES.editCase, { id: read.id, case: item }, { port });
      saved.then(
        ({ file }) => {
          notice({ text: `Saved ${read.id} in ${file}, and run.`, undo });
          onClose();
          ask(ROUTES.startCheck, { caseId: read.id, ...(twin ? { twin } : {}) }, { port }).catch(() => undefined); // a running check has it next time
        },
        (thrown: unknown) => setRefusal(recordOf(thrown)),
      );
    } catch (thrown) {
      setRefusal(toErrorRecord(thrown instanceof SyntaxError ? notJson(thrown) : thrown));
    }
  };
  return (
    <Dialog
      open
      onClose={(_event, reason) => reason !== "backdropClick" && onClose()}
      fullWidth
      maxWidth="md"
      aria-labelledby="case-editor"
    >
      <DialogTitle id="case-editor">{what === "copy" ? "A copy of the case" : `Edit ${item.id}`}</DialogTitle>
      <DialogContent>
        <InputBase
          autoFocus
          multiline
          fullWidth
          minRows={8}
          maxRows={24}
          value={text}
          onChange={(event) => setText(event.target.value)}
          className={styles.caseText}
          inputProps={{ spellCheck: false, className: "mono", "aria-label": "The case as JSON" }}
        />
        {refusal && <Problem record={refusal} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button className="main" onClick={save}>
          Save and run it
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** Named arguments that are none were not written by anybody. */
function withoutDefaults(item: SharedCase): object {
  if (!("call" in item) || Object.keys(item.kwargs).length > 0) return item;
  const { kwargs: _none, ...rest } = item;
  return rest;
}

const notJson = (error: SyntaxError) => new Error(`This is not JSON: ${error.message}`);
