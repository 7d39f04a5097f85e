/** Reads a source tree: files, languages, lines and sections. */
import { stat } from "node:fs/promises";
import path from "node:path";
import { SideTwinError, toErrorRecord } from "@/core/errors";
import { languageOf } from "@/core/source/language-of";
import type { Section } from "@/core/source/section";
import { listFiles } from "@/engine/files/tree";
import { parseSource } from "@/engine/source/parse";
import { readText } from "@/service/open-port";

export type Survey = {
  readonly root: string;
  readonly languages: Readonly<Record<string, { readonly files: number; readonly lines: number }>>;
  readonly files: readonly {
    readonly path: string;
    readonly language: string;
    readonly lines: number;
    readonly sections: readonly Pick<Section, "name" | "kind" | "from" | "to" | "complexity">[];
  }[];
  readonly errors: readonly { readonly file: string; readonly line?: number; readonly message: string }[];
};

/** Throws SideTwinError when the folder can not be read; a file that can not be is listed under `errors`. */
export async function surveyFolder(folder: string): Promise<Survey> {
  const root = path.resolve(folder);
  if (!(await stat(root).catch(() => null))?.isDirectory()) {
    throw new SideTwinError({
      code: "not-found",
      what: `There is no folder ${root}`,
      next: "Name a folder with source code.",
    });
  }
  const languages: Record<string, { files: number; lines: number }> = {};
  const files: Survey["files"][number][] = [];
  const errors: Survey["errors"][number][] = [];
  for (const file of await listFiles(root)) {
    const language = languageOf(file);
    if (language === null) continue;
    try {
      const parsed = await parseSource(await readText(path.join(root, file)), language, { colours: false });
      const counted = languages[language] ?? { files: 0, lines: 0 };
      languages[language] = counted;
      counted.files++;
      counted.lines += parsed.lines.length;
      const sections = parsed.sections.map(({ name, kind, from, to, complexity }) => ({
        name,
        kind,
        from,
        to,
        complexity,
      }));
      files.push({ path: file, language, lines: parsed.lines.length, sections });
      if (parsed.errorLine !== null) errors.push({ file, line: parsed.errorLine, message: "does not parse here" });
    } catch (thrown) {
      errors.push({ file, message: toErrorRecord(thrown).what });
    }
  }
  return { root, languages, files, errors };
}
