/** Malformed files: each is refused with what and where, or read; never a stack trace, a hang or an internal error. */
import { writeFileSync } from "node:fs";
import path from "node:path";
import { isSideTwinError } from "@/core/errors";
import { selectCases } from "@/service/check/select-cases";
import { openPort, readCases } from "@/service/port/open-port";
import { pairPort } from "@/service/reading/pair-port";
import { surveyFolder } from "@/service/reading/survey-folder";
import { type Finding, randomFrom } from "./finding";
import { portFile, scratchFolder } from "./scratch";

type Text = string | Buffer;
type Mangle = { readonly name: string; readonly make: (text: string, random: () => number) => Text };

const at = (text: string, random: () => number): number => Math.floor(random() * text.length);

const MANGLES: readonly Mangle[] = [
  { name: "empty", make: () => "" },
  { name: "blank", make: () => " \n\t\n" },
  { name: "null", make: () => "null" },
  { name: "a list", make: () => "[]" },
  { name: "a number", make: () => "7" },
  { name: "a text", make: () => '"x"' },
  { name: "cut", make: (text, random) => text.slice(0, at(text, random)) },
  { name: "cut from the front", make: (text, random) => text.slice(at(text, random)) },
  { name: "a character gone", make: (text, random) => splice(text, at(text, random), 1, "") },
  {
    name: "a character more",
    make: (text, random) => splice(text, at(text, random), 0, pick('"{}[],:\\\n\0x7-', random)),
  },
  {
    name: "a character other",
    make: (text, random) => splice(text, at(text, random), 1, pick('"{}[],:\\ \0é\u{1f6a2}', random)),
  },
  { name: "a byte other", make: (text, random) => flip(Buffer.from(text), random) },
  { name: "NUL bytes", make: (text) => text.replaceAll(" ", "\0") },
  { name: "a mark in front", make: (text) => `\uFEFF${text}` },
  { name: "two marks in front", make: (text) => `\uFEFF\uFEFF${text}` },
  { name: "CRLF", make: (text) => text.replaceAll("\n", "\r\n") },
  { name: "CR alone", make: (text) => text.replaceAll("\n", "\r") },
  { name: "UTF-16", make: (text) => Buffer.from(`\uFEFF${text}`, "utf16le") },
  { name: "Latin-1", make: (text) => Buffer.from(`${text}é`, "latin1") },
  {
    name: "bytes of chance",
    make: (_text, random) => Buffer.from(Array.from({ length: 500 }, () => Math.floor(random() * 256))),
  },
  { name: "a zip", make: () => Buffer.from("504b0304140000000800", "hex") },
  { name: "open brackets", make: () => "[".repeat(200_000) },
  { name: "open braces", make: () => '{"a":'.repeat(100_000) },
  { name: "closed brackets", make: () => `${"[".repeat(5000)}${"]".repeat(5000)}` },
  { name: "one long line", make: (text) => text.replaceAll("\n", " ").repeat(2000) },
  { name: "twice", make: (text) => text + text },
  { name: "a comment", make: (text) => `// why\n${text}` },
  { name: "a key of its own", make: (text) => text.replace(/"(id|name)"/, '"$1z"') },
  { name: "a key twice", make: (text) => text.replace("{", '{"name":"x","id":"x",') },
  { name: "__proto__", make: (text) => text.replace("{", '{"__proto__":{"a":1},') },
  { name: "a later version", make: (text) => text.replace('"version":1', '"version":99') },
  { name: "numbers for texts", make: (text) => text.replace(/:"[^"]*"/, ":7") },
  { name: "null for texts", make: (text) => text.replace(/:"[^"]*"/, ":null") },
  { name: "lists for texts", make: (text) => text.replace(/:"[^"]*"/, ":[]") },
  { name: "texts for lists", make: (text) => text.replace(/\[[^\]]*\]/, '"x"') },
  { name: "a huge number", make: (text) => text.replace(/:\d+/, `:1e999`) },
  { name: "a long number", make: (text) => text.replace(/:\d+/, `:${"9".repeat(5000)}`) },
  { name: "a name that climbs out", make: (text) => text.replace(/"(original|twin|m)"/, '"../../../etc"') },
  { name: "a whole path", make: (text) => text.replace(/"(original|twin|m)"/, '"/etc/passwd"') },
  { name: "an empty name", make: (text) => text.replace(/"(original|twin|m)"/, '""') },
  { name: "a pattern without end", make: (text) => text.replace("cases/*", `${"{a,".repeat(500)}`) },
  { name: "a name with a line break", make: (text) => text.replace(/"(a|m)"/, '"a\\nb"') },
  { name: "a name of NUL", make: (text) => text.replace(/"(a|m)"/, '"\\u0000"') },
  { name: "a lone surrogate", make: (text) => text.replace(/"(a|m)"/, '"\\ud800"') },
];

const splice = (text: string, place: number, gone: number, put: string): string =>
  text.slice(0, place) + put + text.slice(place + gone);
const pick = (from: string, random: () => number): string => [...from][Math.floor(random() * [...from].length)] ?? "";
function flip(bytes: Buffer, random: () => number): Buffer {
  const place = Math.floor(random() * bytes.length);
  bytes[place] = (bytes[place] ?? 0) ^ (1 << Math.floor(random() * 8));
  return bytes;
}

const SOURCE =
  "import json\n\nclass A:\n    def f(self, n):\n        return [x for x in range(n) if x]\n\ndef act(word):\n    return {'a': word}\n";
const CASES = `${JSON.stringify({ id: "a", module: "m", call: "act", args: ["x", 7] })}\n${JSON.stringify({
  id: "b",
  module: "m",
  steps: [
    { new: "A", as: "o" },
    { call: "f", on: "o", args: [3] },
  ],
})}\n`;
const FILES: Readonly<Record<string, string>> = {
  "side-twin.json": JSON.stringify(portFile({ limits: { timeMs: 1000 } })),
  "cases/c.jsonl": CASES,
  "original/m.py": SOURCE,
  "twin/m.js":
    "export class A { f(n) { return [...Array(n).keys()].filter(Boolean); } }\nexport const act = (word) => ({ a: word });\n",
  "original/package.json": '{"name":"x","exports":{"./a":"./a.js"}}',
  "original/tsconfig.json": '{"compilerOptions":{"paths":{"@/*":["./*"]}}}',
};

/** How many attacks `attackFiles` makes of each kind of file. */
export const FILE_KINDS = Object.keys(FILES);

/** `count` malformed files, dealt out over the kinds and the ways of mangling. */
export async function attackFiles(count: number, seed: number): Promise<Finding[]> {
  const findings: Finding[] = [];
  for (let index = 0; index < count; index++) findings.push(await attackOne(index, seed));
  return findings;
}

/** The malformed file of a number, the same for the same seed. */
export async function attackOne(index: number, seed: number): Promise<Finding> {
  const mangle = MANGLES[index % MANGLES.length];
  const file = FILE_KINDS[Math.floor(index / MANGLES.length) % FILE_KINDS.length];
  if (!mangle || !file) throw new Error("no such file");
  const folder = scratchFolder(FILES);
  writeFileSync(path.join(folder, file), mangle.make(FILES[file] ?? "", randomFrom(seed + index)));
  const what = `${mangle.name}, seed ${seed}, number ${index}`;
  return { group: `malformed ${file}`, what, count: 1, wrong: await readAll(folder, file) };
}

const MAX_MS = 15_000;

async function readAll(folder: string, file: string): Promise<string[]> {
  const wrong: string[] = [];
  const attempts: readonly (readonly [string, () => Promise<unknown>])[] = [
    [
      "open",
      async () => {
        const open = await openPort(folder);
        selectCases(open, await readCases(open), {});
      },
    ],
    ["pair", () => pairPort(path.join(folder, "side-twin.json"))],
    ["survey", () => surveyFolder(path.join(folder, "original"))],
  ];
  for (const [name, work] of attempts) {
    const started = performance.now();
    try {
      await work();
    } catch (error) {
      if (!isSideTwinError(error))
        wrong.push(`${name} throws ${error instanceof Error ? error.stack?.slice(0, 300) : error}`);
      else if (error.what === "" || /\n\s+at /.test(error.message))
        wrong.push(`${name} says ${error.message.slice(0, 200)}`);
      // What is wrong with a file of the port is told with the file.
      else if (file.startsWith("cases/") && name === "open" && !error.where?.file)
        wrong.push(`${name} does not say where: ${error.message}`);
    }
    if (performance.now() - started > MAX_MS) wrong.push(`${name} took ${Math.round(performance.now() - started)} ms`);
  }
  return wrong;
}
