/**
 * Remembered sections as JSON Lines beside the port file: `"memory": "side-twin.memory.jsonl"` keeps the memory there,
 * under version control, so that everyone on a port sees the same drift.
 */
import { z } from "zod";
import { SideTwinError } from "@/core/errors";
import { firstIssue, issueToError } from "@/core/formats/document";

const memoryLineSchema = z.strictObject({
  module: z.string().min(1),
  section: z.string().min(1),
  twin: z.string().min(1),
  twinSection: z.string().min(1),
  file: z.string().min(1),
  at: z.iso.datetime({ offset: true }),
  basis: z.enum(["paired", "proven", "said"]),
  commit: z.string().nullable().default(null),
  text: z.string(),
});
/** A remembered section as a line of the memory file. */
export type MemoryLine = z.infer<typeof memoryLineSchema>;

/** Throws SideTwinError with file, line and key. */
export function parseMemoryLines(text: string, file: string): MemoryLine[] {
  return text.split(/\r?\n/).flatMap((line, index) => {
    if (line.trim() === "") return [];
    const where = { file, line: index + 1 };
    let value: unknown;
    try {
      value = JSON.parse(line);
    } catch (cause) {
      throw new SideTwinError({ code: "bad-input", what: "Not JSON", where, next: "Fix or remove the line." }, cause);
    }
    const result = memoryLineSchema.safeParse(value);
    if (result.success) return [result.data];
    throw issueToError(firstIssue(result.error.issues), value, (path) => ({ ...where, key: path.join(".") }));
  });
}

/** One line a section, in an order that does not depend on when it was remembered. */
export const formatMemoryLines = (lines: readonly MemoryLine[]): string =>
  [...lines]
    .sort((one, other) => (keyOf(one) < keyOf(other) ? -1 : 1))
    .map((line) => `${JSON.stringify(line)}\n`)
    .join("");

const keyOf = ({ twin, module, section }: MemoryLine): string => `${module}\0${section}\0${twin}`;
