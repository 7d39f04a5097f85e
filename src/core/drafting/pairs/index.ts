/** The pairs of languages that drafts can be made in, one line each; within one language the original's text is taken. */
import type { DraftPair } from "@/core/drafting/pair";
import { pythonJavascript } from "@/core/drafting/pairs/python-javascript/index";

export const DRAFT_PAIRS: readonly DraftPair[] = [pythonJavascript];

export const findPair = (from: string, to: string): DraftPair | undefined =>
  DRAFT_PAIRS.find((pair) => pair.from === from && pair.to.includes(to));
