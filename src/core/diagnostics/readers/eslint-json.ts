import { z } from "zod";
import { type DiagnosticsReader, diagnostic, jsonLines } from "@/core/diagnostics/diagnostic";

const files = z.array(
  z.object({
    filePath: z.string(),
    messages: z.array(
      z.object({
        ruleId: z.string().nullable().optional(),
        severity: z.number(),
        message: z.string(),
        line: z.number().optional(),
        column: z.number().optional(),
        endLine: z.number().optional(),
        endColumn: z.number().optional(),
      }),
    ),
  }),
);

/** ESLint's JSON formatter, and tools that write the same. */
export const eslintJson: DiagnosticsReader = {
  name: "eslint-json",
  title: "ESLint (JSON)",
  read: (printed) => {
    const { values, rest } = jsonLines(printed);
    const diagnostics = values.flatMap((value) => {
      const read = files.safeParse(value);
      return (read.success ? read.data : []).flatMap(({ filePath, messages }) =>
        messages.map(({ ruleId = null, severity, message, line, column, endLine, endColumn }) =>
          diagnostic({
            file: filePath,
            line: line ?? null,
            column: column ?? null,
            endLine: endLine ?? null,
            endColumn: endColumn ?? null,
            severity: severity >= 2 ? "error" : "warning",
            code: ruleId,
            message,
          }),
        ),
      );
    });
    return { diagnostics, rest: rest.filter((line) => line.trim() !== "") };
  },
  example: {
    text: `${JSON.stringify([{ filePath: "/p/tide.js", messages: [{ ruleId: "no-undef", severity: 2, message: "'ebb' is not defined.", line: 2, column: 4 }] }])}\nnpm notice\n`,
    finds: { file: "/p/tide.js", line: 2, column: 4, severity: "error", code: "no-undef" },
    leaves: "npm notice",
  },
};
