"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { type DragEvent, useEffect, useState } from "react";
import type { FoundView, Source } from "@/api/bring-in-views";
import { ROUTES } from "@/api/routes";
import { ask, uploadZip } from "@/ui/api";
import { plural } from "@/ui/format";
import { Problem } from "@/ui/frame/problem";
import { useAsk } from "@/ui/state/use-ask";
import { useView } from "@/ui/state/use-view";
import styles from "@/ui/views/bring-in/bring-in.module.css";
import { FolderList } from "@/ui/views/bring-in/folder-list";

const KINDS = [
  ["folder", "A folder on this machine", "It stays where it is and is watched."],
  ["git", "A git repository on this machine", "A copy of one revision, with its history, goes into the data folder."],
  ["zip", "A zip", "It is unpacked into the data folder."],
] as const;

type Props = {
  readonly onFound: (found: FoundView) => void;
  /** A port that is there already is only listed. */
  readonly onPort: (id: string) => void;
  readonly onLeave: () => void;
};

/** Chooses a folder, git revision or zip. */
export function ChooseSource({ onFound, onPort, onLeave }: Props) {
  const [kind, setKind] = useState<(typeof KINDS)[number][0]>("folder");
  const [folder, setFolder] = useState<string | null>(null);
  const { attempt, busy, refusal, clear } = useAsk();
  const inspect = (source: Source) => attempt(async () => onFound(await ask(ROUTES.inspect, source)));
  const choose = (next: typeof kind) => {
    clear();
    setKind(next);
  };
  const enter = (next: string) => {
    clear();
    setFolder(next);
  };
  return (
    <>
      <div className={styles.kinds} role="radiogroup" aria-label="Where it comes from">
        {KINDS.map(([name, title, note]) => (
          <label key={name} className={name === kind ? styles.chosen : undefined}>
            <input type="radio" name="kind" checked={name === kind} onChange={() => choose(name)} />
            <span>
              <b>{title}</b>
              <span className="soft">{note}</span>
            </span>
          </label>
        ))}
      </div>
      {refusal && (
        <div className={styles.refused}>
          <Problem record={refusal} />
        </div>
      )}
      {kind === "zip" ? (
        <ZipDrop busy={busy} onFile={(file) => attempt(async () => onFound(await uploadZip(file)))} />
      ) : (
        <FolderList
          folder={folder}
          onFolder={enter}
          onChosen={({ folder: here }) => kind === "folder" && inspect({ kind: "folder", folder: here })}
        >
          {(here) => (
            <div className={styles.actions}>
              <Button onClick={onLeave}>Cancel</Button>
              {kind === "folder" && here?.hasPort && (
                <Button
                  disabled={busy}
                  onClick={() => attempt(async () => onPort((await ask(ROUTES.addPort, { folder: here.folder })).id))}
                >
                  Add the port that is here
                </Button>
              )}
              {kind === "folder" && (
                <Button
                  className="main"
                  disabled={busy || !here}
                  onClick={() => here && inspect({ kind: "folder", folder: here.folder })}
                >
                  {busy ? "Reading …" : "Read this folder"}
                </Button>
              )}
              {kind === "git" &&
                (here?.isRepository ? (
                  <ChooseRevision
                    key={here.folder}
                    folder={here.folder}
                    busy={busy}
                    onChosen={(revision) => inspect({ kind: "git", folder: here.folder, revision })}
                  />
                ) : (
                  <span className="soft">This folder is not a git repository.</span>
                ))}
            </div>
          )}
        </FolderList>
      )}
    </>
  );
}

type RevisionProps = {
  readonly folder: string;
  readonly busy: boolean;
  readonly onChosen: (revision: string) => void;
};

/** A branch or tag from the list, or any commit that is written down. */
function ChooseRevision({ folder, busy, onChosen }: RevisionProps) {
  const { data, error } = useView(ROUTES.revisions, { folder });
  const [written, setWritten] = useState<string | null>(null);
  if (error) return <Problem record={error} />;
  if (!data) return <span className="soft">Asking git …</span>;
  const revision = written ?? data.branch ?? data.head.slice(0, 12);
  const tags = data.revisions.filter((entry) => entry.kind === "tag").length;
  return (
    <>
      <span className="soft">
        {plural(data.revisions.length - tags, "branch", "branches")}, {plural(tags, "tag")}
      </span>
      <div className={styles.revision}>
        <span>Revision</span>
        <InputBase
          value={revision}
          onChange={(event) => setWritten(event.target.value)}
          inputProps={{ list: "revisions", spellCheck: false, className: "mono", "aria-label": "Revision" }}
        />
        <datalist id="revisions">
          {data.revisions.map((entry) => (
            <option key={`${entry.kind} ${entry.name}`} value={entry.name}>
              {entry.kind} at {entry.commit.slice(0, 10)}
            </option>
          ))}
        </datalist>
      </div>
      <Button className="main" disabled={busy || revision.trim() === ""} onClick={() => onChosen(revision.trim())}>
        {busy ? "Copying and reading …" : "Read this revision"}
      </Button>
    </>
  );
}

const ASK_EVERY_MS = 500;

/** How far the unpacking is, while it goes on. */
function Unpacking() {
  const [progress, setProgress] = useState<{ done: number; of: number } | null>(null);
  useEffect(() => {
    const timer = setInterval(() => {
      ask(ROUTES.unpacking, {}).then(
        (found) => setProgress(found.progress),
        // The reply to the upload reports the error.
        () => undefined,
      );
    }, ASK_EVERY_MS);
    return () => clearInterval(timer);
  }, []);
  return progress ? `Unpacking: ${progress.done} of ${plural(progress.of, "file")} …` : "Unpacking and reading …";
}

function ZipDrop({ busy, onFile }: { busy: boolean; onFile: (file: File) => void }) {
  const drop = (event: DragEvent) => {
    event.preventDefault();
    const [file] = event.dataTransfer.files;
    if (file) onFile(file);
  };
  return (
    <label className={styles.drop} onDragOver={(event) => event.preventDefault()} onDrop={drop}>
      <span>{busy ? <Unpacking /> : "Drop a zip here, or choose one"}</span>
      <input
        type="file"
        accept=".zip,application/zip"
        disabled={busy}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) onFile(file);
          // The same file can be chosen again after it was refused.
          event.target.value = "";
        }}
      />
    </label>
  );
}
