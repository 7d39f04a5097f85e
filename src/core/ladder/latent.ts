/** Latent finds: complaints about code that came over unchanged, so that the original has the fault too. */
import type { Diagnostic, DiagnosticsReader } from "@/core/diagnostics/diagnostic";

/** Shorter lines, such as a closing brace, are alike by chance. */
const MIN_LENGTH = 6;

/**
 * Whether a diagnostic is about a line that the original has as well, white space aside, and not about what the twin's
 * language alone asks for, such as a type. `line` is the text of the twin's line; `original` holds the trimmed lines of
 * the module's original.
 */
export function isLatent(
  { code, severity }: Pick<Diagnostic, "code" | "severity">,
  line: string | undefined,
  original: ReadonlySet<string>,
  reader: Pick<DiagnosticsReader, "isOfTwinAlone"> | undefined,
): boolean {
  const text = line?.trim() ?? "";
  if (severity === "note" || text.length < MIN_LENGTH || !original.has(text)) return false;
  return !(code !== null && (reader?.isOfTwinAlone?.(code) ?? false));
}
