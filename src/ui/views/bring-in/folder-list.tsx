"use client";
import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { ROUTES } from "@/api/routes";
import type { FolderView } from "@/api/views";
import { Problem } from "@/ui/frame/problem";
import { useView } from "@/ui/state/use-view";
import styles from "@/ui/views/bring-in/bring-in.module.css";

type Props = {
  readonly folder: string | null;
  readonly onFolder: (folder: string) => void;
  /** Actions for the shown folder. */
  readonly children: (here: FolderView | null) => ReactNode;
};

/** Walks through the folders of this machine, confined to what the server was started for. */
export function FolderList({ folder, onFolder, children }: Props) {
  const { data, error } = useView(ROUTES.folder, { folder });
  return (
    <>
      <div className={`mono ${styles.crumb}`}>{data?.folder ?? "…"}</div>
      {error && <Problem record={error} />}
      <ul className={styles.folders} aria-label="Folders">
        {data?.parent && (
          <li>
            <Button onClick={() => onFolder(data.parent ?? "")} fullWidth>
              ↑ one folder up
            </Button>
          </li>
        )}
        {data?.entries.map((entry) => (
          <li key={entry.name}>
            <Button onClick={() => onFolder(`${data.folder === "/" ? "" : data.folder}/${entry.name}`)} fullWidth>
              {entry.name}
              {entry.hasPort && <span className={styles.holds}>holds a port</span>}
            </Button>
          </li>
        ))}
        {data && data.entries.length === 0 && <li className="soft">No folders inside.</li>}
      </ul>
      {children(data)}
    </>
  );
}
