/** A phrase as a person types it. Pure. */

export type PhraseDraft = {
  readonly kind: "code" | "name" | "text";
  readonly from: string;
  readonly to: string;
  readonly why: string;
};

/** The phrase for the phrasebook; null while there is nothing to look for. Its id comes from its words. */
export function draftPhrase(draft: PhraseDraft, language: string): Record<string, unknown> | null {
  const [from, to, why] = [draft.from.trim(), draft.to.trim(), draft.why.trim()];
  if (from === "" || (draft.kind !== "code" && to === "")) return null;
  return {
    id: idOf(from, to),
    kind: draft.kind,
    ...(draft.kind === "code" ? { language } : {}),
    ...(why === "" ? {} : { why }),
    from,
    to,
  };
}

const MAX_WORDS = 4;

function idOf(from: string, to: string): string {
  const words = (text: string) =>
    text
      .replace(/\(:[^)]*:\)/g, " ")
      .split(/[^\p{L}\p{N}]+/u)
      .filter(Boolean)
      .map((word) => word.toLowerCase());
  const old = words(from);
  return [...old, ...words(to).filter((word) => !old.includes(word))].slice(0, MAX_WORDS).join("-") || "phrase";
}
