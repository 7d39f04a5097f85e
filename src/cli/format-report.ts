/** A report for people: what differs first, module by module. */
import type { CaseReport, ModuleReport, Report } from "@/core/formats/report";

const SHOWN_PER_MODULE = 3;

/** Formats a report for people. */
export function formatReport(report: Report): string {
  const lines: string[] = [];
  const width = Math.max(8, ...report.modules.map((module) => module.name.length));
  for (const module of report.modules.filter(({ totals }) => totals.cases > 0)) {
    lines.push(`${module.name.padEnd(width)}  ${describeModule(module)}`);
    const bad = report.cases.filter((item) => item.module === module.name && item.twin === module.twin && isBad(item));
    for (const item of bad.slice(0, SHOWN_PER_MODULE)) lines.push(`${" ".repeat(width)}    ${describeCase(item)}`);
    if (bad.length > SHOWN_PER_MODULE) lines.push(`${" ".repeat(width)}    and ${bad.length - SHOWN_PER_MODULE} more`);
  }
  const runs = report.cases.filter((item) => item.module === null);
  if (runs.length > 0) {
    lines.push(`${"programs".padEnd(width)}  ${runs.length} runs`);
    for (const item of runs.filter(isBad).slice(0, SHOWN_PER_MODULE))
      lines.push(`${" ".repeat(width)}    ${describeCase(item)}`);
  }
  const { totals } = report;
  const parts = (["agree", "allowed", "differ", "broken", "unsteady", "skipped"] as const).filter(
    (name) => totals[name] > 0,
  );
  lines.push(
    "",
    `${totals.cases} cases in ${report.seconds.toFixed(1)} s: ${parts.map((name) => `${totals[name]} ${name}`).join(", ")}`,
  );
  const measured = report.modules.filter((module) => module.provenLines !== null);
  if (measured.length > 0) {
    const sum = (pick: (module: ModuleReport) => number) => measured.reduce((total, module) => total + pick(module), 0);
    const [proven, all] = [sum((module) => module.provenLines ?? 0), sum((module) => module.lines)];
    lines.push(`${proven} of ${all} lines proven (${all === 0 ? 0 : Math.floor((100 * proven) / all)} %)`);
  }
  const { original, twin } = report.reused;
  if (original + twin > 0)
    lines.push(
      `${original} answers of the original and ${twin} of twins were kept from earlier checks (--fresh runs all)`,
    );
  for (const { what, cases } of report.warnings ?? [])
    lines.push(
      `Warning: ${what} (${cases.slice(0, 3).join(", ")}${cases.length > 3 ? `, and ${cases.length - 3} more` : ""})`,
    );
  lines.push(`While it ran: ${report.protections.join("; ")}`);
  if (report.state === "stopped") lines.push("The check was stopped before its end.");
  return `${lines.join("\n")}\n`;
}

const isBad = (item: CaseReport): boolean =>
  item.outcome === "differ" || item.outcome === "broken" || item.outcome === "unsteady";

function describeModule({ totals, provenLines, lines }: ModuleReport): string {
  const parts = (["agree", "allowed", "differ", "broken", "unsteady", "skipped"] as const).filter(
    (name) => totals[name] > 0,
  );
  const proven = provenLines === null ? "" : `; ${provenLines} of ${lines} lines proven`;
  return `${parts.map((name) => `${totals[name]} ${name}`).join(", ")}${proven}`;
}

function describeCase(item: CaseReport): string {
  const first = item.divergences.find((divergence) => divergence.allowance === undefined);
  if (item.outcome === "broken") return `${item.id}: broken on ${item.side}: ${item.why}`;
  if (item.outcome === "unsteady") return `${item.id}: unsteady: ${item.why}`;
  if (!first) return `${item.id}: ${item.outcome}`;
  return `${item.id}: ${first.at}: ${short(first.original)} against ${short(first.twin)}`;
}

function short(value: unknown): string {
  const text = JSON.stringify(value) ?? "nothing";
  return text.length > 60 ? `${text.slice(0, 57)}…` : text;
}
