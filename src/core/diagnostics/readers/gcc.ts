import { allLines, type Diagnostic, type DiagnosticsReader, diagnostic, numberOr } from "@/core/diagnostics/diagnostic";

const PLACED = /^([^\s:][^:\n]*):(\d+):(?:(\d+):)? (fatal error|error|warning|note|remark): (.*)$/;
const FLAG = /\s*\[(-W[^\]]+)\]$/;
const LINKER =
  /^(?:\S*\bld(?:\.\w+)?: )?(?:\S+\.o: in function .*?: )?([^\s:][^:]*):(?:(\d+)|\([^)]*\)): (undefined reference to .*|multiple definition of .*)$/;
const PROGRAM =
  /^(?:\S*\/)?(?:gcc|g\+\+|cc|c\+\+|clang|clang\+\+|cc1|cc1plus|ld|collect2)(?:-[\d.]+)?: (fatal error|error|warning): (.*)$/;
/** The way to an included file, the function around, excerpts and counts. */
const CONTEXT =
  /^In file included from |^\s+from \S|^\S+: (?:In (?:function|member function|constructor|destructor|static member function|lambda function) |At global scope|In instantiation of )|^\s*\d*\s*\||^\s*[\^~|\s+-]+$|^\d+ (?:warnings?|errors?)(?: and \d+ errors?)? generated\.|^compilation terminated\.|^cc1\w*: (?:all|some) warnings being treated|^\S*\bld(?:\.\w+)?: \S+\.o: in function/;

/** gcc and clang, for C and C++, with the linker's complaints. Notes follow the diagnostic that they belong to. */
export const gcc: DiagnosticsReader = {
  name: "gcc",
  title: "gcc and clang",
  read: (printed) => {
    const found: Diagnostic[] = [];
    const rest: string[] = [];
    for (const line of allLines(printed)) {
      const placed = PLACED.exec(line);
      if (placed) {
        const [, file = "", at, column, severity = "", text = ""] = placed;
        found.push(
          diagnostic({
            file,
            line: numberOr(at),
            column: numberOr(column),
            severity: severity.endsWith("error") ? "error" : severity === "warning" ? "warning" : "note",
            code:
              FLAG.exec(text)?.[1]
                ?.replace(/^-Werror=/, "-W")
                .replace(/^-Werror,/, "")
                .replace(/=$/, "") ?? null,
            message: text.replace(FLAG, ""),
          }),
        );
        continue;
      }
      const linked = LINKER.exec(line);
      const program = PROGRAM.exec(line);
      if (linked)
        found.push(diagnostic({ file: linked[1] ?? "", line: numberOr(linked[2]), message: linked[3] ?? "" }));
      else if (program && !/^ld returned|warnings being treated/.test(program[2] ?? ""))
        found.push(diagnostic({ severity: program[1] === "warning" ? "warning" : "error", message: program[2] ?? "" }));
      // Code below a diagnostic is indented or has a bar; older versions print it as it is.
      else if (line.trim() !== "" && !CONTEXT.test(line) && !(found.length > 0 && /^\s/.test(line)) && !program)
        rest.push(line);
    }
    return { diagnostics: found, rest };
  },
  example: {
    text: "src/well.c:7:3: warning: unused variable 'n' [-Wunused-variable]\nmake: nothing to do\n",
    finds: { file: "src/well.c", line: 7, column: 3, severity: "warning", code: "-Wunused-variable" },
    leaves: "make: nothing to do",
  },
};
