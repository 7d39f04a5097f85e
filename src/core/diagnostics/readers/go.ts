import { allLines, type Diagnostic, type DiagnosticsReader, diagnostic, numberOr } from "@/core/diagnostics/diagnostic";

const PLACED = /^(?:vet: )?((?:\.{0,2}\/)?[^\s:]+\.go):(\d+)(?::(\d+))?: (.*)$/;

/** `go build`, `go vet` and `go test`; tab-indented lines continue the message. */
export const go: DiagnosticsReader = {
  name: "go",
  title: "Go",
  read: (printed) => {
    const found: Diagnostic[] = [];
    const rest: string[] = [];
    for (const line of allLines(printed)) {
      const placed = PLACED.exec(line);
      const last = found.at(-1);
      if (placed) {
        const [, file = "", at, column, message = ""] = placed;
        found.push(diagnostic({ file, line: numberOr(at), column: numberOr(column), message }));
      } else if (last && /^\t/.test(line))
        found[found.length - 1] = { ...last, message: `${last.message}\n${line.trim()}` };
      else if (line.trim() !== "" && !/^# |^\S+:\d+:\d+: too many errors$/.test(line)) rest.push(line);
    }
    return { diagnostics: found, rest };
  },
  example: {
    text: "# tide\n./tide.go:9:7: undefined: ebb\ngo: downloading nothing\n",
    finds: { file: "./tide.go", line: 9, column: 7, message: "undefined: ebb" },
    leaves: "go: downloading nothing",
  },
};
