/** Describes allowances in words. */
import { settingsOf } from "@/core/allowances/kinds";
import type { Allow, Allowance } from "@/core/formats/allowance";

/** Describes an `allow` as a predicate: "numbers may differ by 0.5". */
export const describeAllow = (allow: Allow): string =>
  settingsOf(allow)
    .map(({ kind, setting }) => kind.describe(setting))
    .join("; ");

/** The scope: module, section, case and path. */
export function describeScope({ where }: Pick<Allowance, "where">): string {
  const { module = "every module", call, case: item, at } = where;
  return [
    call ? `${module}.${call}` : module,
    item !== undefined && item !== "*" && `case ${item}`,
    at !== undefined && `at ${at}`,
  ]
    .filter(Boolean)
    .join(", ");
}
