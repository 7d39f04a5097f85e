import { allLines, type Diagnostic, type DiagnosticsReader, diagnostic } from "@/core/diagnostics/diagnostic";

const FRAME = /^\s+File "(.+?)", line (\d+)(?:, in (.*))?$/;
const END =
  /^((?:[A-Za-z_][\w.]*\.)?[A-Z]\w*(?:Error|Warning|Exception|Exit|Interrupt|Iteration)): ?(.*)$|^([A-Z]\w*Error)$/;
const SORRY = /^Sorry: (\w+): (.*) \((.+), line (\d+)\)$/;

/** Tracebacks and `py_compile`: the place is the innermost frame below the root, else the innermost of all. */
export const python: DiagnosticsReader = {
  name: "python",
  title: "Python",
  read: (printed, { root }) => {
    const found: Diagnostic[] = [];
    const rest: string[] = [];
    let frames: { readonly file: string; readonly line: number }[] = [];
    let caret: number | null = null;
    let shown = "";
    for (const line of allLines(printed)) {
      const frame = FRAME.exec(line);
      const end = frame ? null : END.exec(line);
      const sorry = SORRY.exec(line);
      if (frame) {
        frames.push({ file: frame[1] ?? "", line: Number(frame[2]) });
        caret = null;
      } else if (sorry) {
        const [, code = "", message = "", file = "", at] = sorry;
        found.push(diagnostic({ file, line: Number(at), code, message }));
      } else if (end && frames.length > 0) {
        const at = [...frames].reverse().find(({ file }) => isBelow(file, root)) ?? frames.at(-1);
        found.push(
          diagnostic({
            ...(at ?? {}),
            column: at === frames.at(-1) ? caret : null,
            code: (end[1] ?? end[3] ?? "").split(".").at(-1) ?? null,
            message: end[2] ?? "",
          }),
        );
        frames = [];
        caret = null;
      } else if (frames.length > 0 && /^\s+[\^~]+\s*$/.test(line)) caret = columnOf(line, shown);
      else if (frames.length > 0) shown = line;
      else if (
        line.trim() !== "" &&
        !/^Traceback \(most recent call last\):$|^During handling of|^The above exception|^\*\*\* /.test(line)
      )
        rest.push(line);
    }
    return { diagnostics: found, rest };
  },
  example: {
    text: '  File "tide.py", line 3\n    def ebb(:\n            ^\nSyntaxError: invalid syntax\nListing .\n',
    finds: { file: "tide.py", line: 3, severity: "error", code: "SyntaxError", message: "invalid syntax" },
    leaves: "Listing .",
  },
};

const isBelow = (file: string, root: string): boolean =>
  !file.startsWith("<") && (!file.startsWith("/") || file.startsWith(`${root}/`)) && !file.includes("/site-packages/");

/** Code is shown without its own indentation, after four blanks; the column is one within that. */
const columnOf = (marks: string, shown: string): number | null => {
  const indent = /^\s*/.exec(shown)?.[0].length ?? 0;
  const at = marks.search(/[\^~]/);
  return at < indent ? null : at - indent + 1;
};
