"use client";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { useState } from "react";
import type { ErrorRecord } from "@/core/errors";
import type { FolderView } from "@/core/progress/views";
import { ApiError, call } from "@/ui/api";
import { Problem } from "@/ui/frame/problem";
import { useResource } from "@/ui/state/use-resource";
import styles from "@/ui/views/ports/ports.module.css";

/** Chooses a folder on this machine that holds a port file. */
export function BringIn({ onClose, onAdded }: { onClose: () => void; onAdded: (id: string) => void }) {
  const [folder, setFolder] = useState<string | null>(null);
  const { data, error } = useResource<FolderView>(
    `/api/folders${folder === null ? "" : `?folder=${encodeURIComponent(folder)}`}`,
  );
  const [refusal, setRefusal] = useState<ErrorRecord | null>(null);
  const enter = (next: string) => {
    setRefusal(null);
    setFolder(next);
  };
  const add = (wanted: string) => {
    setRefusal(null);
    call<{ id: string }>("/api/ports", { method: "POST", body: { folder: wanted } }).then(
      ({ id }) => onAdded(id),
      (thrown: unknown) => thrown instanceof ApiError && setRefusal(thrown.record),
    );
  };
  return (
    <Dialog open onClose={onClose} aria-labelledby="bring-in" fullWidth maxWidth="sm">
      <DialogTitle id="bring-in">Bring in a port</DialogTitle>
      <DialogContent>
        <p className="soft">
          Choose the folder with the port file. It stays where it is; its files are only read, and run when you check.
        </p>
        <div className={`mono ${styles.crumb}`}>{data?.folder ?? "…"}</div>
        {error && <Problem record={error} />}
        {refusal && (
          <div className={styles.refusal}>
            <Problem record={refusal} />
          </div>
        )}
        <ul className={styles.folders} aria-label="Folders">
          {data?.parent && (
            <li>
              <Button onClick={() => enter(data.parent ?? "")} fullWidth>
                ↑ one folder up
              </Button>
            </li>
          )}
          {data?.entries.map((entry) => (
            <li key={entry.name}>
              <Button onClick={() => enter(`${data.folder === "/" ? "" : data.folder}/${entry.name}`)} fullWidth>
                {entry.name}
                {entry.hasPort && <span className={styles.holds}>holds a port</span>}
              </Button>
            </li>
          ))}
          {data && data.entries.length === 0 && <li className="soft">No folders inside.</li>}
        </ul>
      </DialogContent>
      <DialogActions>
        <span className="soft">{data && !data.hasPort ? "There is no side-twin.json in this folder." : ""}</span>
        <Button onClick={onClose}>Cancel</Button>
        <Button className="main" disabled={!data?.hasPort} onClick={() => data && add(data.folder)}>
          Bring in this folder
        </Button>
      </DialogActions>
    </Dialog>
  );
}
