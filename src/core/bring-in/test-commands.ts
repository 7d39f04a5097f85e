/** Commands that likely run an original's own tests: proposed for recording, shown first and never run unasked. */
import { parse } from "jsonc-parser";
import type { Command, TreeTexts } from "@/core/bring-in/entry-points";
import { isTestFile } from "@/core/survey/test-files";

/** Files that configure how tests are run. */
export const tellsOfTests = (file: string): boolean =>
  /(^|\/)(package\.json|pytest\.ini|pyproject\.toml|tox\.ini|setup\.cfg)$/.test(file) ||
  (isTestFile(file) && /\.(py|[cm]?[jt]s)$/.test(file));

/** By language of the original, the likeliest first; none where there are no tests, or where nothing can be recorded. */
export function guessTestCommands(language: string, tree: TreeTexts): Command[] {
  return GUESSES[language]?.(tree) ?? [];
}

type Guess = (tree: TreeTexts) => Command[];

const javascript: Guess = ({ files, texts }) => {
  const script = scriptOf(texts.get("package.json"));
  const tests = files.filter((file) => isTestFile(file) && /\.[cm]?js$/.test(file));
  return [...(script ? [script] : []), ...(tests.length > 0 ? [["node", "--test"]] : [])];
};

const GUESSES: Readonly<Record<string, Guess>> = {
  python: ({ files, texts }) => {
    const tests = files.filter((file) => isTestFile(file) && file.endsWith(".py"));
    if (tests.length === 0) return [];
    const isOfPytest =
      files.some((file) => /(^|\/)(pytest\.ini|conftest\.py)$/.test(file)) ||
      [...texts.values()].some((text) => /^\s*(import|from) pytest\b|^\[(tool\.)?pytest/m.test(text));
    const hasCases = [...texts.values()].some((text) => /\bTestCase\b/.test(text));
    const unittest = ["python3", "-m", "unittest"];
    const pytest = ["python3", "-m", "pytest"];
    return isOfPytest || !hasCases ? [pytest] : [unittest, pytest];
  },
  javascript,
  typescript: javascript,
  tsx: javascript,
};

/** The test script of a package; null where it needs a shell, or is what a new package is filled in with. */
function scriptOf(manifest: string | undefined): Command | null {
  const script: unknown = (parse(manifest ?? "{}") as { scripts?: { test?: unknown } } | undefined)?.scripts?.test; // whatever is there
  if (typeof script !== "string" || script.trim() === "" || /no test specified/.test(script)) return null;
  return ["npm", "test"];
}
