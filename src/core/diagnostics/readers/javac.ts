import { allLines, type Diagnostic, type DiagnosticsReader, diagnostic, numberOr } from "@/core/diagnostics/diagnostic";

const PLACED =
  /^(?:\[(?:ERROR|WARNING)\] )?([^\s:][^:\n]*\.java):(?:(\d+):|\[(\d+),(\d+)\]) (?:(error|warning): )?(.*)$/;
const BARE = /^(error|warning): (.*)$/;
const COUNT = /^\d+ (?:errors?|warnings?)$|^Note: /;

/** javac, also as Maven prints it. The caret below the code gives the column; detail lines join the message. */
export const javac: DiagnosticsReader = {
  name: "javac",
  title: "Java compiler",
  read: (printed) => {
    const found: Diagnostic[] = [];
    const rest: string[] = [];
    let inBody = false;
    for (const line of allLines(printed)) {
      const placed = PLACED.exec(line);
      const bare = placed ? null : BARE.exec(line);
      const last = found.at(-1);
      if (placed) {
        const [, file = "", at, mavenLine, mavenColumn, severity, text = ""] = placed;
        const [, lint = null, message = text] = /^\[([\w-]+)\] (.*)$/.exec(text) ?? [];
        const isWarning = severity === "warning" || line.startsWith("[WARNING]");
        found.push(
          diagnostic({
            file,
            line: numberOr(at ?? mavenLine),
            column: numberOr(mavenColumn),
            severity: isWarning ? "warning" : "error",
            code: lint,
            message,
          }),
        );
        inBody = true;
      } else if (bare) {
        found.push(diagnostic({ severity: bare[1] === "warning" ? "warning" : "error", message: bare[2] ?? "" }));
        inBody = false;
      } else if (last && inBody && /^\s*\^\s*$/.test(line)) {
        found[found.length - 1] = { ...last, column: last.column ?? line.indexOf("^") + 1 };
      } else if (last && inBody && /^\s+(?:symbol|location|required|found|reason|where|both)\b.*:/.test(line)) {
        found[found.length - 1] = { ...last, message: `${last.message}\n${line.trim()}` };
      } else if (COUNT.test(line)) inBody = false;
      else if (line.trim() !== "" && !inBody) rest.push(line);
    }
    return { diagnostics: found, rest };
  },
  example: {
    text: "Tide.java:4: error: cannot find symbol\n    int n = high();\n            ^\n  symbol:   method high()\n1 error\nNothing to compile\n",
    finds: { file: "Tide.java", line: 4, column: 13, severity: "error" },
    leaves: "Nothing to compile",
  },
};
