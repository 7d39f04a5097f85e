import { allLines, type DiagnosticsReader, diagnostic, numberOr } from "@/core/diagnostics/diagnostic";

const PLACED =
  /^(?:PHP )?(Parse error|Fatal error|Recoverable fatal error|Warning|Notice|Deprecated|Strict Standards):\s+(.*) in (\S.*?)(?: on line |:)(\d+)$/;

/** `php -l` and messages at run time. With a log to the terminal PHP prints everything twice; one copy is kept. */
export const php: DiagnosticsReader = {
  name: "php",
  title: "PHP",
  read: (printed) => {
    const rest: string[] = [];
    const seen = new Set<string>();
    const diagnostics = allLines(printed).flatMap((line) => {
      const placed = PLACED.exec(line);
      if (!placed) {
        if (
          line.trim() !== "" &&
          !/^No syntax errors detected|^Errors parsing |^(?:PHP )?Stack trace:|^(?:PHP )?\s*(?:#|\d+\. )|^\s+thrown in /.test(
            line,
          )
        )
          rest.push(line);
        return [];
      }
      const [, kind = "", message = "", file = "", at] = placed;
      const key = JSON.stringify([kind, message, file, at]);
      if (seen.has(key)) return [];
      seen.add(key);
      const severity = /error/i.test(kind) ? "error" : "warning";
      return [diagnostic({ file, line: numberOr(at), severity, code: kind, message })];
    });
    return { diagnostics, rest };
  },
  example: {
    text: 'PHP Parse error:  syntax error, unexpected token "}" in tide.php on line 4\nErrors parsing tide.php\nhello\n',
    finds: { file: "tide.php", line: 4, severity: "error", code: "Parse error" },
    leaves: "hello",
  },
};
