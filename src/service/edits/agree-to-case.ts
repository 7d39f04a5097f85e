/** Agrees to what cases show now: their differences are written into the port file as one allowance of exactly these values. */
import { freeId } from "@/core/cases/free-id";
import { sectionOf } from "@/core/cases/hand-over";
import { SideTwinError } from "@/core/errors";
import type { Allowance } from "@/core/formats/allowance";
import type { SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
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
 * Returns the id of the allowance. One case is allowed by its id; several of one section by the section. Throws SideTwinError for an
 * empty reason, too many differences, or cases of several sections.
 */
export async function agreeToCases(
  open: OpenPort,
  cases: readonly AgreedCase[],
  { twin, reason }: { readonly twin: string; readonly reason: string },
): Promise<{ allowance: string }> {
  requireReason(reason);
  const [first] = cases;
  const places = cases.flatMap(({ divergences }) => divergences.map(({ at }) => at));
  const pairs = [
    ...new Map(
      cases.flatMap(({ divergences }) =>
        divergences.map(
          ({ original, twin: other }) => [JSON.stringify([original, other]), { original, twin: other }] as const,
        ),
      ),
    ).values(),
  ];
  if (!first || pairs.length === 0 || pairs.length > MAX_PAIRS) {
    throw new SideTwinError({
      code: "bad-input",
      what: `There are ${pairs.length} differences to agree to; one to ${MAX_PAIRS} are wanted`,
      next: "Write an allowance with a pattern into the port file instead.",
    });
  }
  const module = first.item.module;
  const section = sectionOf(first.item);
  if (cases.some(({ item }) => item.module !== module || sectionOf(item) !== section)) {
    throw new SideTwinError({
      code: "bad-input",
      what: "These cases are of several sections",
      next: "Agree to those of one section at a time.",
    });
  }
  const at = new Set(places).size === 1 ? { at: places[0] as string } : {}; // there is one
  const where = {
    ...(module === undefined ? {} : { module }),
    ...(cases.length === 1 ? { case: first.item.id } : { call: section }),
    ...at,
  };
  const [pair] = pairs;
  let made = "";
  await editPortFile(open.file, ({ allowances }) => {
    made = freeId(`agreed-${first.item.id}`, new Set(allowances.map((allowance) => allowance.id)));
    const value: Allowance = {
      id: made,
      where,
      allow: { exactly: pairs.length === 1 && pair ? pair : pairs },
      reason: reason.trim(),
      twin,
    };
    return [{ path: ["allowances", -1], value, insert: true }];
  });
  return { allowance: made };
}
