import { allLines, type DiagnosticsReader, diagnostic, numberOr } from "@/core/diagnostics/diagnostic";

/** The person's own pattern, line by line, with named groups file, line, column, severity, code and message. */
export const pattern: DiagnosticsReader = {
  name: "pattern",
  title: "Own pattern",
  read: (printed, terms) => {
    const own = new RegExp(terms.pattern ?? "(?!)", "u");
    const rest: string[] = [];
    const diagnostics = allLines(printed).flatMap((line) => {
      const { groups } = own.exec(line) ?? {};
      if (!groups) {
        if (line.trim() !== "") rest.push(line);
        return [];
      }
      return [
        diagnostic({
          file: groups.file ?? "",
          line: numberOr(groups.line),
          column: numberOr(groups.column),
          severity: severityOf(groups.severity),
          code: groups.code ?? null,
          message: groups.message ?? line,
        }),
      ];
    });
    return { diagnostics, rest };
  },
  example: {
    text: "tide.q @ 3: no ebb\nready\n",
    finds: { file: "tide.q", line: 3, severity: "error", message: "no ebb" },
    leaves: "ready",
  },
};

/** Without a severity of its own a match is an error. */
function severityOf(word: string | undefined): "error" | "warning" | "note" {
  if (word === undefined || /err|fatal|fail|^e$/i.test(word)) return "error";
  return /warn|^w$/i.test(word) ? "warning" : "note";
}
