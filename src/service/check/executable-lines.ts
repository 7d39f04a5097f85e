/** Which lines of a side's files can be run. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import { languageIn } from "@/core/source/language-of";
import { findLanguage } from "@/core/source/languages/index";
import { DRIVERS } from "@/engine/drivers/index";
import { readStatements } from "@/engine/source/parse";
import type { SideAnswers } from "@/service/check/side-answers";

/** A file's executable lines, and those among them that loading it runs, if the driver reports them. */
export type FileFacts = { readonly lines: readonly number[]; readonly load: readonly number[] };

/** File → its lines: asked of a driver that reports lines with each answer, else read from the source. */
export async function executableLines(side: SideAnswers, files: Iterable<string>): Promise<Map<string, FileFacts>> {
  const facts = new Map<string, FileFacts>();
  const { language } = side.terms.side;
  // Where the source gives the statements, those instrumented are the executable ones.
  const isAsked = DRIVERS[language]?.lines === "each" && !findLanguage(language)?.statements;
  const isMarked = side.terms.lines && DRIVERS[language]?.marksLines === true;
  for (const file of files) {
    if (isAsked) {
      const { executable } = await side.ask([file], { op: "lines", file });
      facts.set(file, executable ?? { lines: [], load: [] });
    } else {
      const text = await readFile(path.join(side.terms.side.folder, file), "utf8").catch(() => "");
      const { statementLines, loadLines } = await readStatements(text, languageIn(file, text));
      const known = new Set(statementLines);
      const load = isMarked ? ((await side.ask([file], { op: "lines", file })).executable?.load ?? []) : loadLines;
      facts.set(file, { lines: statementLines, load: load.filter((line) => known.has(line)) });
    }
  }
  return facts;
}
