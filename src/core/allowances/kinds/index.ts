/** Every kind of allowance. The order decides which one excuses a difference where several would. */
import { errorKind } from "@/core/allowances/kinds/error-kind";
import { errorMessage } from "@/core/allowances/kinds/error-message";
import { exactly } from "@/core/allowances/kinds/exactly";
import { ignore } from "@/core/allowances/kinds/ignore";
import { image } from "@/core/allowances/kinds/image";
import { keys } from "@/core/allowances/kinds/keys";
import type { AllowanceKind } from "@/core/allowances/kinds/kind";
import { number } from "@/core/allowances/kinds/number";
import { text } from "@/core/allowances/kinds/text";
import { timing } from "@/core/allowances/kinds/timing";
import { unordered } from "@/core/allowances/kinds/unordered";
import type { Allow } from "@/core/formats/allowance";

const KINDS: { readonly [Key in keyof Required<Allow>]: AllowanceKind<Key> } = {
  ignore,
  errorMessage,
  exactly,
  errorKind,
  unordered,
  image,
  timing,
  number,
  text,
  keys,
};

/** One kind together with its setting in an `allow`. */
export type Setting = { readonly kind: AllowanceKind<keyof Allow>; readonly setting: NonNullable<Allow[keyof Allow]> };

// The table pairs each key with the kind of its own setting, which TypeScript cannot follow through an index.
/** All kinds, in the order in which they are tried. */
export const ALLOWANCE_KINDS = Object.values(KINDS) as unknown as readonly AllowanceKind<keyof Allow>[];

/** Lists the kinds used in an `allow` with their settings, in the order of the registry. */
export function settingsOf(allow: Allow): Setting[] {
  return ALLOWANCE_KINDS.flatMap((kind) => {
    const setting = allow[kind.key];
    return setting === undefined ? [] : [{ kind, setting }];
  });
}
