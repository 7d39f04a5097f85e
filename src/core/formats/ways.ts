/** The ways round something that is bound to the old platform. */
export const WAYS = ["wrap", "alias", "substitute", "rewrite", "drop", "postpone"] as const;
/** A plan for something platform-bound. */
export type Way = (typeof WAYS)[number];
