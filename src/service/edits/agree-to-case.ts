/** Agrees to what cases show now: their differences are written into the port file as one allowance of exactly these values. */
import { freeId } from "@/core/cases/free-id";
import { sectionOf } from "@/core/cases/hand-over";
import { SideTwinError } from "@/core/errors";
import type { Allowance } from "@/core/formats/allowance";
import type { SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import { groupBy } from "@/core/values/group-by";
import { editPortFile } from "@/service/port/edit-port-file";
import type { OpenPort } from "@/service/port/open-port";

/** More pairs of values than this are not an exception: use an allowance with a pattern. */
const MAX_PAIRS = 200;

/** A divergence to be allowed, with its two values. */
export type Agreed = { readonly at: string; readonly original: Json; readonly twin: Json };

/** A case with what it shows. */
export type AgreedCase = { readonly item: SharedCase; readonly divergences: readonly Agreed[] };

/** Throws SideTwinError `bad-input` for an empty reason. */
export function requireReason(reason: string): void {
  if (reason.trim() !== "") return;
  throw new SideTwinError({ code: "bad-input", what: "An allowance needs a reason", next: "Say why it may differ." });
}

/**
 * Returns the ids of the allowances, one for each section. One case of a section is allowed by its id; several by the section.
 * Throws SideTwinError for an empty reason or too many differences.
 */
export async function agreeToCases(
  open: OpenPort,
  cases: readonly AgreedCase[],
  { twin, reason }: { readonly twin: string; readonly reason: string },
): Promise<{ allowances: string[] }> {
  requireReason(reason);
  const groups = [...groupBy(cases, ({ item }) => JSON.stringify([item.module ?? null, sectionOf(item)])).values()].map(
    (own) => ({ cases: own, pairs: pairsOf(own) }),
  );
  const count = groups.reduce((sum, { pairs }) => sum + pairs.length, 0);
  if (groups.some(({ pairs }) => pairs.length === 0) || count === 0 || count > MAX_PAIRS) {
    throw new SideTwinError({
      code: "bad-input",
      what: `There are ${count} differences to agree to; one to ${MAX_PAIRS} are wanted`,
      next: "Write an allowance with a pattern into the port file instead.",
    });
  }
  let made: string[] = [];
  await editPortFile(open.file, ({ allowances }) => {
    const taken = new Set(allowances.map((allowance) => allowance.id));
    made = [];
    return groups.map(({ cases: own, pairs }) => {
      const [first] = own;
      const id = freeId(`agreed-${first?.item.id}`, taken);
      taken.add(id);
      made.push(id);
      const [pair] = pairs;
      const value: Allowance = {
        id,
        where: whereOf(own),
        allow: { exactly: pairs.length === 1 && pair ? pair : pairs },
        reason: reason.trim(),
        twin,
      };
      return { path: ["allowances", -1], value, insert: true };
    });
  });
  return { allowances: made };
}

/** The different pairs of values that cases of one section show. */
const pairsOf = (cases: readonly AgreedCase[]): { original: Json; twin: Json }[] => [
  ...new Map(
    cases.flatMap(({ divergences }) =>
      divergences.map(({ original, twin }) => [JSON.stringify([original, twin]), { original, twin }] as const),
    ),
  ).values(),
];

function whereOf(cases: readonly AgreedCase[]): Allowance["where"] {
  const [first] = cases;
  if (!first) return {};
  const { item } = first;
  const places = new Set(cases.flatMap(({ divergences }) => divergences.map(({ at }) => at)));
  const [at] = places;
  return {
    ...(item.module === undefined ? {} : { module: item.module }),
    ...(cases.length === 1 ? { case: item.id } : { call: sectionOf(item) }),
    ...(places.size === 1 && at !== undefined ? { at } : {}),
  };
}
