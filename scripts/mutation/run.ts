/**
 * `npm run mutate [COUNT] [SEED] [FOLDER]`: changes one place of `src/core` or `src/engine` at a time, in a copy, and runs
 * the tests of the same folder, then those of its layer. Prints which changes no test noticed. Places are spread evenly over folders, by the seed.
 */
import { spawnSync } from "node:child_process";
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { tmpdir } from "node:os";
import path from "node:path";
import { Language, Parser } from "web-tree-sitter";
import { packageRoot } from "@/engine/package-root";
import { type Mutant, mutantsOf } from "./mutants";

type Placed = Mutant & { readonly file: string };

const [count = 60, seed = 20_261] = process.argv.slice(2, 4).map(Number);
const only = process.argv[4] ?? "src/";
const root = packageRoot();
const TIME_LIMIT_MS = 120_000;

const parser = await makeParser();
const files = spawnSync("git", ["ls-files", "src/core", "src/engine"], { cwd: root, encoding: "utf8" })
  .stdout.split("\n")
  .filter((file) => file.startsWith(only) && file.endsWith(".ts") && !/\.test\.ts$|\/snags\/|index\.ts$/.test(file));
const random = createRandom(seed);
const chosen = spread(files.flatMap((file) => mutantsIn(file)));

const copy = mkdtempSync(path.join(tmpdir(), "side-twin-mutants-"));
for (const name of ["src", "docs", "demo", "package.json", "tsconfig.json", "vitest.config.ts", "bin", "scripts"])
  cpSync(path.join(root, name), path.join(copy, name), { recursive: true });
symlinkSync(path.join(root, "node_modules"), path.join(copy, "node_modules"));
mkdirSync(path.join(copy, "tests"));
symlinkSync(path.join(root, "tests/tools"), path.join(copy, "tests/tools"));

// A test that fails in the copy without any mutant would kill them all.
for (const tests of [["src/core", "src/engine/source"], ["src/engine"]])
  if (!runTests(tests)) {
    process.stderr.write(`The tests of ${tests.join(" and ")} fail before anything is changed.\n`);
    process.exit(1);
  }

const survivors: Placed[] = [];
for (const [index, mutant] of chosen.entries()) {
  const target = path.join(copy, mutant.file);
  const text = readFileSync(target, "utf8");
  writeFileSync(target, text.slice(0, mutant.from) + mutant.text + text.slice(mutant.to));
  const isKilled = !passes(mutant.file);
  writeFileSync(target, text);
  if (!isKilled) survivors.push(mutant);
  process.stdout.write(
    `${index + 1}/${chosen.length} ${isKilled ? "killed  " : "SURVIVED"} ${mutant.file}:${mutant.line} ${mutant.operator}\n`,
  );
}
rmSync(copy, { recursive: true, force: true });

const killed = chosen.length - survivors.length;
process.stdout.write(
  `\n${killed} of ${chosen.length} killed (${Math.floor((100 * killed) / chosen.length)} %), seed ${seed}\n`,
);
for (const { file, line, operator, text } of survivors)
  process.stdout.write(`  ${file}:${line}  ${operator}  → ${text.slice(0, 60)}\n`);

/** The room's own tests first, as they are quick; then those of the whole layer. */
function passes(file: string): boolean {
  return testsFor(file).every(runTests);
}

function runTests(tests: readonly string[]): boolean {
  const run = spawnSync(
    process.execPath,
    ["node_modules/vitest/vitest.mjs", "run", "--bail=1", "--reporter=dot", ...tests],
    { cwd: copy, stdio: "ignore", timeout: TIME_LIMIT_MS, env: { ...process.env, SIDE_TWIN_HOME: copy } },
  );
  return run.status === 0;
}

/** `src/core/compare` and then `src/core`; reading sources is tested through the parser in `src/engine/source`. */
function testsFor(file: string): string[][] {
  const parts = file.split("/");
  const room = parts.slice(0, 3).join("/");
  const layer = file.startsWith("src/core/") ? ["src/core", "src/engine/source"] : ["src/engine"];
  const tests = spawnSync("git", ["ls-files", room], { cwd: root, encoding: "utf8" }).stdout;
  return /\.test\.ts/.test(tests) ? [[room], layer] : [layer];
}

function mutantsIn(file: string): Placed[] {
  const text = readFileSync(path.join(root, file), "utf8");
  const tree = parser.parse(text);
  const found = tree ? mutantsOf(tree.rootNode).map((mutant) => ({ ...mutant, file })) : [];
  tree?.delete();
  return found;
}

/** As many from each folder as its share of all mutants, at least one. */
function spread(all: readonly Placed[]): Placed[] {
  const byFolder = new Map<string, Placed[]>();
  for (const mutant of all) {
    const folder = mutant.file.split("/").slice(0, 3).join("/");
    byFolder.set(folder, [...(byFolder.get(folder) ?? []), mutant]);
  }
  const picked: Placed[] = [];
  for (const list of byFolder.values()) {
    const share = Math.max(1, Math.round((count * list.length) / all.length));
    const rest = [...list];
    for (let taken = 0; taken < share && rest.length > 0; taken++)
      picked.push(...rest.splice(Math.floor(random() * rest.length), 1));
  }
  return picked;
}

/** Mulberry32 (Tommy Ettinger, public domain): the same numbers for the same seed. */
function createRandom(start: number): () => number {
  let state = start;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

async function makeParser(): Promise<Parser> {
  await Parser.init();
  const require = createRequire(path.join(root, "package.json"));
  const folder = path.dirname(require.resolve("@vscode/tree-sitter-wasm/package.json"));
  const made = new Parser();
  made.setLanguage(await Language.load(path.join(folder, "wasm/tree-sitter-typescript.wasm")));
  return made;
}
