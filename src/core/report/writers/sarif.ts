/** Writes differences as SARIF 2.1.0 (OASIS, 2020), which code hosts show beside the code. */
import type { Report } from "@/core/formats/report";

/** Returns the path of a module's code on a twin, relative to the port; null if there is none. */
export type PlaceOf = (module: string | null, twin: string) => string | null;

type Finding = {
  readonly rule: string;
  readonly level: "error" | "warning";
  readonly message: string;
  readonly module: string | null;
  readonly twin: string;
};

const RULES: Readonly<Record<string, string>> = {
  differs: "The twin answers otherwise than the original",
  broken: "A side gave no answer",
  unsteady: "The original does not agree with itself",
};

/** One result per family, and one per broken or unsteady case. */
export function formatSarif(report: Report, placeOf: PlaceOf): string {
  const findings = [...familyFindings(report), ...caseFindings(report)];
  const rules = Object.entries(RULES).map(([id, text]) => ({ id, shortDescription: { text } }));
  const results = findings.map(({ rule, level, message, module, twin }) => {
    const uri = placeOf(module, twin);
    return {
      ruleId: rule,
      level,
      message: { text: message },
      ...(uri === null ? {} : { locations: [{ physicalLocation: { artifactLocation: { uri: encodeURI(uri) } } }] }),
      properties: { module, twin },
    };
  });
  const document = {
    $schema: "https://json.schemastore.org/sarif-2.1.0.json",
    version: "2.1.0",
    runs: [{ tool: { driver: { name: "Side Twin", rules } }, results }],
  };
  return `${JSON.stringify(document, null, 2)}\n`;
}

const familyFindings = ({ families }: Report): Finding[] =>
  families.map(({ sentence, module, call, at, twin, cases, suspects: [first] }) => ({
    rule: "differs",
    level: "error",
    message: [
      `${sentence}: ${cases.length} ${cases.length === 1 ? "case" : "cases"} of ${module ?? "the program"}.${call}, at ${at}, such as ${cases[0]}.`,
      first && ` Suspected: ${first.cause} (${first.evidence}).`,
    ]
      .filter(Boolean)
      .join(""),
    module,
    twin,
  }));

const caseFindings = ({ cases }: Report): Finding[] =>
  cases
    .filter(({ outcome }) => outcome === "broken" || outcome === "unsteady")
    .map(({ id, module, twin, outcome, side, why }) => ({
      rule: outcome,
      level: outcome === "broken" ? "error" : "warning",
      message: `${id} is ${outcome}${side ? ` on ${side === "both" ? "both sides" : `the ${side}`}` : ""}${why ? `: ${why}` : ""}.`,
      module,
      twin,
    }));
