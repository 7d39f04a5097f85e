/** Reads the compiler's errors from cargo's messages, to leave out what does not compile. */
import { existsSync } from "node:fs";
import path from "node:path";
import { z } from "zod";

/** An error at a place of a copied source; line and column from 1, the column in characters. */
export type CargoError = {
  readonly file: string;
  readonly line: number;
  readonly column: number;
  readonly what: string;
};

const spanSchema = z.object({
  file_name: z.string(),
  line_start: z.number(),
  column_start: z.number(),
  is_primary: z.boolean(),
  get expansion() {
    return z.object({ span: spanSchema }).nullish();
  },
});

const messageSchema = z.object({
  reason: z.literal("compiler-message"),
  manifest_path: z.string(),
  message: z.object({ level: z.string(), message: z.string(), spans: z.array(spanSchema) }),
});

type Span = z.infer<typeof spanSchema>;

/** Where a macro was used, however many lie in between. */
const outermost = (span: Span): Span => (span.expansion ? outermost(span.expansion.span) : span);

/** Files are relative to the folder of the copy; errors elsewhere are left out. Cost: linear in the text. */
export function cargoErrors(printed: string, shadow: string): CargoError[] {
  return printed.split("\n").flatMap((line): CargoError[] => {
    if (!line.startsWith('{"reason":"compiler-message"')) return [];
    const parsed = messageSchema.safeParse(JSON.parse(line));
    if (!parsed.success || parsed.data.message.level !== "error") return [];
    const { message, manifest_path } = parsed.data;
    return message.spans
      .filter(({ is_primary }) => is_primary)
      .map(outermost)
      .flatMap((span) => {
        const found = [path.dirname(manifest_path), shadow]
          .map((folder) => path.resolve(folder, span.file_name))
          .find((file) => file.startsWith(`${shadow}${path.sep}`) && existsSync(file));
        if (!found) return [];
        const file = path.relative(shadow, found).split(path.sep).join("/");
        return [{ file, line: span.line_start, column: span.column_start, what: message.message }];
      });
  });
}
