/** Whether two answers are textually identical: the fast path for most cases. */
import type { Json } from "@/core/formats/json";

/**
 * True only for identical notation with nothing opaque in it; key order does not count, and with `intFloat` a float equals
 * the int of its value. Cost: one walk.
 */
export function sameNotation(original: Json, twin: Json, intFloat = false): boolean {
  if (original === twin) return true;
  if (intFloat && typeof original !== typeof twin) return isFloatOf(original, twin) || isFloatOf(twin, original);
  if (typeof original !== "object" || typeof twin !== "object" || original === null || twin === null) return false;
  if (Array.isArray(original)) {
    if (!Array.isArray(twin) || original.length !== twin.length) return false;
    for (let index = 0; index < original.length; index++) {
      if (!sameNotation(original[index], twin[index], intFloat)) return false;
    }
    return true;
  }
  if (Array.isArray(twin)) return false;
  const [one, other] = [original as { [key: string]: Json }, twin as { [key: string]: Json }]; // neither is a list
  if ("~opaque" in one || "~opaque" in other) return false;
  const keys = Object.keys(one);
  if (keys.length !== Object.keys(other).length) return false;
  for (const key of keys) {
    const partner = other[key];
    if (partner === undefined || !sameNotation(one[key] ?? null, partner, intFloat)) return false;
  }
  return true;
}

/** `{"~float": "2.0"}` and 2; a whole number that JSON shows exactly only. */
function isFloatOf(float: Json, int: Json): boolean {
  if (typeof int !== "number" || typeof float !== "object" || float === null || Array.isArray(float)) return false;
  const written = (float as { [key: string]: Json })["~float"]; // not a list
  return typeof written === "string" && Object.keys(float).length === 1 && Number(written) === int && int !== 0;
}
