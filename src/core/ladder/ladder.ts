/** The ladder: which rungs a port has reached. Reached is worked out from facts, never ticked (formats, section 9). */
import type { Diagnostic } from "@/core/diagnostics/diagnostic";
import type { Rung } from "@/core/formats/port-file";
import type { Outcome } from "@/core/formats/report";
import { isAgreement } from "@/core/progress/done";

/** A diagnostic with the module and section that its place belongs to; null outside of all. */
export type PlacedDiagnostic = Diagnostic & { readonly module: string | null; readonly section: string | null };

/** Facts on one twin that rungs depend on; null where unknown. */
export type LadderFacts = {
  readonly modules: readonly string[];
  /** Rung → the diagnostics of its check. */
  readonly diagnostics: ReadonlyMap<string, readonly PlacedDiagnostic[]>;
  readonly cases: readonly { readonly module: string | null; readonly outcome: Outcome }[] | null;
  /** Module → executable and proven lines. */
  readonly lines: ReadonlyMap<string, { readonly lines: number; readonly proven: number }> | null;
  /** Module → leftovers of the phrasebook; `""` for files of no module. */
  readonly leftovers: ReadonlyMap<string, number> | null;
  /** Tests that are not the same on both sides. */
  readonly tests: number | null;
  /** Rung → exit status of its command. */
  readonly commands: ReadonlyMap<string, number | null>;
};

/** A condition that keeps a rung from being reached, with its count. */
export type Unmet = { readonly what: string; readonly count: number };

export type RungState = {
  readonly name: string;
  readonly twin: string;
  readonly reached: boolean;
  readonly unmet: readonly Unmet[];
  readonly modules: readonly { readonly name: string; readonly reached: boolean; readonly errors: number }[];
};

/** The state of each rung of one twin, lowest first; a rung is not reached while one below it is not. */
export function climb(rungs: readonly Rung[], twin: string, facts: LadderFacts): RungState[] {
  const own = rungs.filter((rung) => rung.twin === undefined || rung.twin === twin);
  const states: RungState[] = [];
  for (const rung of own) {
    const below = states.at(-1);
    const unmet = unmetOf(rung, facts);
    const modules = facts.modules.map((name) => {
      const errors = errorsOf(rung, facts).filter(({ module }) => module === name).length;
      const isBelow = below?.modules.find((module) => module.name === name)?.reached ?? true;
      const isKnown = !rung.check || facts.diagnostics.has(rung.name);
      const isMet = isKnown && errors === 0 && unmetByModule(rung, facts, name).length === 0;
      return { name, reached: isBelow && isMet, errors };
    });
    const all = below && !below.reached ? [...unmet, { what: `the rung "${below.name}" below`, count: 1 }] : unmet;
    states.push({ name: rung.name, twin, reached: all.length === 0, unmet: all, modules });
  }
  return states;
}

const errorsOf = (rung: Rung, facts: LadderFacts): PlacedDiagnostic[] =>
  (facts.diagnostics.get(rung.name) ?? []).filter(({ severity }) => severity === "error");

function unmetOf(rung: Rung, facts: LadderFacts): Unmet[] {
  const unmet: Unmet[] = [];
  const add = (what: string, count: number) => {
    if (count > 0) unmet.push({ what, count });
  };
  if (rung.check && !facts.diagnostics.has(rung.name)) add("its check was not run", 1);
  if (rung.check) add("errors of its check", errorsOf(rung, facts).length);
  if (rung.cases) {
    const cases = facts.cases ?? [];
    if (cases.length === 0) add("no case was compared", 1);
    for (const outcome of ["differ", "broken", "unsteady", "skipped"] as const)
      add(CASE_WORDS[outcome], cases.filter((item) => item.outcome === outcome).length);
  }
  if (rung.proven !== undefined) add("lines short of the share to be proven", linesShort(rung.proven, facts, null));
  if (rung.leftovers && facts.leftovers === null) add("the phrasebook could not be read", 1);
  if (rung.leftovers) add("leftovers of the phrasebook", sum(facts.leftovers?.values() ?? []));
  if (rung.tests && facts.tests === null) add("the tests were not run", 1);
  if (rung.tests) add("tests that are not the same", facts.tests ?? 0);
  if (rung.command && !facts.commands.has(rung.name)) add("its command was not run", 1);
  else if (rung.command) add("its command does not end with 0", facts.commands.get(rung.name) === 0 ? 0 : 1);
  return unmet;
}

/** "25 errors of its check"; conditions that are not counted have no number. */
export function describeUnmet({ what, count }: Unmet): string {
  const one = ONE[what];
  if (one === undefined) return what;
  return `${count} ${count === 1 ? one : what}`;
}

/** Plural → singular. */
const ONE: Readonly<Record<string, string>> = {
  "errors of its check": "error of its check",
  "cases that differ": "case that differs",
  "cases that are broken": "case that is broken",
  "cases that are unsteady": "case that is unsteady",
  "cases that are not ported yet": "case that is not ported yet",
  "lines short of the share to be proven": "line short of the share to be proven",
  "leftovers of the phrasebook": "leftover of the phrasebook",
  "tests that are not the same": "test that is not the same",
};

const CASE_WORDS = {
  differ: "cases that differ",
  broken: "cases that are broken",
  unsteady: "cases that are unsteady",
  skipped: "cases that are not ported yet",
} as const;

/** The conditions that one module does not meet, of those that hold per module: cases, lines and leftovers. */
function unmetByModule(rung: Rung, facts: LadderFacts, name: string): string[] {
  const own = (facts.cases ?? []).filter(({ module }) => module === name);
  return [
    rung.cases && (facts.cases === null || own.some(({ outcome }) => !isAgreement(outcome))) ? "cases" : "",
    rung.proven !== undefined && linesShort(rung.proven, facts, name) > 0 ? "proven" : "",
    rung.leftovers && (facts.leftovers === null || (facts.leftovers.get(name) ?? 0) > 0) ? "leftovers" : "",
  ].filter(Boolean);
}

function linesShort(share: number, { lines }: LadderFacts, name: string | null): number {
  if (lines === null) return 1;
  const counted = [...lines].filter(([module]) => name === null || module === name).map(([, count]) => count);
  const [all, proven] = [sum(counted.map((count) => count.lines)), sum(counted.map((count) => count.proven))];
  return Math.max(0, Math.ceil(share * all) - proven);
}

const sum = (counts: Iterable<number>): number => [...counts].reduce((total, count) => total + count, 0);
