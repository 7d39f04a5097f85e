/** Writes new shared cases into the port's case files, and gives those that are there out again. */
import path from "node:path";
import type { DroppedCase } from "@/api/views";
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
 * Imports cases from JSON Lines; all or none. Throws SideTwinError with the line.
 */
export async function importCases(
  open: OpenPort,
  all: readonly SharedCase[],
  text: string,
): Promise<{ file: string; ids: string[]; items: readonly SharedCase[] }> {
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
  return { file, ids: items.map(({ id }) => id), items };
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
 * Takes cases out of the port's files, whole lines; the rest stays to the byte. Returns the lines, for putting them back. Throws
 * SideTwinError `not-found` for an id that no file has; then nothing is changed.
 */
export async function dropCases(open: OpenPort, ids: readonly string[]): Promise<DroppedCase[]> {
  const files = await filesOfCases(open, ids);
  const dropped: DroppedCase[] = [];
  for (const [file, own] of files) {
    await editFile(path.join(open.folder, file), (before) => {
      const kept: string[] = [];
      for (const [at, line] of linesOf(before ?? "").entries()) {
        const id = idOf(line, file);
        if (id !== null && own.has(id)) dropped.push({ file, at, line });
        else kept.push(line);
      }
      return kept.join("");
    });
  }
  return dropped;
}

/**
 * Puts lines back where they were. Throws SideTwinError `bad-input` where a case of that id is there again, and `outside-folder` for a file
 * that the port does not read.
 */
export async function restoreCases(
  open: OpenPort,
  all: readonly SharedCase[],
  dropped: readonly DroppedCase[],
): Promise<void> {
  refuseTaken(
    all,
    dropped.flatMap(({ line, file }) => parseCaseLines(line, file)),
  );
  for (const file of new Set(dropped.map((item) => item.file))) {
    chosenFile(open, file);
    const own = dropped.filter((item) => item.file === file).toSorted((left, right) => left.at - right.at);
    await editFile(path.join(open.folder, file), (before) => {
      const lines = linesOf(before ?? "");
      for (const { at, line } of own) {
        // A file whose last line had no end gets one before the next line.
        const last = lines[at - 1];
        if (at > 0 && last !== undefined && !last.endsWith("\n")) lines[at - 1] = `${last}\n`;
        lines.splice(at, 0, line.endsWith("\n") || at >= lines.length ? line : `${line}\n`);
      }
      return lines.join("");
    });
  }
}

/**
 * Writes another case in the place of one, in its line; the rest stays to the byte. Throws SideTwinError as `keepCases` does. Returns the
 * file, relative to the port.
 */
export async function replaceCase(
  open: OpenPort,
  all: readonly SharedCase[],
  wanted: { readonly id: string; readonly item: SharedCase },
): Promise<{ file: string }> {
  const { id, item } = wanted;
  refuseTaken(
    all.filter((one) => one.id !== id),
    [item],
  );
  refuseUnknown(open, [item]);
  const line = toLine(item);
  parseCaseLines(line, "the changed case");
  const [file = ""] = [...(await filesOfCases(open, [id])).keys()];
  await editFile(path.join(open.folder, file), (before) =>
    linesOf(before ?? "")
      .map((old) => (idOf(old, file) === id ? `${line.trimEnd()}${/\r?\n$/.exec(old)?.[0] ?? ""}` : old))
      .join(""),
  );
  return { file };
}

const linesOf = (text: string): string[] => (text === "" ? [] : text.split(/(?<=\n)/));

function idOf(line: string, file: string): string | null {
  const [item] = line.trim() === "" ? [] : parseCaseLines(line, file);
  return item?.id ?? null;
}

/** File → those of the ids that it holds. Throws SideTwinError `not-found` for an id that no file has. */
async function filesOfCases(open: OpenPort, ids: readonly string[]): Promise<Map<string, ReadonlySet<string>>> {
  const left = new Set(ids);
  const found = new Map<string, ReadonlySet<string>>();
  for (const file of await caseFiles(open)) {
    const text = await readText(path.join(open.folder, file));
    const own = new Set(parseCaseLines(text, file).flatMap(({ id }) => (left.has(id) ? [id] : [])));
    for (const id of own) left.delete(id);
    if (own.size > 0) found.set(file, own);
  }
  const [missing] = left;
  if (missing !== undefined)
    throw new SideTwinError({ code: "not-found", what: `There is no case "${missing}"`, next: "Reload the list." });
  return found;
}

/** The file that the user named; the port must read it. */
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
