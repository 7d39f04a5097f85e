import { allLines, type DiagnosticsReader, diagnostic, numberOr } from "@/core/diagnostics/diagnostic";

const PLACED = /^(\S.*?):(\d+)(?::(\d+))?(?::(\d+):(\d+))?: (error|warning|note): (.*)$/;
const CODE = /\s+\[([\w-]+)\]$/;

/** mypy, with columns and codes where they are shown. */
export const mypy: DiagnosticsReader = {
  name: "mypy",
  title: "mypy",
  isOfTwinAlone: (code) =>
    /^(?:no-untyped|no-any|import|var-annotated|type-arg|annotation|attr-defined|union-attr)/.test(code),
  read: (printed) => {
    const rest: string[] = [];
    const diagnostics = allLines(printed).flatMap((line) => {
      const placed = PLACED.exec(line);
      if (!placed) {
        if (line.trim() !== "" && !/^Found \d+ errors?|^Success: /.test(line)) rest.push(line);
        return [];
      }
      const [, file = "", at, column, endLine, endColumn, severity = "", text = ""] = placed;
      return [
        diagnostic({
          file,
          line: numberOr(at),
          column: numberOr(column),
          endLine: numberOr(endLine),
          endColumn: numberOr(endColumn),
          severity: severity === "error" ? "error" : severity === "warning" ? "warning" : "note",
          code: CODE.exec(text)?.[1] ?? null,
          message: text.replace(CODE, ""),
        }),
      ];
    });
    return { diagnostics, rest };
  },
  example: {
    text: 'tide.py:3:5: error: Incompatible return value type (got "str", expected "int")  [return-value]\nusage: mypy\n',
    finds: { file: "tide.py", line: 3, column: 5, code: "return-value" },
    leaves: "usage: mypy",
  },
};
