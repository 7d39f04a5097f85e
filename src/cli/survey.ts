import { Command } from "commander";
import { languageTitle } from "@/core/source/language-of";
import { type FolderSurvey, surveyFolder } from "@/service/reading/survey-folder";

/** `side-twin survey`. */
export function surveyCommand(): Command {
  return new Command("survey")
    .description("read a source tree: files, languages, sections, imports, outside dependencies, snags")
    .argument("<folder>")
    .option("--json", "print the survey as JSON")
    .action(async (folder: string, options: { json?: boolean }) => {
      const survey = await surveyFolder(folder);
      process.stdout.write(options.json ? `${JSON.stringify(toJson(survey))}\n` : describe(survey));
      if (options.json) return;
      for (const { file, line, message } of survey.problems)
        process.stderr.write(`${file}${line === undefined ? "" : `:${line}`}: ${message}\n`);
    });
}

/** In the shape of the formats: an import with one file, dependency cycles as lists of names. */
function toJson({ root, files, knots, problems, ...survey }: FolderSurvey): object {
  return {
    root,
    languages: survey.languages,
    files: files.map(({ path, language, lines, sections, imports, isGenerated }) => ({
      path,
      language,
      lines,
      ...(isGenerated ? { generated: true } : {}),
      sections,
      imports: imports.map((written) => ({
        text: written.text,
        line: written.line,
        file: written.files[0] ?? null,
        package: written.package,
        names: written.names,
      })),
    })),
    outside: survey.outside,
    modules: survey.modules.map(({ isTest, ...module }) => ({ ...module, ...(isTest ? { test: true } : {}) })),
    knots: knots.map(({ members }) => members),
    untie: knots.map(({ untie }) => untie.imports),
    mentions: survey.mentions,
    snags: survey.snags,
    tests: survey.tests,
    errors: problems,
  };
}

const SHOWN = 12;

/** The first of many. */
const some = (names: readonly string[]): string =>
  names.length > SHOWN ? `${names.slice(0, SHOWN).join(", ")} and ${names.length - SHOWN} more` : names.join(", ");

function describe({ files, languages, modules, knots, outside, snags, mentions, tests }: FolderSurvey): string {
  const lines: string[] = [];
  for (const [language, { files: own, lines: count }] of Object.entries(languages))
    lines.push(`${languageTitle(language)}: ${own} files, ${count} lines`);
  const layers = Math.max(-1, ...modules.map(({ layer }) => layer)) + 1;
  lines.push(`${modules.length} modules in ${layers} layers, ${knots.length} knots, ${tests.length} with tests`);
  for (const { members, untie } of knots) {
    const cuts = untie.imports.map(({ from, to }) => `${from} > ${to}`);
    lines.push(`  knot: ${some(members)}; untied without ${some(cuts)}${untie.isLeast ? "" : ", as far as was tried"}`);
  }
  const packages = new Map<string, number>();
  for (const { package: name, uses } of outside) packages.set(name, (packages.get(name) ?? 0) + uses.length);
  lines.push(`${packages.size} packages from outside, ${mentions.length} mentions in files that are not code`);
  for (const [name, count] of [...packages].sort((one, other) => other[1] - one[1]).slice(0, SHOWN))
    lines.push(`  ${name}  ${count} uses`);
  lines.push(`${snags.length} snags`);
  for (const { title, name, uses } of snags.slice(0, SHOWN)) lines.push(`  ${title}: ${name}, ${uses.length} places`);
  for (const file of files) lines.push(`${file.path}  ${file.lines} lines, ${file.sections.length} sections`);
  return `${lines.join("\n")}\n`;
}
