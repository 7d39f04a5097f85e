import type { Mark } from "@/api/case-listing";

/** The marks in words, for screen readers. */
export const MARK_WORDS: Readonly<Record<Mark, string>> = {
  agree: "agrees",
  allowed: "allowed",
  differ: "differs",
  broken: "broken",
  unsteady: "unsteady",
  skipped: "not ported yet",
  idle: "not run",
};
