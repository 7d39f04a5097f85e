/**
 * Detects nondeterminism of the original: it runs again in a new process, and cases with a different answer are
 * unsteady, not the twin's fault. Differing cases always run again, agreeing ones as a sample; in full mode everything,
 * with another hash seed, time zone, locale and clock.
 */

import { allowancesFor } from "@/core/allowances/allowances";
import type { SideResult } from "@/core/compare/answer";
import { compareAnswers } from "@/core/compare/compare";
import { isSideTwinError } from "@/core/errors";
import { isRunCase, type SharedCase } from "@/core/formats/case-line";
import type { PortFile } from "@/core/formats/port-file";
import { isAgreement } from "@/core/progress/done";
import { withDefaults } from "@/core/values/equality";
import { fromAllDrivers } from "@/engine/drivers/index";
import { kindsFor, type Verdict } from "@/service/check/verdict";

/** Default sample sizes of agreeing calls and program runs. */
const SAMPLE_CALLS = 40;
const SAMPLE_RUNS = 2;

/** Enough that a text in set order or a date that is printed comes out otherwise. */
export const OTHER_HASHES = fromAllDrivers((driver) => driver.otherHashes);
/** Environment of second runs: everything that may vary does. */
export const OTHER_WORLD = { ...OTHER_HASHES, TZ: "Pacific/Chatham", LANG: "de_DE.UTF-8", LC_ALL: "de_DE.UTF-8" };

/** A moment some thirteen months and some hours after the given one. */
export const otherMoment = (now: Date): string => new Date(now.getTime() + (397 * 24 + 5) * 3_600_000).toISOString();

/** The cases that are run again even if they agree. */
export function sampleOf(cases: readonly SharedCase[]): ReadonlySet<string> {
  const calls = cases.filter((item) => !isRunCase(item));
  const asked = cases.filter((item) => (item.repeat ?? 1) > 1);
  const chosen = [...spread(calls, SAMPLE_CALLS), ...spread(cases.filter(isRunCase), SAMPLE_RUNS), ...asked];
  return new Set(chosen.map((item) => item.id));
}

/** Whether a verdict's case runs again; a reused answer of the sample was confirmed before. */
export function isToRepeat(verdict: Verdict, { all, sample }: { all: boolean; sample: ReadonlySet<string> }): boolean {
  if (verdict.outcome === "differ") return true;
  if (!isAgreement(verdict.outcome)) return false;
  return sample.has(verdict.item.id) && (all || !verdict.reused.includes("original"));
}

/** Picks that many items at even distances. */
function spread<T>(items: readonly T[], count: number): T[] {
  if (items.length <= count) return [...items];
  return Array.from({ length: count }, (_, index) => items[Math.floor((index * items.length) / count)]).flatMap(
    (item) => (item === undefined ? [] : [item]),
  );
}

/** Settings for comparing two answers of the original. */
export type SteadyTerms = Pick<Verdict, "item" | "module" | "section" | "twin">;

/** Whether a second answer equals the first under defaults and allowances. */
export function isSteady(verdict: SteadyTerms, first: SideResult, second: SideResult, port: PortFile): boolean {
  if (first.result.kind === "broken" || first.result.kind === "skipped") return true;
  if (second.result.kind === "broken" || second.result.kind === "skipped") return false;
  // Opaque values equal nothing, not even themselves; identical texts are steady nevertheless.
  if (JSON.stringify(first.result) === JSON.stringify(second.result)) return true;
  const { item, module, section, twin } = verdict;
  try {
    const comparison = compareAnswers(first.result, second.result, {
      equality: withDefaults(port.equality),
      allowances: allowancesFor(port.allowances, { id: item.id, module, call: section, twin }),
      kinds: kindsFor(item, port),
      ...(isRunCase(item) ? { observe: item.observe } : {}),
    });
    return comparison.outcome !== "differ";
  } catch (error) {
    // An answer that cannot be read is another one than the first, which could.
    if (isSideTwinError(error)) return false;
    throw error;
  }
}
