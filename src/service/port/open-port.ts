/** Opens a port: reads its file, finds both sides on disk and works out its modules. */
import { realpath, stat } from "node:fs/promises";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import { parseCaseLines, type SharedCase } from "@/core/formats/case-line";
import { type PortFile, type PortSide, parsePortFile, type TwinSide } from "@/core/formats/port-file";
import { type PortModule, resolveModules } from "@/core/pairing/modules";
import { isTestFile } from "@/core/survey/test-files";
import { readParsed, readText } from "@/engine/files/text";
import { listFiles } from "@/engine/files/tree";
import { findLeftFiles } from "@/service/port/pair-files";

/** The name of port files. */
export const PORT_FILE = "side-twin.json";

/** A side with its absolute folder and files. */
export type OpenSide<Side extends PortSide = PortSide> = Side & {
  readonly folder: string;
  readonly files: readonly string[];
};

/** A port file with the files of its sides. */
export type OpenPort = {
  /** The port file and its folder, absolute. */
  readonly file: string;
  readonly folder: string;
  readonly port: PortFile;
  readonly original: OpenSide;
  readonly twins: readonly OpenSide<TwinSide>[];
  readonly modules: readonly PortModule[];
  /** Tests shipped with the original: paired like modules, but not to be proven. */
  readonly tests: readonly PortModule[];
};

/** The twin of that name, or all where none is named. Throws SideTwinError `not-found`. */
export function twinsFor(
  open: OpenPort,
  wanted: string | undefined,
): [OpenPort["twins"][number], ...OpenPort["twins"][number][]] {
  const [first, ...rest] = open.twins.filter(({ name }) => wanted === undefined || name === wanted);
  if (first) return [first, ...rest];
  throw new SideTwinError({
    code: "not-found",
    what: `There is no twin "${wanted}"`,
    next: `Twins: ${open.twins.map(({ name }) => name).join(", ")}.`,
  });
}

/**
 * Throws SideTwinError: `not-found` if a file or folder is missing, `bad-input` for a malformed port file. A folder
 * means the port file in it. A twin's folder may be missing: nothing is ported yet.
 */
export async function openPort(given: string): Promise<OpenPort> {
  const file = await locatePortFile(path.resolve(given));
  const port = await readParsed(file, (text) => parsePortFile(text, path.basename(file)));
  const folder = path.dirname(file);
  const original = await openSide(port.original, folder, { mustExist: true, key: "original.root", file });
  const twins = await Promise.all(
    port.twins.map((twin, index) => openSide(twin, folder, { mustExist: false, key: `twins.${index}.root`, file })),
  );
  const tree = { original: original.files, twins: Object.fromEntries(twins.map((twin) => [twin.name, twin.files])) };
  const all = await findLeftFiles(resolveModules(port, tree), original, twins);
  const listed = new Set(port.modules.map(({ name }) => name));
  const isTest = ({ name, original: files }: PortModule) => !listed.has(name) && files.every(isTestFile);
  const modules = all.filter((module) => !isTest(module));
  return { file, folder, port, original, twins, modules, tests: all.filter(isTest) };
}

async function locatePortFile(given: string): Promise<string> {
  const facts = await stat(given).catch(() => null);
  const file = facts?.isDirectory() ? path.join(given, PORT_FILE) : given;
  const found = await stat(file).catch(() => null);
  if (!found?.isFile()) {
    throw new SideTwinError({
      code: "not-found",
      what: facts?.isDirectory() ? `There is no ${PORT_FILE} in ${given}` : `There is no file ${given}`,
      next: `Name a port file, or a folder with a ${PORT_FILE}.`,
    });
  }
  return realpath(file);
}

/** The first file of a module on a twin, relative to the port file's folder; null if there is none. */
export function twinFile(open: OpenPort, module: string | null, twin: string): string | null {
  const side = open.twins.find(({ name }) => name === twin);
  const file = open.modules.find(({ name }) => name === module)?.twins[twin]?.[0];
  return side && file ? path.relative(open.folder, path.join(side.folder, file)) : null;
}

type SideTerms = { readonly mustExist: boolean; readonly key: string; readonly file: string };

async function openSide<Side extends PortSide>(side: Side, folder: string, terms: SideTerms): Promise<OpenSide<Side>> {
  const root = path.resolve(folder, side.root);
  const facts = await stat(root).catch(() => null);
  if (!facts?.isDirectory()) {
    if (!terms.mustExist && facts === null) return { ...side, folder: root, files: [] };
    throw new SideTwinError({
      code: "not-found",
      what: `The folder "${side.root}" is not there`,
      where: { file: path.basename(terms.file), key: terms.key },
      next: "Correct the path; it is relative to the port file.",
    });
  }
  return { ...side, folder: await realpath(root), files: await listFiles(root, side.ignore) };
}

/** The files with the shared cases, relative to the port file's folder. */
export const caseFiles = (open: OpenPort): Promise<string[]> => listFiles(open.folder, [], open.port.cases);

/** The shared cases of a port, in the order of its files. Throws SideTwinError with file, line and key. */
export async function readCases(open: OpenPort): Promise<SharedCase[]> {
  const files = await caseFiles(open);
  const seen = new Map<string, string>();
  const cases: SharedCase[] = [];
  for (const file of files) {
    let line = 0;
    for (const part of partsOf(await readText(path.join(open.folder, file)))) {
      for (const item of parseCaseLines(part, file, seen, line)) cases.push(item);
      line += part.split("\n").length - 1;
      // A hundred thousand cases take most of a second to read: pages are served in between.
      await new Promise((resolve) => setImmediate(resolve));
    }
  }
  const known = new Set(open.modules.map((module) => module.name));
  for (const item of cases) {
    if (item.module === undefined || known.has(item.module)) continue;
    const { line, file } = placeOf(seen.get(item.id));
    throw new SideTwinError({
      code: "bad-input",
      what: `The case "${item.id}" names the module "${item.module}", which the port does not have`,
      where: { file, line, key: "module" },
      next: `Known modules: ${[...known].slice(0, 12).join(", ")}${known.size > 12 ? ", …" : ""}.`,
    });
  }
  return cases;
}

const PART_CHARACTERS = 1 << 19;

/** A text cut at ends of lines into parts of about that length. */
function* partsOf(text: string): Generator<string> {
  for (let from = 0; from < text.length; ) {
    const cut = text.indexOf("\n", from + PART_CHARACTERS);
    const to = cut === -1 ? text.length : cut + 1;
    yield text.slice(from, to);
    from = to;
  }
}

function placeOf(place = ""): { file: string; line: number } {
  const [file = "", line = ""] = place.split(", line ");
  return { file, line: Number(line) };
}
