/** Writes new shared cases into the port's case files, and gives those that are there out again. */
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import { parseCaseLines, type SharedCase } from "@/core/formats/case-line";
import { matchesFile } from "@/core/values/file-pattern";
import { readText } from "@/engine/files/text";
import { editFile } from "@/engine/files/write";
import { caseFiles, type OpenPort } from "@/service/port/open-port";

/** How a file is named after where its cases come from. */
type Origin = "hand" | "recorded" | "generated" | "minimised" | "imported";

/**
 * Adds cases to the file of their origin, or to `into`; all of them or none. Returns the file, relative to the port. Throws SideTwinError
 * when an id is taken, a module is not known, or the port names no place for new cases.
 */
export async function keepCases(
  open: OpenPort,
  all: readonly SharedCase[],
  items: readonly SharedCase[],
  origin: Origin,
  into?: string,
): Promise<{ file: string }> {
  refuseTaken(all, items);
  refuseUnknown(open, items);
  const lines = items.map(toLine).join("");
  // Validate what is written, since it is read again.
  parseCaseLines(lines, "the new cases");
  const file = into === undefined ? fileFor(open.port.cases, origin) : chosenFile(open, into);
  const full = path.join(open.folder, file);
  await editFile(full, (text) => {
    const before = text ?? "";
    // Another page may have added a case of that id since `all` was read.
    if (before !== "") refuseTaken(parseCaseLines(before, file), items);
    const gap = before === "" || before.endsWith("\n") ? "" : "\n";
    return `${before}${gap}${lines}`;
  });
  return { file };
}

/**
 * Reads cases from JSON Lines that somebody brings and adds them; all or none. Throws SideTwinError with the line.
 */
export async function importCases(
  open: OpenPort,
  all: readonly SharedCase[],
  text: string,
): Promise<{ file: string; count: number }> {
  const items = parseCaseLines(text, "the imported cases");
  if (items.length === 0) {
    throw new SideTwinError({
      code: "bad-input",
      what: "There is no case in it",
      where: { file: "the imported cases" },
      next: "Bring JSON Lines, one case a line.",
    });
  }
  const { file } = await keepCases(open, all, items, "imported");
  return { file, count: items.length };
}

/** The cases as JSON Lines, as they can be imported elsewhere. */
export const exportCases = (items: readonly SharedCase[]): string => items.map(toLine).join("");

/** A case as a line of its file; no named arguments are no key. */
function toLine(item: SharedCase): string {
  if (!("call" in item) || Object.keys(item.kwargs).length > 0) return `${JSON.stringify(item)}\n`;
  const { kwargs: _none, ...rest } = item;
  return `${JSON.stringify(rest)}\n`;
}

function refuseTaken(all: readonly SharedCase[], items: readonly SharedCase[]): void {
  const taken = new Set(all.map(({ id }) => id));
  const clashing = items.filter(({ id }) => taken.has(id)).map(({ id }) => id);
  const [first] = clashing;
  if (first === undefined) return;
  const others = clashing.length > 1 ? ` and ${clashing.length - 1} more of these` : "";
  throw new SideTwinError({
    code: "bad-input",
    what: `There is a case "${first}"${others} already`,
    where: { key: "id" },
    next: "Give it another id; nothing was added.",
  });
}

function refuseUnknown(open: OpenPort, items: readonly SharedCase[]): void {
  const known = new Set(open.modules.map((module) => module.name));
  const stray = items.find((item) => item.module !== undefined && !known.has(item.module));
  if (!stray) return;
  throw new SideTwinError({
    code: "bad-input",
    what: `There is no module "${stray.module}", which the case "${stray.id}" names`,
    where: { key: "module" },
    next: "Name a module of the port; nothing was added.",
  });
}

/**
 * Takes cases out of the port's files, whole lines; the rest stays to the byte. Returns their lines, for putting them back. Throws
 * SideTwinError `not-found` for an id that no file has; then nothing is changed.
 */
export async function dropCases(
  open: OpenPort,
  ids: readonly string[],
): Promise<{ readonly lines: readonly string[] }> {
  const left = new Set(ids);
  const found: { readonly file: string; readonly own: ReadonlySet<string> }[] = [];
  for (const file of await caseFiles(open)) {
    const text = await readText(path.join(open.folder, file));
    const own = new Set(parseCaseLines(text, file).flatMap(({ id }) => (left.has(id) ? [id] : [])));
    for (const id of own) left.delete(id);
    if (own.size > 0) found.push({ file, own });
  }
  const [missing] = left;
  if (missing !== undefined)
    throw new SideTwinError({ code: "not-found", what: `There is no case "${missing}"`, next: "Reload the list." });
  const lines: string[] = [];
  for (const { file, own } of found) {
    await editFile(path.join(open.folder, file), (before) => {
      const kept: string[] = [];
      for (const line of (before ?? "").split(/(?<=\n)/)) {
        const [item] = line.trim() === "" ? [] : parseCaseLines(line, file);
        if (item && own.has(item.id)) lines.push(line.trimEnd());
        else kept.push(line);
      }
      return kept.join("");
    });
  }
  return { lines };
}

/** A file that somebody named; it must be one that the port reads. */
function chosenFile(open: OpenPort, into: string): string {
  const file = path.relative(open.folder, path.resolve(open.folder, into)).split(path.sep).join("/");
  if (open.port.cases.some((pattern) => matchesFile(file, pattern))) return file;
  throw new SideTwinError({
    code: "bad-input",
    what: `${into} is not among the port's case files`,
    where: { file: path.basename(open.file), key: "cases" },
    next: `Name a file that one of these patterns matches: ${open.port.cases.join(", ") || "none is given"}.`,
  });
}

/** A file that the port's patterns take in. */
function fileFor(patterns: readonly string[], origin: Origin): string {
  for (const pattern of patterns) {
    const name = pattern.replace("**/", "").replace("*", origin);
    if (!/[*?[{]/.test(name) && matchesFile(name, pattern)) return name;
  }
  throw new SideTwinError({
    code: "bad-input",
    what: "The port file names no place for new cases",
    where: { file: "side-twin.json", key: "cases" },
    next: 'Add a pattern such as "cases/*.jsonl".',
  });
}
