/**
 * Answers what `tsc --noEmit ARGUMENTS` prints, and keeps the program between two questions: only files that changed
 * are parsed, and only what rests on them is checked. Uses the compiler API of the person's own TypeScript.
 *
 * Started with the compiler's library as its argument, in the folder where `tsc` would be started. JSON Lines, requests
 * on descriptor 3: {"args": ["--noEmit", "-p", "tsconfig.json"]}; replies on descriptor 4: {"text": "…", "exit": 2}, or
 * {"unfit": "why"} where only the compiler itself can do what was asked.
 */
import { createReadStream, createWriteStream, statSync } from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";
import { createInterface } from "node:readline";

/** @type {any} */
const ts = createRequire(import.meta.url)(process.argv[2] ?? "");
const cwd = process.cwd();

/** Arguments that ask for something else than diagnostics. */
const OTHER_ACTS = [
  "build",
  "watch",
  "init",
  "help",
  "version",
  "showConfig",
  "listFilesOnly",
  "locale",
  "generateTrace",
];

/**
 * Arguments → the last program made of them, and what was found in each of its files.
 * @type {Map<string, { program: any, found: Map<string, readonly any[]> }>}
 */
const programs = new Map();
/**
 * File → the source as it was parsed, with size and time of the file.
 * @type {Map<string, { stamp: string, source: any }>}
 */
const sources = new Map();

/** @param {string} file */
function stampOf(file) {
  const about = statSync(file, { throwIfNoEntry: false });
  return about ? `${about.size}:${about.mtimeMs}` : "";
}

/**
 * A compiler host that hands out the same source object while its file is the same.
 * @param {any} options
 */
function hostFor(options) {
  const host = ts.createIncrementalCompilerHost(options);
  const read = host.getSourceFile.bind(host);
  /** @type {(file: string, how: any, onError: any) => any} */
  host.getSourceFile = (file, how, onError) => {
    const stamp = stampOf(file);
    const key = JSON.stringify([file, how]);
    const known = sources.get(key);
    if (known && known.stamp === stamp && stamp !== "") return known.source;
    const source = read(file, how, onError, true);
    if (source) sources.set(key, { stamp, source });
    return source;
  };
  return host;
}

/** @param {any} options @param {readonly string[]} files */
function configOf(options, files) {
  if (options.project) {
    const given = path.resolve(cwd, options.project);
    return ts.sys.directoryExists(given) ? path.join(given, "tsconfig.json") : given;
  }
  return files.length > 0 ? undefined : ts.findConfigFile(cwd, ts.sys.fileExists);
}

/** @param {readonly string[]} args */
function answer(args) {
  const given = ts.parseCommandLine(args);
  if (given.errors.length > 0) return { unfit: "the arguments are not understood" };
  const other = OTHER_ACTS.find((name) => given.options[name]);
  if (other) return { unfit: `--${other}` };
  const file = configOf(given.options, given.fileNames);
  if (file !== undefined && !ts.sys.fileExists(file)) return { unfit: "there is no configuration" };
  const config = file
    ? ts.getParsedCommandLineOfConfigFile(file, given.options, { ...ts.sys, onUnRecoverableConfigFileDiagnostic() {} })
    : { ...given, projectReferences: undefined };
  if (!config) return { unfit: "the configuration cannot be read" };
  const { options, fileNames, projectReferences } = config;
  // Programs that emit files are left to the compiler itself.
  if (!options.noEmit || options.composite || options.incremental || options.tsBuildInfoFile)
    return { unfit: "it writes files" };
  const key = JSON.stringify(args);
  const last = programs.get(key);
  const program = ts.createSemanticDiagnosticsBuilderProgram(
    fileNames,
    options,
    hostFor(options),
    last?.program,
    config.errors,
    projectReferences,
  );
  const kept = { program, found: last?.found ?? new Map() };
  programs.set(key, kept);
  const found = diagnosticsOf(kept, options);
  const format = {
    getCurrentDirectory: () => cwd,
    getCanonicalFileName: (/** @type {string} */ name) => name,
    getNewLine: () => "\n",
  };
  const isError = found.some((/** @type {any} */ entry) => entry.category === ts.DiagnosticCategory.Error);
  return { text: ts.formatDiagnostics(found, format), exit: isError ? 2 : 0 };
}

/**
 * As the compiler's command line does: the next kind only while the one before found nothing.
 * @param {{ program: any, found: Map<string, readonly any[]> }} kept
 * @param {any} options
 */
function diagnosticsOf({ program, found: perFile }, options) {
  const found = [...program.getConfigFileParsingDiagnostics()];
  const before = found.length;
  found.push(...program.getSyntacticDiagnostics());
  if (found.length === before) {
    found.push(...program.getOptionsDiagnostics(), ...program.getGlobalDiagnostics());
    if (found.length === before) found.push(...semanticDiagnostics(program, perFile));
    if (found.length === before && options.declaration) found.push(...program.getDeclarationDiagnostics());
  }
  return ts.sortAndDeduplicateDiagnostics(found);
}

/**
 * Asks for affected files only: asked for all of them, the builder (5.9) checks each again.
 * @param {any} program
 * @param {Map<string, readonly any[]>} perFile
 */
function semanticDiagnostics(program, perFile) {
  for (let next = program.getSemanticDiagnosticsOfNextAffectedFile(); next; ) {
    // With `outFile` the whole program is one unit.
    if (next.affected.fileName === undefined) return program.getSemanticDiagnostics();
    perFile.set(next.affected.fileName, next.result);
    next = program.getSemanticDiagnosticsOfNextAffectedFile();
  }
  const files = new Set(program.getSourceFiles().map((/** @type {any} */ file) => file.fileName));
  for (const file of perFile.keys()) if (!files.has(file)) perFile.delete(file);
  return [...perFile.values()].flat();
}

const replies = createWriteStream("", { fd: 4 });
createInterface({ input: createReadStream("", { fd: 3 }) }).on("line", (line) => {
  const request = JSON.parse(line);
  if (request.op === "bye") process.exit(0);
  let reply;
  try {
    reply = answer(request.args);
  } catch (error) {
    reply = { unfit: String(error) };
  }
  replies.write(`${JSON.stringify(reply)}\n`);
});
