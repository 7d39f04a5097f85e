"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { type FormEvent, type ReactNode, useEffect, useRef, useState } from "react";
import { ROUTES } from "@/api/routes";
import type { FolderView } from "@/api/views";
import { Problem } from "@/ui/frame/problem";
import { useView } from "@/ui/state/use-view";
import styles from "@/ui/views/bring-in/bring-in.module.css";

/** Longer lists can be searched. */
const MIN_FOR_SEARCH = 12;

type Props = {
  readonly folder: string | null;
  readonly onFolder: (folder: string) => void;
  /** Enter on the path of the folder that is shown. */
  readonly onChosen: (here: FolderView) => void;
  /** Actions for the shown folder. */
  readonly children: (here: FolderView | null) => ReactNode;
};

/** The folders that can be browsed, and how to widen that. */
const boundWords = ({ top }: FolderView): string =>
  top === "/"
    ? "All folders of this machine can be chosen."
    : `Folders in ${top} can be chosen; side-twin serve --browse FOLDER opens another.`;

type PathProps = {
  readonly shown: string;
  /** Names of the folders inside the one that is shown. */
  readonly entries: readonly string[];
  readonly onFolder: (folder: string) => void;
  readonly onChosen: () => void;
};

/** A path to be typed, with the folders inside as completions; Enter goes there, and once there chooses it. */
function PathField({ shown, entries, onFolder, onChosen }: PathProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const base = shown === "/" ? "" : shown;
  const field = useRef<HTMLInputElement>(null);
  // Keep typed text that matches no folder.
  useEffect(() => {
    if (shown === "") return;
    setTyped(null);
    if (document.activeElement === field.current) field.current?.select();
  }, [shown]);
  return (
    <form
      className={styles.path}
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        if (typed === null || typed.trim() === "") return;
        onFolder(typed.trim().replace(/(?<=.)\/+$/, ""));
      }}
    >
      <InputBase
        fullWidth
        autoFocus
        inputRef={field}
        onFocus={(event) => event.target.select()}
        value={typed ?? shown}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => {
          // The form's button is disabled then, so that it is not submitted.
          if (event.key === "Enter" && (typed === null || typed.trim() === shown)) onChosen();
          if (event.key !== "Escape" || typed === null) return;
          event.stopPropagation();
          setTyped(null);
        }}
        inputProps={{
          spellCheck: false,
          className: "mono",
          "aria-label": "Path of the folder",
          list: "folders-inside",
        }}
      />
      <datalist id="folders-inside">
        {entries.map((name) => (
          <option key={name} value={`${base}/${name}`} />
        ))}
      </datalist>
      <Button type="submit" disabled={typed === null || typed === shown}>
        Go there
      </Button>
    </form>
  );
}

/** Walks through the folders of this machine, confined to what the server was started for. */
export function FolderList({ folder, onFolder, onChosen, children }: Props) {
  const { data, error } = useView(ROUTES.folder, { folder });
  const [words, setWords] = useState("");
  const inside = `${data?.folder === "/" ? "" : (data?.folder ?? "")}/`;
  const shown = (data?.entries ?? []).filter(({ name }) => name.toLowerCase().includes(words.toLowerCase()));
  return (
    <>
      <PathField
        shown={data?.folder ?? ""}
        entries={data?.entries.map(({ name }) => name) ?? []}
        onFolder={onFolder}
        onChosen={() => data && onChosen(data)}
      />
      {data && <p className="soft">{boundWords(data)}</p>}
      {error && <Problem record={error} />}
      {data && data.entries.length > MIN_FOR_SEARCH && (
        <InputBase
          fullWidth
          value={words}
          placeholder="find a folder here"
          onChange={(event) => setWords(event.target.value)}
          inputProps={{ "aria-label": "Find a folder here" }}
        />
      )}
      <ul className={styles.folders} aria-label="Folders">
        {data?.parent && (
          <li>
            <Button onClick={() => onFolder(data.parent ?? "")} fullWidth>
              ↑ one folder up
            </Button>
          </li>
        )}
        {shown.map((entry) => (
          <li key={entry.name}>
            <Button onClick={() => onFolder(`${inside}${entry.name}`)} fullWidth>
              {entry.name}
              {entry.hasPort && <span className={styles.holds}>holds a port</span>}
            </Button>
          </li>
        ))}
        {data && shown.length === 0 && (
          <li className="soft">{data.entries.length === 0 ? "No folders inside." : "No folder has that name."}</li>
        )}
      </ul>
      {children(data)}
    </>
  );
}
