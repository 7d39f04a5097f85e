/** The default equality: the named rules of formats, section 3, each of which can be switched. */
import type { EqualityOptions, PortFile } from "@/core/formats/port-file";

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
  emptyKinds: "strict",
};

/** Fills in the defaults. */
export const withDefaults = (options: EqualityOptions): Equality => ({ ...DEFAULT_EQUALITY, ...options });

/** The equality of a port on one of its twins: PHP has one value for an empty list and an empty map. */
export function equalityOn(port: PortFile, twin: string): Equality {
  const languages = [port.original.language, port.twins.find(({ name }) => name === twin)?.language];
  return { ...DEFAULT_EQUALITY, emptyKinds: languages.includes("php") ? "relaxed" : "strict", ...port.equality };
}
