/** The survey of a port's original: what the screen shows, the places behind a count, and what a person decides of snags. */

import { readFile } from "node:fs/promises";
import path from "node:path";
import type { ShownPlace, SurveyView, UsesView } from "@/api/views";
import { SideTwinError } from "@/core/errors";
import type { Way } from "@/core/formats/ways";
import { isDone } from "@/core/progress/done";
import type { Place } from "@/core/survey/file-facts";
import { makeUsesGrid, placesOf } from "@/core/survey/uses-grid";
import { editPortFile } from "@/service/port/edit-port-file";
import type { OpenPort } from "@/service/port/open-port";
import { type FactsCache, type FolderSurvey, surveyFolder } from "@/service/reading/survey-folder";
import type { PortFacts } from "@/service/views/port-facts";
import { moduleViews, portCard } from "@/service/views/port-views";

/** Reads what changed of the original. Throws SideTwinError. */
export const surveyOriginal = (open: OpenPort, known: FactsCache): Promise<FolderSurvey> =>
  surveyFolder(open.original.folder, { ignore: open.original.ignore, known });

/** Combines a survey with the port's state. */
export function surveyView(facts: PortFacts, survey: FolderSurvey): SurveyView {
  const modules = moduleViews(facts);
  const { reading } = facts;
  const moduleOf = new Map(
    reading.modules.flatMap(({ name, original }) => original.map((file) => [file, name] as const)),
  );
  const filesOf = new Map(reading.modules.map(({ name, original }) => [name, original] as const));
  const done = new Set(modules.filter(isDone).map(({ name }) => name));
  const sections = new Map<string, { count: number; complexity: number }>();
  for (const file of survey.files) {
    const module = moduleOf.get(file.path);
    if (module === undefined) continue;
    const before = sections.get(module) ?? { count: 0, complexity: 0 };
    const own = file.sections.filter(({ kind }) => kind === "function" || kind === "method");
    sections.set(module, {
      count: before.count + file.sections.length,
      complexity: before.complexity + own.reduce((sum, section) => sum + section.complexity, 0),
    });
  }
  return {
    port: portCard(facts, modules),
    twin: facts.twin,
    languages: survey.languages,
    rows: [...modules]
      .sort((one, other) => one.layer - other.layer)
      .map((module) => ({
        module: module.name,
        lines: module.textLines,
        sections: sections.get(module.name)?.count ?? 0,
        complexity: sections.get(module.name)?.complexity ?? 0,
        proven: module.provenLines === null ? null : module.lines === 0 ? 1 : module.provenLines / module.lines,
        isDone: done.has(module.name),
        files: filesOf.get(module.name) ?? [],
      })),
    grid: makeUsesGrid(survey, { moduleOf, done, choices: reading.open.port.snags }),
    tests: survey.tests,
    knots: survey.knots,
    mentions: survey.mentions.length,
    problems: survey.problems,
  };
}

const MAX_PLACES = 400;

/** Returns the places behind a column's count, with their current text. */
export async function usesView(open: OpenPort, survey: FolderSurvey, name: string): Promise<UsesView> {
  const lines = new Lines(open.original.folder);
  const uses = eachOnce(placesOf(survey, open.port.snags, name)).slice(0, MAX_PLACES);
  const mentions = survey.mentions.filter((mention) => mention.name === name).slice(0, MAX_PLACES);
  return { name, uses: await lines.show(uses), mentions: await lines.show(mentions) };
}

/** A line that uses several names of one column is one place to look at. */
const eachOnce = (places: readonly Place[]): Place[] => [
  ...new Map(places.map((place) => [`${place.file}:${place.line}`, place])).values(),
];

class Lines {
  private readonly files = new Map<string, Promise<readonly string[]>>();
  constructor(private readonly folder: string) {}

  show(places: readonly Place[]): Promise<ShownPlace[]> {
    return Promise.all(
      places.map(async ({ file, line }) => ({
        file,
        line,
        text: ((await this.read(file))[line - 1] ?? "").trim().slice(0, 200),
      })),
    );
  }

  private read(file: string): Promise<readonly string[]> {
    const known =
      this.files.get(file) ??
      readFile(path.join(this.folder, file), "utf8").then(
        (text) => text.split("\n"),
        () => [],
      );
    this.files.set(file, known);
    return known;
  }
}

/** Saves the plan for a snag to the port file; null removes it. Throws SideTwinError. */
export async function decideWay(
  open: OpenPort,
  wanted: { name: string; way: Way | null; note: string },
): Promise<void> {
  const { name, way, note } = wanted;
  await editPortFile(open.file, ({ snags }) => {
    const place = snags.findIndex((entry) => entry.name === name);
    const before = snags[place];
    const entry = {
      name,
      ...(before?.match === undefined ? {} : { match: before.match }),
      ...(way === null ? {} : { way }),
      ...(note.trim() === "" ? {} : { note: note.trim() }),
    };
    const isEmpty = Object.keys(entry).length === 1;
    if (place === -1) return isEmpty ? [] : [{ path: ["snags", -1], value: entry, insert: true }];
    return [{ path: ["snags", place], value: isEmpty ? undefined : entry }];
  });
}

/** Adds a platform-bound item by a pattern over outside uses. Throws SideTwinError. */
export async function addSnag(open: OpenPort, { name, match }: { name: string; match: string }): Promise<void> {
  if (name.trim() === "" || match.trim() === "") {
    throw new SideTwinError({
      code: "bad-input",
      what: "A snag needs a name and a pattern",
      next: "Say what it is and what it matches, such as json.*.",
    });
  }
  if (!/[\p{L}\p{N}_]/u.test(match)) {
    throw new SideTwinError({
      code: "bad-input",
      what: `The pattern "${match}" names nothing`,
      where: { key: "match" },
      next: "Write a dotted name, with * for any part of it, such as json.*.",
    });
  }
  const value = { name: name.trim(), match: match.trim() };
  await editPortFile(open.file, ({ snags }) => {
    if (snags.some((entry) => entry.name === value.name)) {
      throw new SideTwinError({
        code: "bad-input",
        what: `There is a snag "${value.name}" already`,
        next: "Give it another name.",
      });
    }
    return [{ path: ["snags", -1], value, insert: true }];
  });
}

/** Takes an item that was added by a person out of the port file. Throws SideTwinError `not-found`. */
export async function removeSnag(open: OpenPort, name: string): Promise<void> {
  await editPortFile(open.file, ({ snags }) => {
    const at = snags.findIndex((entry) => entry.name === name && entry.match !== undefined);
    if (at >= 0) return [{ path: ["snags", at], value: undefined }];
    throw new SideTwinError({
      code: "not-found",
      what: `There is no item "${name}" of your own`,
      next: "Those of the catalogue cannot be taken out; decide on a plan instead.",
    });
  });
}
