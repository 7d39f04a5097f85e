import { allLines, type Diagnostic, type DiagnosticsReader, diagnostic, numberOr } from "@/core/diagnostics/diagnostic";

const PLACED = /^(?:ruby: )?(\S.*?\.\w+):(\d+): (?:--> .*|(warning: )?(.*))$/;
const ARROW = /^(?:ruby: )?(\S.*?\.\w+): --> /;
/** Excerpts of newer versions: `> 3 | code`, `    |   ^ message`. */
const EXCERPT = /^\s*>?\s*\d*\s*\|/;
const POINTED = /^\s*\|\s*[\^~]+\s+(.*)$/;

/** `ruby -wc` and uncaught errors; excerpts below an error add its own words. */
export const ruby: DiagnosticsReader = {
  name: "ruby",
  title: "Ruby",
  read: (printed) => {
    const found: Diagnostic[] = [];
    const rest: string[] = [];
    for (const line of allLines(printed)) {
      const placed = ARROW.test(line) ? null : PLACED.exec(line);
      const last = found.at(-1);
      const pointed = POINTED.exec(line);
      if (placed && placed[4] !== undefined) {
        const [, file = "", at, warning, text] = placed;
        const [, message = text, kind = null] = /^(.*) \(([A-Z]\w*(?:::\w+)*)\)$/.exec(text) ?? [];
        found.push(
          diagnostic({ file, line: numberOr(at), severity: warning ? "warning" : "error", code: kind, message }),
        );
      } else if (last && pointed) found[found.length - 1] = { ...last, message: `${last.message}\n${pointed[1]}` };
      else if (
        line.trim() !== "" &&
        !EXCERPT.test(line) &&
        !/^Syntax OK$/.test(line) &&
        !/^\s+from |^\s*[\^~]+$/.test(line) &&
        !ARROW.test(line) &&
        !(last && /^\s/.test(line))
      )
        rest.push(line);
    }
    return { diagnostics: found, rest };
  },
  example: {
    text: "tide.rb:3: warning: assigned but unused variable - ebb\nloading\n",
    finds: { file: "tide.rb", line: 3, severity: "warning" },
    leaves: "loading",
  },
};
