/**
 * A text for a value such that equal values have equal texts under the equality: for aligning lists, for sets and for
 * unordered comparing. An opaque value gets a text of its own each time, as it equals nothing.
 */
import type { Equality } from "@/core/values/equality";
import { offsetOf, toInstant } from "@/core/values/instant";
import { exactText, isNumber } from "@/core/values/number";
import { toNotation, type Value } from "@/core/values/value";

let opaqueCount = 0;

/** Cost grows with the size of the value, n log n for maps and sets. */
export function canonicalText(value: Value, equality: Equality): string {
  if (isNumber(value)) {
    const decimal = value.kind === "decimal" && equality.decimal === "strict";
    const form = equality.intFloat === "strict" || decimal ? value.kind : "";
    const digits = exactText(value);
    return `n${form}:${digits === "-0" && equality.negativeZero === "relaxed" ? "0" : digits}`;
  }
  switch (value.kind) {
    case "none":
      return equality.nullKinds === "relaxed" ? "0" : `0:${value.form}`;
    case "opaque":
      return `opaque:${opaqueCount++}`;
    case "date":
    case "time":
      return `t:${equality.timeOffset === "strict" ? offsetOf(value.text) : ""}${toInstant(value.text) ?? value.text}`;
    case "list":
    case "tuple":
      if (value.items.length === 0 && equality.emptyKinds === "relaxed") return "{}";
      return `${equality.tupleList === "strict" ? value.kind : ""}[${value.items.map((item) => canonicalText(item, equality)).join(",")}]`;
    case "set":
      return `set[${value.items
        .map((item) => canonicalText(item, equality))
        .sort()
        .join(",")}]`;
    case "map":
      return fieldsText(value.entries, equality);
    case "object":
      if (value.items) return `[${value.items.map((item) => canonicalText(item, equality)).join(",")}]`;
      return (
        (equality.classNames === "strict" ? value.name : "") +
        fieldsText(
          value.fields.map(([key, field]) => [{ kind: "text", value: key }, field]),
          equality,
        )
      );
    default:
      return `${value.kind}:${JSON.stringify(toNotation(value))}`;
  }
}

function fieldsText(entries: readonly (readonly [Value, Value])[], equality: Equality): string {
  const fields = entries
    .filter(([, field]) => !(field.kind === "none" && field.form === "undefined"))
    .map(([key, field]) => `${keyText(key, equality)}=${canonicalText(field, equality)}`);
  return `{${(equality.keyOrder === "strict" ? fields : fields.sort()).join(",")}}`;
}

/** A map key as compared: a number key equals its text unless that is strict. */
export function keyText(key: Value, equality: Equality): string {
  if (key.kind === "text") return JSON.stringify(key.value);
  if (isNumber(key) && equality.mapKeysAsText === "relaxed") return JSON.stringify(exactText(key));
  return canonicalText(key, equality);
}
