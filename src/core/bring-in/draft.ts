/**
 * The draft of a new port: everything a person can correct before anything is stored, and the port file it results in.
 */
import { parseArgsStringToArgv } from "string-argv";
import { z } from "zod";
import { SideTwinError } from "@/core/errors";
import { namingStyle, type PortFile, parsePortFile } from "@/core/formats/port-file";
import { proposeMap } from "@/core/pairing/module-map";
import { isSourceOf } from "@/core/pairing/modules";

const line = z.string().max(2000);

/** Commands are lines as in a shell, without its operators; one a line where there are several. */
export const draftSchema = z.strictObject({
  name: line,
  /** Where the port file goes: an absolute folder. */
  folder: line,
  language: line,
  ignore: z.array(line).max(200),
  prepare: z.string().max(20_000),
  run: line,
  twin: z.strictObject({ name: line, root: line, language: line }),
  modulesBy: z.enum(["file", "folder"]),
  /** Modules by pattern: a name and the files it covers. */
  modules: z.array(z.strictObject({ name: line, files: z.array(line).max(200) })).max(2000),
  moduleMap: z.array(z.strictObject({ original: line, twin: line })).max(200),
  functions: namingStyle,
  keys: namingStyle,
  cases: line,
  /** The rungs as JSON; empty for none. */
  ladder: z.string().max(20_000),
});
/** The draft as the bring-in page edits it. */
export type Draft = z.infer<typeof draftSchema>;

/** The fields of a draft before anything was found or corrected. */
export const plainDraft = (): Omit<Draft, "name" | "folder" | "language" | "twin"> => ({
  ignore: [],
  prepare: "",
  run: "",
  modulesBy: "file",
  modules: [],
  moduleMap: [],
  functions: "same",
  keys: "same",
  cases: "cases/*.jsonl",
  ladder: "",
});

/** The port file of a draft. Throws SideTwinError where the draft cannot make one. */
export function toPortFile(draft: Draft, originalRoot: string): { readonly port: PortFile; readonly text: string } {
  const run = toCommand(draft.run, "the run command");
  const prepare = draft.prepare.split("\n").flatMap((one) => {
    const command = toCommand(one, "a build command");
    return command.length > 0 ? [command] : [];
  });
  const file = {
    format: "side-twin/port",
    version: 1,
    name: draft.name.trim(),
    original: {
      root: originalRoot,
      language: draft.language,
      ...(draft.ignore.length > 0 ? { ignore: draft.ignore } : {}),
      ...(prepare.length > 0 ? { prepare } : {}),
      ...(run.length > 0 ? { run } : {}),
    },
    twins: [draft.twin],
    ...(draft.modules.length > 0
      ? { modules: draft.modules.map(({ name, files }) => ({ name, original: files })) }
      : {}),
    ...(draft.modulesBy === "file" ? {} : { modulesBy: draft.modulesBy }),
    ...(draft.moduleMap.length > 0 ? { moduleMap: draft.moduleMap } : {}),
    ...(draft.functions === "same" && draft.keys === "same"
      ? {}
      : { names: { functions: draft.functions, keys: draft.keys } }),
    cases: [draft.cases],
    ...(draft.ladder.trim() === "" ? {} : { ladder: parseLadder(draft.ladder) }),
  };
  const text = `${formatJson(file)}\n`;
  return { port: parsePortFile(text, "side-twin.json"), text };
}

function parseLadder(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new SideTwinError({
      code: "bad-input",
      what: `The ladder is not JSON: ${error instanceof Error ? error.message : error}`,
      where: { key: "ladder" },
      next: "Correct it, or leave it empty.",
    });
  }
}

/** Rungs as a person edits them, one a line. */
export const formatLadder = (rungs: readonly object[]): string =>
  rungs.length === 0 ? "" : `[\n${rungs.map((rung) => `  ${JSON.stringify(rung)}`).join(",\n")}\n]`;

/** Short lists of words stay on one line: commands are read as such. */
const formatJson = (value: unknown): string =>
  JSON.stringify(value, null, 2).replace(/\[\s+("[^\n]*"(?:,\n\s+"[^\n]*")*)\s+\]/g, (list, words: string) => {
    const line = `[${words.replace(/\n\s+/g, " ")}]`;
    return line.length <= 90 ? line : list;
  });

function toCommand(text: string, what: string): string[] {
  const bare = text.replace(/"(?:[^"\\]|\\.)*"|'[^']*'/g, "");
  if (/["']/.test(bare))
    throw new SideTwinError({
      code: "bad-input",
      what: `A quote is not closed in ${what}: ${text.trim()}`,
      next: "Close it, or put the word in quotes of the other kind.",
    });
  if (/[|&;<>]/.test(bare)) {
    throw new SideTwinError({
      code: "bad-input",
      what: `Shell operators are not understood in ${what}: ${text.trim()}`,
      next: 'Write one command a line, or call a shell: sh -c "…".',
    });
  }
  return parseArgsStringToArgv(text.trim());
}

/** A command as a line that `toPortFile` reads back. */
export const formatCommand = (command: readonly string[]): string =>
  command.map((word) => (word === "" || /[\s"']/.test(word) ? `"${word.replaceAll('"', '\\"')}"` : word)).join(" ");

type Style = "snake" | "camel" | "pascal";

/** How a language writes names of functions, what its sources end in, and where its projects keep them. */
const CUSTOMS: Readonly<Record<string, { readonly style: Style; readonly ending: string; readonly home: string }>> = {
  python: { style: "snake", ending: ".py", home: "" },
  javascript: { style: "camel", ending: ".js", home: "src/" },
  typescript: { style: "camel", ending: ".ts", home: "src/" },
  java: { style: "camel", ending: ".java", home: "src/main/java/" },
  c: { style: "snake", ending: ".c", home: "src/" },
  cpp: { style: "snake", ending: ".cpp", home: "src/" },
  csharp: { style: "pascal", ending: ".cs", home: "" },
  go: { style: "pascal", ending: ".go", home: "" },
  rust: { style: "snake", ending: ".rs", home: "src/" },
  ruby: { style: "snake", ending: ".rb", home: "lib/" },
  php: { style: "camel", ending: ".php", home: "src/" },
};

/** Languages that a twin can be planned in. */
export const PLANNED_LANGUAGES = Object.keys(CUSTOMS);

/** Proposes how names change between two languages, as far as `names` can express it. */
export function namingBetween(original: string, twin: string): PortFile["names"]["functions"] {
  const [from, to] = [CUSTOMS[original]?.style, CUSTOMS[twin]?.style];
  if (from === "snake" && to === "camel") return "snake-to-camel";
  if (from === "snake" && to === "pascal") return "snake-to-pascal";
  if (from === "camel" && to === "snake") return "camel-to-snake";
  if (from === "pascal" && to === "snake") return "pascal-to-snake";
  return "same";
}

/** A moduleMap for the files of both sides; for a twin with nothing in it, where its language's projects keep sources. */
export function mapBetween(
  original: { readonly language: string; readonly files: readonly string[] },
  twin: { readonly language: string; readonly files: readonly string[] },
): { original: string; twin: string }[] {
  const { ending, home } = CUSTOMS[twin.language] ?? { ending: "", home: "" };
  return proposeMap(
    {
      original: original.files.filter((file) => isSourceOf(file, original.language)),
      twin: twin.files.filter((file) => isSourceOf(file, twin.language)),
    },
    { ending, home },
  );
}
