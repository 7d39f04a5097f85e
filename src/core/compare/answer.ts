/** One side's answer to one case, from the bridge or a program run. Values are in notation. */
import type { Json } from "@/core/formats/json";

/** An error: simple class name, message, stack trace. */
export type Thrown = { readonly kind: string; readonly message: string; readonly trace?: string };

/** The result of one step. */
export type StepAnswer = { readonly value: Json } | { readonly thrown: Thrown };

/** Extra observations that a case requests, where the side's driver supports them: blocks still held, and C's errno. */
export type Observed = {
  readonly leaks?: { readonly [what: string]: number };
  readonly errno?: number;
};

/** The result of a call; `args` and `kwargs` are the arguments after it. */
export type CallAnswer = {
  readonly kind: "call";
  readonly value?: Json;
  readonly thrown?: Thrown;
  readonly args: readonly Json[];
  readonly kwargs: { readonly [name: string]: Json };
  /** How callbacks were called: argument lists, in order. */
  readonly called?: readonly Json[];
  readonly printed: string;
} & Observed;

/** The results of a sequence of steps. */
export type StepsAnswer = {
  readonly kind: "steps";
  readonly steps: readonly (StepAnswer & {
    readonly args?: readonly Json[];
    readonly kwargs?: { readonly [name: string]: Json };
    readonly called?: readonly Json[];
  })[];
  readonly printed: string;
} & Observed;

/** A file after a run: text, bytes in base64, or removed. */
export type WrittenFile = { readonly text: string } | { readonly bytes: string } | { readonly removed: true };

/** The result of a program run. */
export type RunAnswer = {
  readonly kind: "run";
  readonly exit: number;
  readonly stdout: string;
  readonly stderr: string;
  readonly files: { readonly [path: string]: WrittenFile };
  /** When each line of stdout ended, in milliseconds from the start; only where the times are observed. */
  readonly times?: readonly number[];
};

/** Any answer to a case. */
export type Answer = CallAnswer | StepsAnswer | RunAnswer;

/** Why a side gave no answer at all. */
export type Broken = {
  readonly kind: "broken";
  readonly why: "crashed" | "ended" | "timed-out" | "over-limit" | "would-not-load" | "outside-folder";
  readonly what: string;
  readonly lastOutput: string;
};

/** The side has nothing to run: not ported yet. */
export type Skipped = { readonly kind: "skipped"; readonly why: string };

/** Everything that can become of a case on one side. `ms` is wall time on that side. */
export type SideResult = { readonly result: Answer | Broken | Skipped; readonly ms: number | null };
