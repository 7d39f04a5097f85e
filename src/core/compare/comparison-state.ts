/**
 * One comparison under way: the equality, the allowances in scope, and the divergences found.
 * A comparer reports a difference with `report`; the state asks the allowances and writes it down.
 */
import { type Excuse, excuse, findAt, type ScopedAllowance, settle, settlesWhole } from "@/core/allowances/allowances";
import type { Measure } from "@/core/allowances/kinds/kind";
import type { Allow } from "@/core/formats/allowance";
import type { Json } from "@/core/formats/json";
import type { Divergence } from "@/core/formats/report";
import type { Equality } from "@/core/values/equality";
import { splitPath } from "@/core/values/path";
import { toNotation, type Value } from "@/core/values/value";

/** How many divergences of one case are kept in full; the others are counted. */
const MAX_DIVERGENCES = 200;

type Values = { readonly original: Value | null; readonly twin: Value | null };

/** Collects the findings of one comparison; see the head of the file. */
export class ComparisonState {
  readonly divergences: Divergence[] = [];
  readonly excuses: Excuse[] = [];
  more = 0;
  unexcused = 0;

  constructor(
    readonly equality: Equality,
    readonly allowances: readonly ScopedAllowance[],
  ) {}

  /** Writes a difference down, with the allowance that excuses it when there is one. */
  report(at: string, kind: string, values: Values, measure?: Measure): void {
    const excused =
      this.allowances.length > 0
        ? excuse(
            this.allowances,
            { at: splitPath(at), kind, ...values, ...(measure ? { measure } : {}) },
            this.equality,
          )
        : null;
    this.write(at, kind, { original: notationOf(values.original), twin: notationOf(values.twin) }, excused);
  }

  write(at: string, kind: string, values: { original: Json; twin: Json }, excused: Excuse | null): void {
    if (excused) this.excuses.push(excused);
    else this.unexcused++;
    if (this.divergences.length >= MAX_DIVERGENCES) {
      this.more++;
      return;
    }
    this.divergences.push({
      at,
      original: values.original,
      twin: values.twin,
      kind,
      ...(excused ? { allowance: excused.allowance } : {}),
    });
  }

  /**
   * Returns whether an allowance for a whole value or document (`ignore`, `exactly`, `unordered`) excuses the two that
   * differ at a path, and records it. `sameUnordered` tests equality except for order.
   */
  settle(
    at: string,
    values: Values,
    sameUnordered: (how: NonNullable<Allow["unordered"]>) => boolean = () => false,
  ): boolean {
    if (this.allowances.length === 0) return false;
    const path = splitPath(at);
    for (const scoped of findAt(this.allowances, path, settlesWhole)) {
      const as = settle(scoped, { ...values, sameUnordered }, this.equality);
      if (as === null) continue;
      const written = { original: notationOf(values.original), twin: notationOf(values.twin) };
      this.write(at, as, written, { allowance: scoped.allowance.id });
      return true;
    }
    return false;
  }

  /** Returns a state with the same terms whose findings are kept separate until adopted. */
  fork(): ComparisonState {
    return new ComparisonState(this.equality, this.allowances);
  }

  adopt(other: ComparisonState): void {
    for (const divergence of other.divergences) {
      if (this.divergences.length < MAX_DIVERGENCES) this.divergences.push(divergence);
      else this.more++;
    }
    this.excuses.push(...other.excuses);
    this.more += other.more;
    this.unexcused += other.unexcused;
  }

  get found(): boolean {
    return this.divergences.length > 0;
  }
}

const notationOf = (value: Value | null): Json => (value === null ? null : toNotation(value));
