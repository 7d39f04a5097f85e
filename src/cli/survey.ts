import { Command } from "commander";
import { surveyFolder } from "@/service/survey-folder";

export function surveyCommand(): Command {
  return new Command("survey")
    .description("read a source tree: files, languages, lines, sections")
    .argument("<folder>")
    .option("--json", "print the survey as JSON")
    .action(async (folder: string, options: { json?: boolean }) => {
      const survey = await surveyFolder(folder);
      if (options.json) {
        process.stdout.write(`${JSON.stringify(survey)}\n`);
        return;
      }
      for (const [language, { files, lines }] of Object.entries(survey.languages)) {
        process.stdout.write(`${language}: ${files} files, ${lines} lines\n`);
      }
      for (const file of survey.files)
        process.stdout.write(`${file.path}  ${file.lines} lines, ${file.sections.length} sections\n`);
      for (const { file, line, message } of survey.errors) {
        process.stderr.write(`${file}${line === undefined ? "" : `:${line}`}: ${message}\n`);
      }
    });
}
