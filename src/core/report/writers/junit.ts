/** A report as JUnit XML, the form that continuous integration servers read. */
import type { CaseReport, Report } from "@/core/formats/report";

/** Writes one suite per module and twin; a differing case is a failure, a broken or unsteady one an error. */
export function formatJunit(report: Report): string {
  const suites = new Map<string, CaseReport[]>();
  for (const item of report.cases) {
    const name = `${item.module ?? "programs"} (${item.twin})`;
    suites.set(name, [...(suites.get(name) ?? []), item]);
  }
  const body = [...suites].map(([name, cases]) => suite(name, cases)).join("");
  const { differ, broken, unsteady, skipped, cases } = report.totals;
  const counts = `tests="${cases}" failures="${differ}" errors="${broken + unsteady}" skipped="${skipped}"`;
  return `<?xml version="1.0" encoding="UTF-8"?>\n<testsuites name="${escapeXml(report.port)}" ${counts} time="${report.seconds}">\n${body}</testsuites>\n`;
}

function suite(name: string, cases: readonly CaseReport[]): string {
  const count = (outcomes: readonly string[]) => cases.filter((item) => outcomes.includes(item.outcome)).length;
  const counts = `tests="${cases.length}" failures="${count(["differ"])}" errors="${count(["broken", "unsteady"])}" skipped="${count(["skipped"])}"`;
  return `<testsuite name="${escapeXml(name)}" ${counts}>\n${cases.map((item) => testCase(name, item)).join("")}</testsuite>\n`;
}

function testCase(suiteName: string, item: CaseReport): string {
  const open = `<testcase classname="${escapeXml(suiteName)}" name="${escapeXml(item.id)}" time="${((item.ms.original ?? 0) + (item.ms.twin ?? 0)) / 1000}"`;
  switch (item.outcome) {
    case "agree":
    case "allowed":
      return `${open}/>\n`;
    case "skipped":
      return `${open}><skipped message="${escapeXml(item.why ?? "")}"/></testcase>\n`;
    case "differ": {
      const lines = item.divergences
        .filter((divergence) => divergence.allowance === undefined)
        .map((divergence) => {
          return `${divergence.at}: ${JSON.stringify(divergence.original)} against ${JSON.stringify(divergence.twin)}`;
        });
      return `${open}><failure message="${escapeXml(lines[0] ?? "differs")}">${escapeXml(lines.join("\n"))}</failure></testcase>\n`;
    }
    case "broken":
    case "unsteady":
      return `${open}><error message="${escapeXml(item.why ?? item.outcome)}">${escapeXml(item.lastOutput ?? "")}</error></testcase>\n`;
  }
}

const ENTITIES: Readonly<Record<string, string>> = { "<": "&lt;", ">": "&gt;", "&": "&amp;", '"': "&quot;" };

/** XML 1.0 has no way to write most control characters: they are shown by their code. */
const escapeXml = (text: string): string =>
  Array.from(text.toWellFormed(), (sign) => (isXmlCharacter(sign) ? (ENTITIES[sign] ?? sign) : codeOf(sign))).join("");

const isXmlCharacter = (sign: string): boolean =>
  sign >= " " ? sign !== "\ufffe" && sign !== "\uffff" : sign === "\n" || sign === "\t" || sign === "\r";

const codeOf = (sign: string): string => `\\u${sign.charCodeAt(0).toString(16).padStart(4, "0")}`;
