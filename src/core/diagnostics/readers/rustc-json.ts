import { z } from "zod";
import { type Diagnostic, type DiagnosticsReader, diagnostic, jsonLines } from "@/core/diagnostics/diagnostic";

const span = z.object({
  file_name: z.string(),
  line_start: z.number(),
  line_end: z.number(),
  column_start: z.number(),
  column_end: z.number(),
  is_primary: z.boolean(),
});
const message = z.object({
  message: z.string(),
  level: z.string(),
  code: z.object({ code: z.string() }).nullable().optional(),
  spans: z.array(span),
  children: z.array(z.object({ message: z.string(), level: z.string(), spans: z.array(span) })).optional(),
});
const line = z.union([
  z.object({ reason: z.literal("compiler-message"), message }).transform((found) => found.message),
  message,
]);

/** rustc with `--error-format=json`, and cargo with `--message-format=json`. */
export const rustcJson: DiagnosticsReader = {
  name: "rustc-json",
  title: "rustc and cargo (JSON)",
  read: (printed) => {
    const { values, rest } = jsonLines(printed);
    const diagnostics: Diagnostic[] = [];
    for (const value of values) {
      const read = line.safeParse(value);
      if (!read.success) continue;
      const { spans, level, code, message: text, children = [] } = read.data;
      // "aborting due to …" and counts of warnings have no place and no code.
      if (
        spans.length === 0 &&
        /^aborting due to|^\d+ warnings? emitted|^Some errors have|^For more information/.test(text)
      )
        continue;
      diagnostics.push(placed(spans, { severity: severityOf(level), code: code?.code ?? null, message: text }));
      for (const child of children)
        if (child.spans.length > 0) diagnostics.push(placed(child.spans, { severity: "note", message: child.message }));
    }
    return { diagnostics, rest: rest.filter((text) => text.trim() !== "") };
  },
  example: {
    text: `${JSON.stringify({ reason: "compiler-message", message: { message: "mismatched types", level: "error", code: { code: "E0308" }, spans: [{ file_name: "src/main.rs", line_start: 2, line_end: 2, column_start: 9, column_end: 12, is_primary: true }] } })}\n   Compiling tide v0.1.0\n`,
    finds: { file: "src/main.rs", line: 2, column: 9, endColumn: 12, severity: "error", code: "E0308" },
    leaves: "   Compiling tide v0.1.0",
  },
};

const severityOf = (level: string): Diagnostic["severity"] =>
  level.startsWith("error") ? "error" : level === "warning" ? "warning" : "note";

function placed(spans: z.infer<typeof span>[], found: Partial<Diagnostic> & Pick<Diagnostic, "message">): Diagnostic {
  const at = spans.find(({ is_primary: isPrimary }) => isPrimary) ?? spans[0];
  return diagnostic({
    ...found,
    ...(at
      ? {
          file: at.file_name,
          line: at.line_start,
          column: at.column_start,
          endLine: at.line_end,
          endColumn: at.column_end,
        }
      : {}),
  });
}
