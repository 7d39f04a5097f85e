/** The pictures that a case's program wrote, for looking at. */
import type { RunAnswer } from "@/core/compare/answer";
import { contentOf } from "@/core/compare/compare";
import { differencePicture, readPicture } from "@/core/compare/picture";
import { SideTwinError } from "@/core/errors";
import type { CaseDetail } from "@/store/verdicts";

/** Which picture: see the route. */
export type PictureWanted = {
  readonly caseId: string;
  readonly twin: string;
  /** The file as the program named it. */
  readonly file: string;
  readonly side: "original" | "twin" | "difference";
};

/** A PNG of one side as it was written, or of where both differ. Throws SideTwinError `not-found`. */
export function pictureOf(kept: CaseDetail | null, { file, side, caseId }: PictureWanted): Uint8Array {
  const original = bytesIn(kept?.original, file);
  const twin = bytesIn(kept?.twinAnswer ?? kept?.original, file);
  const [one, other] = [original && readPicture(original), twin && readPicture(twin)];
  if (side === "difference" && one && other) return differencePicture(one, other);
  if (side === "original" && original && one) return original;
  if (side === "twin" && twin && other) return twin;
  throw new SideTwinError({
    code: "not-found",
    what: `The case "${caseId}" has no picture ${file} on that side`,
    next: "Check it again.",
  });
}

function bytesIn(kept: unknown, file: string): Uint8Array | null {
  const answer = (kept ?? null) as RunAnswer | null; // written by a check
  const content = answer?.kind === "run" ? contentOf(answer.files[file]) : null;
  return content instanceof Uint8Array ? content : null;
}
