import { Command } from "commander";
import { print, withData, withJson, withPort } from "@/cli/options";
import { listSnapshots, redoSnapshot, undoSnapshot } from "@/service/snapshots/snapshots";

type Options = { data: string; json?: boolean };

/** `side-twin snapshots`. */
export function snapshotsCommand(): Command {
  return withJson(withData(withPort(new Command("snapshots"))))
    .description("list the snapshots that were taken before Side Twin changed files")
    .action(async (file: string, options: Options) => {
      const snapshots = await listSnapshots(file, options.data);
      print(options.json, { snapshots }, () =>
        snapshots.length === 0
          ? "No snapshots.\n"
          : snapshots
              .map(
                ({ id, at, what, state, files }) =>
                  `${id}  ${at}  ${what}, ${files.length} files${state === "done" ? "" : `, ${state}`}\n`,
              )
              .join(""),
      );
    });
}

/** `side-twin undo`. */
export function undoCommand(): Command {
  return withJson(withData(withPort(new Command("undo"))))
    .description("put the files of a snapshot back to the byte")
    .argument("[snapshot]", "its id; the newest where it is left out")
    .action(async (file: string, snapshot: string | undefined, options: Options) => {
      const undone = await undoSnapshot(file, options.data, snapshot);
      print(
        options.json,
        { snapshot: undone.id, files: undone.files },
        () => `${undone.files.map((name) => `${name}\n`).join("")}put back, as before ${undone.id}\n`,
      );
    });
}

/** `side-twin redo`. */
export function redoCommand(): Command {
  return withJson(withData(withPort(new Command("redo"))))
    .description("make the change of an undone snapshot again")
    .argument("[snapshot]", "its id; the one undone last where it is left out")
    .action(async (file: string, snapshot: string | undefined, options: Options) => {
      const done = await redoSnapshot(file, options.data, snapshot);
      print(
        options.json,
        { snapshot: done.id, files: done.files },
        () => `${done.files.map((name) => `${name}\n`).join("")}changed again, as by ${done.id}\n`,
      );
    });
}
