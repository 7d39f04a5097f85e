/** Yields the words of code, skipping comments and quotes. */
import type { SourceLanguage } from "@/core/source/section";

/** A declared namespace is not a use of it. */
const OWN_NAMESPACE = /^[ \t]*(?:package|namespace)\s+[\w.\\]+/gm;
const QUOTED = String.raw`"(?:[^"\\\n]|\\.)*"|'(?:[^'\\\n]|\\.)*'`;

/** Each word once, members of something else aside. Cost: linear in the text. */
export function codeWords(
  source: string,
  { comments, accessors = ["."] }: Pick<SourceLanguage, "comments" | "accessors">,
): string[] {
  const literal = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
  const parts = comments.map(([start, end]) =>
    end === "" ? `${literal(start)}.*` : `${literal(start)}[\\s\\S]*?${literal(end)}`,
  );
  const word = new RegExp(`(?<![\\p{L}\\p{N}_]|${accessors.map(literal).join("|")})[\\p{L}_][\\p{L}\\p{N}_]*`, "gu");
  const bare = source.replace(new RegExp([QUOTED, ...parts].join("|"), "g"), " ");
  return [...new Set(bare.replace(OWN_NAMESPACE, " ").match(word) ?? [])];
}
