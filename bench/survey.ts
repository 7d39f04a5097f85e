/** The survey rows of the speed table: a large tree against parsing it alone on one thread, and a scan after one change. */
import { appendFileSync, cpSync, existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { Language, Parser } from "web-tree-sitter";
import { listFiles } from "@/engine/files/tree";
import { packageRoot } from "@/engine/package-root";
import { findRuntime } from "@/engine/toolchains/toolchains";
import { FactsCache, surveyFolder } from "@/service/reading/survey-folder";

/** The standard library of the Python on this machine, the largest tree that is surely there. */
export async function standardLibrary(): Promise<string | null> {
  const [python = ""] = await findRuntime("python");
  const homes = [path.join(path.dirname(python), "../lib"), "/usr/lib", "/usr/local/lib"];
  const found = homes.flatMap((home) =>
    existsSync(home)
      ? readdirSync(home)
          .filter((name) => /^python3\.\d+$/.test(name))
          .map((name) => path.join(home, name))
      : [],
  );
  return found.find((folder) => existsSync(path.join(folder, "ast.py"))) ?? null;
}

/** Seconds to parse Python files one after another on one thread. */
export async function parseAlone(root: string, files: readonly string[]): Promise<number> {
  await Parser.init();
  const grammar = path.join(packageRoot(), "node_modules/@vscode/tree-sitter-wasm/wasm/tree-sitter-python.wasm");
  const parser = new Parser().setLanguage(await Language.load(grammar));
  const started = performance.now();
  for (const file of files) parser.parse(readFileSync(path.join(root, file), "utf8"))?.delete();
  return (performance.now() - started) / 1000;
}

const SIZES = [1_000, 10_000, 100_000, 1_000_000];

/** Repeats files of the tree until they have that many lines. */
function copyLines(tree: string, files: readonly string[], to: string, lines: number): void {
  let count = 0;
  for (let round = 0; count < lines; round++) {
    for (const file of files) {
      const text = readFileSync(path.join(tree, file), "utf8");
      const target = path.join(to, `round${round}`, file);
      mkdirSync(path.dirname(target), { recursive: true });
      writeFileSync(target, text);
      count += text.split("\n").length;
      if (count >= lines) return;
    }
  }
}

/** Seconds and memory against lines, smallest first: memory is that of the process when the survey is there. */
async function benchSizes(
  work: string,
  tree: string,
  files: readonly string[],
  say: (line: string) => void,
): Promise<void> {
  for (const size of SIZES) {
    const folder = path.join(work, `lines${size}`);
    copyLines(tree, files, folder, size);
    const before = process.memoryUsage().rss;
    const started = performance.now();
    const survey = await surveyFolder(folder);
    const seconds = (performance.now() - started) / 1000;
    const lines = Object.values(survey.languages).reduce((sum, count) => sum + count.lines, 0);
    const grown = Math.max(0, Math.round((process.memoryUsage().rss - before) / 1024 / 1024));
    say(`survey of ${lines.toLocaleString("en")} lines: ${seconds.toFixed(2)} s, ${grown} MB more`);
  }
}

/** Copies the large tree; its Python files, none where there is no such tree. */
export async function copyTree(to: string): Promise<string[]> {
  const tree = await standardLibrary();
  if (!tree) return [];
  cpSync(tree, to, { recursive: true, filter: (name) => !/site-packages|dist-packages|__pycache__/.test(name) });
  return (await listFiles(to)).filter((file) => file.endsWith(".py"));
}

/** Prints one line a figure. `work` is a folder for a copy that may be changed. */
export async function benchSurvey(work: string, say: (line: string) => void): Promise<void> {
  const tree = await standardLibrary();
  if (!tree) {
    say("survey: no Python standard library was found");
    return;
  }
  const copy = path.join(work, "tree");
  const files = await copyTree(copy);
  await benchSizes(work, copy, files, say);
  const alone = await parseAlone(copy, files);
  const known = new FactsCache();
  const started = performance.now();
  const survey = await surveyFolder(copy, { known });
  const seconds = (performance.now() - started) / 1000;
  const lines = Object.values(survey.languages).reduce((sum, count) => sum + count.lines, 0);
  const memory = Math.round(process.memoryUsage().rss / 1024 / 1024);
  say(
    `survey of ${lines.toLocaleString("en")} lines in ${survey.files.length} files: ${seconds.toFixed(1)} s against ${alone.toFixed(1)} s of parsing alone: ratio ${(seconds / alone).toFixed(2)} (reach: 0.7); ${memory} MB`,
  );
  appendFileSync(path.join(copy, files[0] ?? ""), "\n# changed\n");
  const again = performance.now();
  await surveyFolder(copy, { known });
  say(`a scan after one changed file: ${((performance.now() - again) / 1000).toFixed(2)} s (reach: 0.3)`);
}
