/** The baseline: results of running the original by itself. */
import type { Broken } from "@/core/compare/answer";
import type { ErrorRecord } from "@/core/errors";

/** One program run of the original, with its output cut. */
export type SeenRun = {
  readonly id: string;
  readonly argv: readonly string[];
  readonly exit: number | null;
  readonly stdout: string;
  readonly stderr: string;
  readonly files: readonly string[];
  readonly ms: number | null;
};

/** A case whose second answer differed from the first. */
export type Unsteady = {
  readonly id: string;
  readonly module: string | null;
  /** Both answers as JSON, cut around the first difference. */
  readonly first: string;
  readonly second: string;
};

/** The result of running the original by itself. */
export type Baseline = {
  /** `complete`; `stopped` by the user; or `failed`, with the problem, if it could not run. */
  readonly state: "complete" | "stopped" | "failed";
  readonly problem: ErrorRecord | null;
  readonly prepared: readonly {
    readonly command: readonly string[];
    readonly seconds: number;
    readonly printed: string;
  }[];
  readonly toolchain: { readonly version: string; readonly path: string } | null;
  readonly cases: number;
  readonly answered: number;
  readonly threw: number;
  readonly broken: readonly (Pick<Broken, "why" | "what" | "lastOutput"> & { readonly id: string })[];
  readonly brokenCount: number;
  readonly unsteady: readonly Unsteady[];
  readonly unsteadyCount: number;
  /** Seconds of the first round over all cases, and of the second. */
  readonly seconds: { readonly first: number; readonly second: number };
  readonly slowest: readonly { readonly id: string; readonly ms: number }[];
  readonly runs: readonly SeenRun[];
  /** Calls that printed something, the first few. */
  readonly printed: readonly { readonly id: string; readonly text: string }[];
  /** True where there was no case, and the program was run with nothing. */
  readonly isPlain: boolean;
};

const AROUND = 160;

/** Two texts cut to where they first differ, with a little before it. */
export function cutAround(first: string, second: string): { first: string; second: string } {
  let at = 0;
  while (at < first.length && first[at] === second[at]) at++;
  const from = Math.max(0, at - 40);
  const cut = (text: string) =>
    `${from > 0 ? "…" : ""}${text.slice(from, from + AROUND)}${text.length > from + AROUND ? "…" : ""}`;
  return { first: cut(first), second: cut(second) };
}
