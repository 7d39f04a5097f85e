/** The snapshots of a port, as the command line and the screens list and undo them. */
import { Snapshots } from "@/engine/snapshots/snapshots";
import { openPort } from "@/service/port/open-port";

export type ListedSnapshot = {
  readonly id: string;
  readonly at: string;
  readonly what: string;
  readonly state: string;
  readonly files: readonly string[];
};

/** The newest first. Throws SideTwinError where the port cannot be opened. */
export async function listSnapshots(file: string, data: string): Promise<ListedSnapshot[]> {
  const open = await openPort(file);
  return Snapshots.open(data, open.file)
    .list()
    .map(({ id, at, what, state, files }) => ({ id, at, what, state, files: files.map((entry) => entry.file) }));
}

/** Throws SideTwinError, naming the files that changed since; then nothing is put back. */
export async function undoSnapshot(
  file: string,
  data: string,
  id?: string,
): Promise<{ readonly id: string; readonly files: readonly string[] }> {
  const open = await openPort(file);
  const record = Snapshots.open(data, open.file).undo(id);
  return { id: record.id, files: record.files.map((entry) => entry.file) };
}
