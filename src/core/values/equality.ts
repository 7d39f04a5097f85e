/** The default equality: the named rules of formats, section 3, each of which can be switched. */
import type { EqualityOptions } from "@/core/formats/port-file";

/** All switches of the equality, defaults filled in. */
export type Equality = Required<EqualityOptions>;

/** The defaults of formats, section 3. */
export const DEFAULT_EQUALITY: Equality = {
  intFloat: "relaxed",
  decimal: "relaxed",
  tupleList: "relaxed",
  nullKinds: "relaxed",
  classNames: "relaxed",
  mapKeysAsText: "relaxed",
  keyOrder: "relaxed",
  negativeZero: "relaxed",
  timeOffset: "relaxed",
  errorKind: "strict",
  errorMessage: "strict",
};

/** Fills in the defaults. */
export const withDefaults = (options: EqualityOptions): Equality => ({ ...DEFAULT_EQUALITY, ...options });
