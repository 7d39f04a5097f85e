/** The exit status of a check; and error code → HTTP status and → exit status, both exhaustive at compile time. */
import type { ErrorCode } from "@/core/errors";
import type { Report } from "@/core/formats/report";
import { hasCompared } from "@/core/report/totals";

/** 0 where all that was compared agrees or is allowed, 1 where something does not, 2 where no verdict can be given. */
export function exitStatusOf({ state, totals, changed }: Pick<Report, "state" | "totals" | "changed">): 0 | 1 | 2 {
  if (state === "stopped" || changed || !hasCompared(totals)) return 2;
  return totals.differ + totals.broken + totals.unsteady > 0 ? 1 : 0;
}

/** Error code → HTTP status. */
export const HTTP_STATUS: Readonly<Record<ErrorCode, number>> = {
  "bad-input": 400,
  "not-found": 404,
  "not-readable": 400,
  "not-writable": 507,
  "too-large": 413,
  "outside-folder": 403,
  "toolchain-missing": 409,
  "folder-in-use": 409,
  "newer-version": 400,
  "already-running": 409,
  "prepare-failed": 409,
  internal: 500,
};

/** Error code → exit status. */
export const EXIT_STATUS: Readonly<Record<ErrorCode, number>> = {
  "bad-input": 2,
  "not-found": 2,
  "not-readable": 2,
  "not-writable": 2,
  "too-large": 2,
  "outside-folder": 2,
  "toolchain-missing": 2,
  "folder-in-use": 2,
  "newer-version": 2,
  "already-running": 2,
  "prepare-failed": 2,
  internal: 2,
};
