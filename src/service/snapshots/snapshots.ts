/** The snapshots of a port, as the command line and the screens list and undo them. */
import { type SnapshotRecord, Snapshots } from "@/engine/snapshots/snapshots";
import { openPort } from "@/service/port/open-port";

export type ListedSnapshot = {
  readonly id: string;
  readonly at: string;
  readonly what: string;
  readonly state: string;
  readonly files: readonly string[];
};

export type ChangedFiles = { readonly id: string; readonly files: readonly string[] };

/** The newest first. Throws SideTwinError where the port cannot be opened. */
export async function listSnapshots(file: string, data: string): Promise<ListedSnapshot[]> {
  const open = await openPort(file);
  return Snapshots.open(data, open.file)
    .list()
    .map(({ id, at, what, state, files }) => ({ id, at, what, state, files: files.map((entry) => entry.file) }));
}

/** Throws SideTwinError, naming the files that changed since; then nothing is put back. */
export async function undoSnapshot(file: string, data: string, id?: string): Promise<ChangedFiles> {
  const open = await openPort(file);
  return changedFiles(Snapshots.open(data, open.file).undo(id));
}

/** Throws SideTwinError, naming the files that changed since the undo; then nothing is written. */
export async function redoSnapshot(file: string, data: string, id?: string): Promise<ChangedFiles> {
  const open = await openPort(file);
  return changedFiles(Snapshots.open(data, open.file).redo(id));
}

const changedFiles = ({ id, files }: SnapshotRecord): ChangedFiles => ({ id, files: files.map(({ file }) => file) });
