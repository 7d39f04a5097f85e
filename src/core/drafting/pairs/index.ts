/**
 * The pairs of languages that drafts can be made in, one line each. Within one language, and in one that takes its text as
 * it is, the original's text is taken.
 */
import type { DraftPair } from "@/core/drafting/pair";
import { pythonJavascript } from "@/core/drafting/pairs/python-javascript/index";

export const DRAFT_PAIRS: readonly DraftPair[] = [pythonJavascript];

/** Languages whose text is, but for oddities, text of others too. */
const TAKEN_AS_IT_IS: readonly { readonly from: string; readonly to: readonly string[] }[] = [
  { from: "javascript", to: ["typescript", "tsx"] },
  { from: "typescript", to: ["tsx"] },
  { from: "c", to: ["cpp"] },
];

export const findPair = (from: string, to: string): DraftPair | undefined =>
  DRAFT_PAIRS.find((pair) => pair.from === from && pair.to.includes(to));

/** Whether a draft in the language is the original's own text. */
export const isTextTaken = (from: string, to: string): boolean =>
  from === to || TAKEN_AS_IT_IS.some((pair) => pair.from === from && pair.to.includes(to));

/** Whether drafts can be made at all. */
export const canDraftInto = (from: string, to: string): boolean =>
  isTextTaken(from, to) || findPair(from, to) !== undefined;

/** The pairs in words, for messages. */
export const describePairs = (): string =>
  [...TAKEN_AS_IT_IS, ...DRAFT_PAIRS].map(({ from, to }) => `from ${from} into ${to.join(" and ")}`).join(", ");
