/** A whole answer as text, for copying and for looking at outside the reader. */
import type { Answer } from "@/core/compare/answer";
import { SideTwinError } from "@/core/errors";
import type { CaseDetail } from "@/store/verdicts";

/** The returned text as it is, what a program printed, else the answer as JSON. Throws SideTwinError `not-found`. */
export function answerText(
  kept: CaseDetail | null,
  { caseId, side }: { readonly caseId: string; readonly side: "original" | "twin" },
): string {
  const found = side === "original" ? kept?.original : (kept?.twinAnswer ?? kept?.original);
  const answer = (found ?? null) as Answer | null; // written by a check
  if (answer === null) {
    throw new SideTwinError({
      code: "not-found",
      what: `The case "${caseId}" has no answer of that side`,
      next: "Check it again.",
    });
  }
  if (answer.kind === "run") return answer.stderr === "" ? answer.stdout : `${answer.stdout}${answer.stderr}`;
  if (answer.kind === "call" && typeof answer.value === "string") return answer.value;
  const shown = answer.kind === "call" ? (answer.thrown ?? answer.value) : answer.steps;
  return JSON.stringify(shown, null, 2);
}
