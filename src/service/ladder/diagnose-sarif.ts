/** Diagnostics as SARIF 2.1.0 (OASIS, 2020), the form in which code hosts show findings beside the code. */
import type { DiagnoseRun } from "@/service/ladder/diagnose";

/** One run a check. */
export function sarifOf(runs: readonly DiagnoseRun[]): string {
  return `${JSON.stringify(
    {
      $schema: "https://json.schemastore.org/sarif-2.1.0.json",
      version: "2.1.0",
      runs: runs.map(({ side, rung, diagnostics }) => ({
        tool: { driver: { name: "Side Twin", semanticVersion: "1.0.0", rules: rulesOf(diagnostics) } },
        automationDetails: { id: `${side}/${rung}` },
        results: diagnostics.map(({ file, line, column, endLine, endColumn, severity, code, message }) => ({
          ...(code === null ? {} : { ruleId: code }),
          level: severity,
          message: { text: message },
          locations:
            file === ""
              ? []
              : [
                  {
                    physicalLocation: {
                      artifactLocation: { uri: encodeURI(file) },
                      ...(line === null
                        ? {}
                        : {
                            region: {
                              startLine: line,
                              ...(column === null ? {} : { startColumn: column }),
                              ...(endLine === null ? {} : { endLine }),
                              ...(endColumn === null ? {} : { endColumn }),
                            },
                          }),
                    },
                  },
                ],
        })),
      })),
    },
    null,
    2,
  )}\n`;
}

const rulesOf = (diagnostics: DiagnoseRun["diagnostics"]): { readonly id: string }[] =>
  [...new Set(diagnostics.flatMap(({ code }) => code ?? []))].map((id) => ({ id }));
