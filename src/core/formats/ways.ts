/** The ways round something that is bound to the old platform. */
export const WAYS = ["wrap", "alias", "substitute", "rewrite", "drop", "postpone"] as const;
/** The meaning of each plan in one sentence. */
export const WAY_WORDS: Readonly<Record<(typeof WAYS)[number], string>> = {
  wrap: "The twin has a thin layer of its own with the old names, over the new platform.",
  alias: "The new platform has the same under another name.",
  substitute: "Another library takes its place.",
  rewrite: "The code around it is written anew without it.",
  drop: "The twin does without it.",
  postpone: "It is decided later; it counts as open until then.",
};
/** A plan for something platform-bound. */
export type Way = (typeof WAYS)[number];
