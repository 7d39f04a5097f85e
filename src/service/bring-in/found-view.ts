/** The findings of a tree as the bring-in page shows them. */

import type { FoundView } from "@/api/bring-in-views";
import type { Draft } from "@/core/bring-in/draft";
import { matchesFile } from "@/core/values/file-pattern";
import { type Found, languagesOf, plannedLanguages } from "@/service/bring-in/found";

const SHOWN = 40;

/** Converts findings to the record of the page. */
export function foundView(
  found: Found,
  given: { readonly token: string; readonly from: string; readonly links: readonly string[]; readonly draft: Draft },
): FoundView {
  const { survey, tools, entries } = found;
  const packages = new Map<string, number>();
  for (const { package: name, uses } of survey.outside) packages.set(name, (packages.get(name) ?? 0) + uses.length);
  const isIgnored = (file: string) => given.draft.ignore.some((pattern) => matchesFile(file, pattern));
  const own = survey.modules.filter(({ isTest, files }) => !isTest && !files.every(isIgnored));
  const most = (list: { uses: number }[]) => list.sort((one, other) => other.uses - one.uses).slice(0, SHOWN);
  return {
    token: given.token,
    from: given.from,
    links: given.links.slice(0, SHOWN),
    draft: given.draft,
    languages: languagesOf(found),
    tools,
    sections: survey.files.reduce((sum, file) => sum + file.sections.length, 0),
    modules: own.length,
    knots: survey.knots.length,
    layers: Math.max(0, ...own.map(({ layer }) => layer + 1)),
    tests: survey.tests.slice(0, SHOWN),
    outside: most([...packages].map(([name, uses]) => ({ package: name, uses }))) as FoundView["outside"][number][],
    snags: most(survey.snags.map(({ name, uses }) => ({ name, uses: uses.length }))) as FoundView["snags"][number][],
    problems: survey.problems.slice(0, SHOWN),
    entryFrom: Object.fromEntries([...entries].map(([language, { from }]) => [language, from])),
    planned: plannedLanguages(),
  };
}
