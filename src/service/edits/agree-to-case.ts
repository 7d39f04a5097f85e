/** Agrees to what a case shows now: each difference is written into the port file as an allowance of exactly these values. */
import { freeId } from "@/core/cases/free-id";
import { SideTwinError } from "@/core/errors";
import type { Allowance } from "@/core/formats/allowance";
import type { SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import { editPortFile } from "@/service/port/edit-port-file";
import type { OpenPort } from "@/service/port/open-port";

/** More differences than this are not an exception: use an allowance with a pattern. */
const MAX_DIVERGENCES = 20;

/** A divergence to be allowed, with its two values. */
export type Agreed = { readonly at: string; readonly original: Json; readonly twin: Json };

/** Returns the ids of the allowances. Throws SideTwinError for an empty reason or too many differences. */
export async function agreeToCase(
  open: OpenPort,
  item: SharedCase,
  wanted: { readonly twin: string; readonly reason: string; readonly divergences: readonly Agreed[] },
): Promise<{ allowances: string[] }> {
  const { twin, reason, divergences } = wanted;
  if (reason.trim() === "") {
    throw new SideTwinError({ code: "bad-input", what: "An allowance needs a reason", next: "Say why it may differ." });
  }
  if (divergences.length === 0 || divergences.length > MAX_DIVERGENCES) {
    throw new SideTwinError({
      code: "bad-input",
      what: `The case "${item.id}" has ${divergences.length} differences to agree to; one to ${MAX_DIVERGENCES} are wanted`,
      next: "Write an allowance with a pattern into the port file instead.",
    });
  }
  let made: Allowance[] = [];
  await editPortFile(open.file, ({ allowances }) => {
    const taken = new Set(allowances.map((allowance) => allowance.id));
    made = divergences.map(({ at, original, twin: twinValue }): Allowance => {
      const id = freeId(`agreed-${item.id}`, taken);
      taken.add(id);
      const where = { ...(item.module === undefined ? {} : { module: item.module }), case: item.id, at };
      return { id, where, allow: { exactly: { original, twin: twinValue } }, reason: reason.trim(), twin };
    });
    return made.map((value) => ({ path: ["allowances", -1], value, insert: true }));
  });
  return { allowances: made.map(({ id }) => id) };
}
