"use client";
import Button from "@mui/material/Button";
import { useRef, useState } from "react";
import { urlOf } from "@/api/route";
import { PATHS, ROUTES } from "@/api/routes";
import { ApiError, ask, describeRefusal } from "@/ui/api";
import { plural } from "@/ui/format";
import { useNotice } from "@/ui/frame/notices";
import styles from "@/ui/views/cases/cases.module.css";

type Props = {
  readonly port: string;
  readonly twin: string;
  /** The list's filter: export covers what is listed. */
  readonly words: string;
  readonly onAdd: () => void;
  /** Runs and shows what came in. */
  readonly onImported: (ids: readonly string[]) => void;
};

/** Adds cases by hand, imports and exports them as JSON Lines. */
export function Exchange({ port, twin, words, onAdd, onImported }: Props) {
  const file = useRef<HTMLInputElement>(null);
  const say = useNotice();
  const [notice, setNotice] = useState<string | null>(null);
  const bring = async (chosen: File | undefined) => {
    if (!chosen) return;
    try {
      const done = await ask(ROUTES.importCases, { text: await chosen.text() }, { port });
      setNotice(null);
      say({
        text: `${plural(done.ids.length, "case")} from ${chosen.name} imported into ${done.file}, and run.${describeUnknown(done.unknown)}`,
        undo: () => ask(ROUTES.dropCases, { ids: done.ids }, { port }),
      });
      onImported(done.ids);
    } catch (thrown) {
      setNotice(thrown instanceof ApiError ? describeRefusal(thrown) : `${chosen.name} cannot be read: ${thrown}`);
    }
  };
  return (
    <div className={styles.exchange}>
      <Button onClick={onAdd}>
        Add <kbd>N</kbd>
      </Button>
      <Button onClick={() => file.current?.click()}>Import</Button>
      <Button component="a" href={urlOf(PATHS.exportCases, port, { words, twin })} download="cases.jsonl">
        Export these
      </Button>
      <input
        ref={file}
        type="file"
        accept=".jsonl,.ndjson,.json"
        className="visually-hidden"
        aria-label="JSON Lines to import"
        tabIndex={-1}
        onChange={(event) => {
          void bring(event.target.files?.[0]);
          event.target.value = "";
        }}
      />
      {notice && <p role="status">{notice}</p>}
    </div>
  );
}

const MAX_NAMED = 3;

/** Names the imported functions that the original does not have. */
function describeUnknown(names: readonly string[]): string {
  if (names.length === 0) return "";
  const more = names.length > MAX_NAMED ? ` and ${names.length - MAX_NAMED} more` : "";
  return ` The original has no section ${names.slice(0, MAX_NAMED).join(", ")}${more}.`;
}
