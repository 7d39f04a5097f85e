/** Compares two scalar values under an equality; returns the kind of difference, or null. */
import type { Equality } from "@/core/values/equality";
import { offsetOf, toInstant } from "@/core/values/instant";
import { exactText, isNumber, type NumberValue } from "@/core/values/number";
import type { Value } from "@/core/values/value";

/** `null` when equal, else the kind of the divergence. Neither value may be a list, set, map or object. */
export function compareScalars(original: Value, twin: Value, equality: Equality): string | null {
  if (original.kind === "opaque" || twin.kind === "opaque") return "opaque";
  if (isNumber(original) && isNumber(twin)) return sameNumber(original, twin, equality) ? null : "number";
  if (isMoment(original) && isMoment(twin)) return compareMoments(original, twin, equality);
  if (original.kind === "none" && twin.kind === "none") {
    return equality.nullKinds === "relaxed" || original.form === twin.form ? null : "null";
  }
  if (original.kind !== twin.kind) return original.kind === "none" || twin.kind === "none" ? "null" : "type";
  switch (original.kind) {
    case "boolean":
      return original.value === (twin as typeof original).value ? null : "boolean"; // same kind, checked above
    case "text":
      return original.value === (twin as typeof original).value ? null : "text"; // same kind, checked above
    case "bytes":
      return original.base64 === (twin as typeof original).base64 ? null : "bytes"; // same kind, checked above
    case "ref":
      return original.depth === (twin as typeof original).depth ? null : "cycle"; // same kind, checked above
    default:
      return "type";
  }
}

type Moment = Extract<Value, { kind: "date" | "time" }>;
const isMoment = (value: Value): value is Moment => value.kind === "date" || value.kind === "time";

function compareMoments(original: Moment, twin: Moment, equality: Equality): string | null {
  if (original.kind === twin.kind && original.text === twin.text) return null;
  if (original.kind === "date" && twin.kind === "date") return "date";
  if (equality.timeOffset === "strict" && offsetOf(original.text) !== offsetOf(twin.text)) return "time";
  // A date equals the time at its midnight, UTC: it is how a language without dates holds one.
  const instant = toInstant(original.text);
  return instant !== null && instant === toInstant(twin.text) ? null : "time";
}

function sameNumber(original: NumberValue, twin: NumberValue, equality: Equality): boolean {
  if (original.kind !== twin.kind) {
    const decimal = original.kind === "decimal" || twin.kind === "decimal";
    if ((decimal ? equality.decimal : equality.intFloat) === "strict") return false;
  }
  const [one, other] = [exactText(original), exactText(twin)];
  if (one === other) return true;
  return equality.negativeZero === "relaxed" && /^-?0$/.test(one) && /^-?0$/.test(other);
}
