/** What became of the allowances: how often each excused something, the most it was needed for, and what would still do. */
import type { Excuse } from "@/core/allowances/allowances";
import { mostNeeded, type Needed } from "@/core/allowances/needed";
import type { Allow, Allowance } from "@/core/formats/allowance";

/** How often an allowance excused a difference, and the most that any of them needed. */
export type Use = { readonly used: number; readonly needed: Needed };

/** The uses within one case, as they are kept. */
export type CaseUse = Use & { readonly allowance: string };

const NONE: readonly CaseUse[] = [];

/** What the excuses of one case come to; always the same empty list when there is none. */
export function usesOf(excuses: readonly Excuse[]): readonly CaseUse[] {
  if (excuses.length === 0) return NONE;
  return [...sumUses(excuses.map(({ allowance, needed = {} }) => ({ allowance, used: 1, needed })))].map(
    ([allowance, use]) => ({ allowance, ...use }),
  );
}

/** Allowance → its uses over all that is given. */
export function sumUses(uses: Iterable<CaseUse>): Map<string, Use> {
  const sums = new Map<string, Use>();
  for (const { allowance, used, needed } of uses) {
    const before = sums.get(allowance) ?? { used: 0, needed: {} };
    sums.set(allowance, { used: before.used + used, needed: mostNeeded(before.needed, needed) });
  }
  return sums;
}

/** A narrower allowance that excuses all that this one has excused so far, and why it is proposed. */
export type Tighter = { readonly allow: Allow; readonly advice: string };

/** A proposal is made when this part of a bound, or less, was needed. */
const WORTH_IT = 0.5;

/** Null when nothing was excused yet, or nothing much would be won. */
export function proposeTighter(allowance: Allowance, use: Use | undefined): Tighter | null {
  if (!use || use.used === 0) return null;
  const { number, image, timing } = allowance.allow;
  if (number) return tighterNumber(allowance.allow, number, use.needed);
  if (image) {
    const [needed, bound] = [use.needed.share ?? 0, image.share ?? 0];
    if (needed > bound * WORTH_IT || bound === 0) return null;
    const share = roundUp(needed);
    const advice = `at most ${show(needed)} of the pixels differed; it allows ${show(bound)}`;
    return { allow: { ...allowance.allow, image: { ...image, share } }, advice };
  }
  if (timing) {
    const needed = use.needed.ms ?? 0;
    if (needed > timing.ms * WORTH_IT) return null;
    const advice = `the largest difference excused is ${show(needed)} ms; it allows ${show(timing.ms)} ms`;
    return { allow: { ...allowance.allow, timing: { ms: roundUp(needed) } }, advice };
  }
  return null;
}

type Tolerance = NonNullable<Allow["number"]>;

function tighterNumber(allow: Allow, bounds: Tolerance, needed: Needed): Tighter | null {
  const tighter: { -readonly [bound in keyof Tolerance]: number } = {};
  const says: string[] = [];
  for (const bound of ["abs", "rel", "ulps"] as const) {
    const [allowed, most] = [bounds[bound], needed[bound]];
    if (allowed === undefined) continue;
    const unit = { abs: "", rel: " of the value", ulps: " steps of a double" }[bound];
    if (most === undefined) {
      if (allowed > 0) says.push(`nothing needed ${bound} ${show(allowed)}`);
    } else if (most <= allowed * WORTH_IT) {
      tighter[bound] = bound === "ulps" ? most : roundUp(most);
      says.push(`the largest difference excused is ${show(most)}${unit}; it allows ${show(allowed)}`);
    } else tighter[bound] = allowed;
  }
  // All that it excused were the same numbers in another writing: no bound is needed, but some number must stand there.
  if (Object.keys(tighter).length === 0) tighter.abs = 0;
  return says.length === 0 ? null : { allow: { ...allow, number: tighter }, advice: says.join("; ") };
}

/** Up to two significant digits, so that the bound reads well and still holds. */
function roundUp(value: number): number {
  if (value === 0) return 0;
  const rounded = Number(value.toPrecision(2));
  if (rounded >= value) return rounded;
  const step = 10 ** (Math.floor(Math.log10(Math.abs(rounded))) - 1);
  return Number((rounded + step).toPrecision(2));
}

const show = (value: number): string => String(Number(value.toPrecision(3)));
