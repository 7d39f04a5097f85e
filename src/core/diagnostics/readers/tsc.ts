import { allLines, type Diagnostic, type DiagnosticsReader, diagnostic, numberOr } from "@/core/diagnostics/diagnostic";

const PLAIN = /^(\S.*?)\((\d+),(\d+)\): (error|warning) (TS\d+): (.*)$/;
const PRETTY = /^(\S.*?):(\d+):(\d+) - (error|warning|message) (TS\d+): (.*)$/;
const BARE = /^(error|warning) (TS\d+): (.*)$/;
/** The related place of a pretty diagnostic, and the excerpts below: a line number, then code or marks. */
const RELATED = /^\s+(\S.*?):(\d+):(\d+)\s*(?:- (.*))?$/;
const EXCERPT = /^\s*\d+\s.*$|^\s*[~\s]+$/;

/** The TypeScript compiler, plain and pretty. Indented lines continue the message. */
export const tsc: DiagnosticsReader = {
  name: "tsc",
  title: "TypeScript compiler",
  // Types that are missing or unknown, modules, options, and values that may be null.
  isOfTwinAlone: (code) =>
    /^TS(?:7\d{3}|5\d{3}|6\d{3}|18\d{3}|23(?:07|22|39|45|53)|25(?:3[1-3]|7[19]|80|91)|2792)$/.test(code),
  read: (printed) => {
    const found: Diagnostic[] = [];
    const rest: string[] = [];
    let isPretty = false;
    for (const line of allLines(printed)) {
      const placed = PLAIN.exec(line) ?? PRETTY.exec(line);
      const bare = placed ? null : BARE.exec(line);
      const last = found.at(-1);
      if (placed) {
        const [, file = "", at, column, severity, code = "", message = ""] = placed;
        isPretty = !PLAIN.test(line);
        found.push(
          diagnostic({
            file,
            line: numberOr(at),
            column: numberOr(column),
            severity: severity === "error" ? "error" : severity === "warning" ? "warning" : "note",
            code,
            message,
          }),
        );
      } else if (bare) {
        found.push(
          diagnostic({
            severity: bare[1] === "error" ? "error" : "warning",
            code: bare[2] ?? "",
            message: bare[3] ?? "",
          }),
        );
      } else if (last && isPretty && RELATED.test(line)) {
        const [, file = "", at, column, message = ""] = RELATED.exec(line) ?? [];
        found.push(diagnostic({ file, line: numberOr(at), column: numberOr(column), severity: "note", message }));
      } else if (last && isPretty && EXCERPT.test(line)) {
        // The excerpt repeats the source.
      } else if (last && /^\s+\S/.test(line))
        found[found.length - 1] = { ...last, message: `${last.message}\n${line}` };
      else if (line.trim() !== "" && !/^Found \d+ errors?|^Errors\s+Files/.test(line)) rest.push(line);
    }
    return { diagnostics: found, rest };
  },
  example: {
    text: "src/a.ts(3,5): error TS2322: Type 'string' is not assignable to type 'number'.\nwatching\n",
    finds: { file: "src/a.ts", line: 3, column: 5, severity: "error", code: "TS2322" },
    leaves: "watching",
  },
};
