/** A few lines that show a difference outside Side Twin: the command that checks the case, and the call in each language. */
import type { SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";

/** How one side is started from its folder. */
export type ReproducerSide = {
  readonly name: string;
  readonly language: string;
  /** The side's folder, and the file in it that holds the section. */
  readonly folder: string;
  readonly file: string | null;
  readonly call: string;
  readonly args: readonly Json[];
  readonly kwargs: Readonly<Record<string, Json>>;
};

/** Lines for a shell; a side whose language or arguments cannot be written on a line is left to the command. */
export function formatReproducer(
  port: string,
  item: SharedCase,
  twin: string,
  sides: readonly ReproducerSide[],
): string {
  const command = `side-twin check ${quote(port)} --twin ${quote(twin)} --case ${quote(item.id)}`;
  const lines = "call" in item ? sides.flatMap((side) => lineOf(side) ?? []) : [];
  return [command, ...lines].join("\n");
}

/** Quotes a word for a POSIX shell. */
export const quote = (word: string): string =>
  /^[\w./:@-]+$/.test(word) ? word : `'${word.replaceAll("'", "'\\''")}'`;

function lineOf(side: ReproducerSide): string[] | null {
  const { file, call } = side;
  if (file === null || !isPlain([...side.args, ...Object.values(side.kwargs)])) return null;
  const [top = call] = call.split(".");
  const named = Object.entries(side.kwargs);
  if (side.language === "python") {
    const args = [...side.args.map(pythonText), ...named.map(([key, value]) => `${key}=${pythonText(value)}`)].join(
      ", ",
    );
    const module = file.replace(/(\/__init__)?\.py$/, "").replaceAll("/", ".");
    return shell(side, `python3 -c ${quote(`from ${module} import ${top}; print(repr(${call}(${args})))`)}`);
  }
  if (side.language === "javascript" || side.language === "typescript") {
    const args = [...side.args, ...(named.length > 0 ? [side.kwargs] : [])]
      .map((value) => JSON.stringify(value))
      .join(", ");
    const from = JSON.stringify(`./${file}`);
    const code = `import * as m from ${from}; console.log(await (m.${top} ? m : m.default).${call}(${args}))`;
    return shell(side, `npx tsx --input-type=module -e ${quote(code)}`);
  }
  if (side.language === "ruby") {
    const args = [...side.args.map(rubyText), ...named.map(([key, value]) => `${key}: ${rubyText(value)}`)].join(", ");
    return shell(side, `ruby -e ${quote(`require "./${file}"; p ${call}(${args})`)}`);
  }
  return null;
}

const shell = ({ name, folder }: ReproducerSide, command: string): string[] => [
  `# ${name}`,
  `(cd ${quote(folder)} && ${command})`,
];

/** Whether plain JSON can express it, without value notation. */
function isPlain(value: Json): boolean {
  if (typeof value !== "object" || value === null) return true;
  if (Array.isArray(value)) return (value as readonly Json[]).every(isPlain);
  return Object.entries(value).every(([key, item]) => !key.startsWith("~") && isPlain(item));
}

function rubyText(value: Json): string {
  if (value === null) return "nil";
  if (typeof value === "string") return JSON.stringify(value).replaceAll("#", "\\#");
  if (typeof value !== "object") return JSON.stringify(value);
  if (Array.isArray(value)) return `[${(value as readonly Json[]).map(rubyText).join(", ")}]`;
  return `{${Object.entries(value)
    .map(([key, item]) => `${rubyText(key)} => ${rubyText(item)}`)
    .join(", ")}}`;
}

function pythonText(value: Json): string {
  if (value === null) return "None";
  if (typeof value === "boolean") return value ? "True" : "False";
  if (typeof value !== "object") return JSON.stringify(value);
  if (Array.isArray(value)) return `[${(value as readonly Json[]).map(pythonText).join(", ")}]`;
  return `{${Object.entries(value)
    .map(([key, item]) => `${JSON.stringify(key)}: ${pythonText(item)}`)
    .join(", ")}}`;
}
