/** Opens places of a port's files in the person's own editor, by a command that is set once. */
import { spawn } from "node:child_process";
import { readFile, realpath, stat } from "node:fs/promises";
import path from "node:path";
import parseArgs from "string-argv";
import type { EditorView } from "@/api/views";
import { SideTwinError } from "@/core/errors";
import { writeAtomically } from "@/engine/files/write";
import { findProgram } from "@/engine/find-program";
import type { OpenPort } from "@/service/port/open-port";

/** Commands of editors that are often there; those whose program is found are proposed. */
const COMMON = [
  "code --goto {file}:{line}",
  "codium --goto {file}:{line}",
  "subl {file}:{line}",
  "idea --line {line} {file}",
  "zed {file}:{line}",
  "kate --line {line} {file}",
  "gvim +{line} {file}",
  "emacsclient --no-wait +{line} {file}",
] as const;

/** The full path of a file of a side, or of one beside the port file. Throws SideTwinError `outside-folder`. */
export async function placeIn(
  { original, twins, folder }: OpenPort,
  { side, file }: { readonly side: string | null; readonly file: string },
): Promise<string> {
  const root =
    side === null ? folder : side === "original" ? original.folder : twins.find(({ name }) => name === side)?.folder;
  if (root === undefined)
    throw new SideTwinError({ code: "not-found", what: `There is no twin "${side}"`, next: "Reload the page." });
  const [top, full] = await Promise.all([realpath(root), realpath(path.resolve(root, file)).catch(() => null)]);
  if (full === null)
    throw new SideTwinError({ code: "not-found", what: `There is no file ${file}`, next: "It may have moved." });
  if (full.startsWith(top + path.sep)) return full;
  throw new SideTwinError({
    code: "outside-folder",
    what: `${file} lies outside ${root}`,
    next: "Only files of the port are opened from here.",
  });
}

/** The editor of this data folder. */
export class Editor {
  private readonly file: string;

  constructor(data: string) {
    this.file = path.join(data, "editor.json");
  }

  async view(): Promise<EditorView> {
    const proposed = COMMON.filter((command) => findProgram(command.split(" ", 1)[0] ?? "") !== null);
    return { command: await this.command(), proposed };
  }

  private async command(): Promise<string | null> {
    try {
      const read: unknown = JSON.parse(await readFile(this.file, "utf8"));
      const command = typeof read === "object" && read !== null && "command" in read ? read.command : null;
      return typeof command === "string" ? command : null;
    } catch {
      // Not set yet, or not ours: it is set again.
      return null;
    }
  }

  /** Throws SideTwinError `bad-input` for a command without `{file}`, or whose program is not found. */
  async set(command: string): Promise<void> {
    const [program = ""] = parseArgs(command);
    if (!command.includes("{file}"))
      throw new SideTwinError({
        code: "bad-input",
        what: "The command does not say where the file goes",
        where: { key: "command" },
        next: "Write {file}, and {line} where the editor takes one, as in: code --goto {file}:{line}",
      });
    if (findProgram(program) === null)
      throw new SideTwinError({
        code: "bad-input",
        what: `There is no program "${program}"`,
        where: { key: "command" },
        next: "Name one that is on the PATH, or give its whole path.",
      });
    await writeAtomically(this.file, `${JSON.stringify({ command })}\n`);
  }

  /** Throws SideTwinError `not-found` for a file that is not there, and `toolchain-missing` where no editor is set. */
  async open(file: string, line: number): Promise<void> {
    const command = await this.command();
    if (command === null)
      throw new SideTwinError({
        code: "toolchain-missing",
        what: "No editor is set",
        next: "Set the command of yours once.",
      });
    if (!(await stat(file).catch(() => null))?.isFile())
      throw new SideTwinError({ code: "not-found", what: `There is no file ${file}`, next: "It may have moved." });
    const [program = "", ...args] = parseArgs(command).map((word) =>
      word.replaceAll("{file}", file).replaceAll("{line}", String(line)),
    );
    const child = spawn(program, args, { detached: true, stdio: "ignore" });
    await new Promise<void>((resolve, reject) => {
      child.once("spawn", resolve);
      child.once("error", (cause) =>
        reject(
          new SideTwinError(
            {
              code: "toolchain-missing",
              what: `${program} did not start: ${cause.message}`,
              next: "Set another editor.",
            },
            cause,
          ),
        ),
      );
    });
    child.unref();
  }
}
