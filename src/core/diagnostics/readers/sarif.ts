import { z } from "zod";
import { type DiagnosticsReader, diagnostic, jsonLines } from "@/core/diagnostics/diagnostic";

const region = z.object({
  startLine: z.number().optional(),
  startColumn: z.number().optional(),
  endLine: z.number().optional(),
  endColumn: z.number().optional(),
});
const log = z.object({
  runs: z.array(
    z.object({
      results: z
        .array(
          z.object({
            ruleId: z.string().optional(),
            level: z.string().optional(),
            message: z.object({ text: z.string().optional(), markdown: z.string().optional() }),
            locations: z
              .array(
                z.object({
                  physicalLocation: z
                    .object({
                      artifactLocation: z.object({ uri: z.string().optional() }).optional(),
                      region: region.optional(),
                    })
                    .optional(),
                }),
              )
              .optional(),
          }),
        )
        .optional(),
    }),
  ),
});

/** SARIF 2.1.0 (OASIS, 2020): the first location of each result. */
export const sarif: DiagnosticsReader = {
  name: "sarif",
  title: "SARIF",
  read: (printed) => {
    const { values, rest } = jsonLines(printed);
    const diagnostics = values.flatMap((value) => {
      const read = log.safeParse(value);
      return (read.success ? read.data.runs : []).flatMap(({ results = [] }) =>
        results.map(({ ruleId = null, level = "warning", message, locations = [] }) => {
          const at = locations[0]?.physicalLocation;
          return diagnostic({
            file: pathOf(at?.artifactLocation?.uri ?? ""),
            line: at?.region?.startLine ?? null,
            column: at?.region?.startColumn ?? null,
            endLine: at?.region?.endLine ?? null,
            endColumn: at?.region?.endColumn ?? null,
            severity: level === "error" ? "error" : level === "warning" ? "warning" : "note",
            code: ruleId,
            message: message.text ?? message.markdown ?? "",
          });
        }),
      );
    });
    return { diagnostics, rest: rest.filter((line) => line.trim() !== "") };
  },
  example: {
    text: `${JSON.stringify({ version: "2.1.0", runs: [{ tool: {}, results: [{ ruleId: "R1", level: "error", message: { text: "no" }, locations: [{ physicalLocation: { artifactLocation: { uri: "src/tide.c" }, region: { startLine: 4 } } }] }] }] })}\nanalysing\n`,
    finds: { file: "src/tide.c", line: 4, severity: "error", code: "R1" },
    leaves: "analysing",
  },
};

function pathOf(uri: string): string {
  const bare = uri.replace(/^file:\/\//, "");
  try {
    return decodeURIComponent(bare);
  } catch {
    // A per cent sign that encodes nothing.
    return bare;
  }
}
