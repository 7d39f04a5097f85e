/** Exact arithmetic facts about numbers of any form: the same value has the same `exactText`. */
import type { Value } from "@/core/values/value";

/** A value that is a number. */
export type NumberValue = Extract<Value, { kind: "int" | "float" | "decimal" }>;

/** Whether a value is a number. */
export const isNumber = (value: Value): value is NumberValue =>
  value.kind === "int" || value.kind === "float" || value.kind === "decimal";

/**
 * The value as plain decimal digits without exponent or trailing zeros.
 * An integral float is expanded exactly; another float is read as its shortest round-trip decimal, which is what a
 * decimal of "the same value" shows (0.1 is the decimal 0.1, not its 55-digit expansion).
 */
export function exactText(value: NumberValue): string {
  switch (value.kind) {
    case "int":
      return value.value.toString();
    case "float":
      if (!Number.isFinite(value.value)) return String(value.value);
      if (Object.is(value.value, -0)) return "-0";
      return Number.isInteger(value.value) ? BigInt(value.value).toString() : plainDecimal(String(value.value));
    case "decimal":
      return plainDecimal(value.text);
  }
}

/** The nearest double, for tolerances. */
export function toDouble(value: NumberValue): number {
  if (value.kind === "int") return Number(value.value);
  return value.kind === "float" ? value.value : Number(value.text);
}

/** `1.50E+2` → `150`; text that is not a finite decimal (NaN, sNaN, Infinity) is returned unchanged. */
function plainDecimal(text: string): string {
  const match = /^([+-]?)(\d*)(?:\.(\d*))?(?:[eE]([+-]?\d+))?$/.exec(text.trim());
  if (!match) return text;
  const [, sign = "", whole = "", fraction = "", exponent = "0"] = match;
  const shift = Number(exponent);
  // An exponent of this size is written, not expanded: 1E+999999 must not become a million digits.
  if (Math.abs(shift) > 5000) return text;
  let digits = whole + fraction;
  let point = whole.length + shift;
  if (point > digits.length) digits = digits.padEnd(point, "0");
  if (point < 0) {
    digits = digits.padStart(digits.length - point, "0");
    point = 0;
  }
  const before = digits.slice(0, point).replace(/^0+/, "") || "0";
  const after = digits.slice(point).replace(/0+$/, "");
  return `${sign === "-" ? "-" : ""}${before}${after ? `.${after}` : ""}`;
}

/** How many representable doubles lie between two finite doubles; Infinity when either is not finite. */
export function ulpsBetween(original: number, twin: number): number {
  if (!Number.isFinite(original) || !Number.isFinite(twin)) return Number.POSITIVE_INFINITY;
  const distance = orderedBits(original) - orderedBits(twin);
  return Number(distance < 0n ? -distance : distance);
}

function orderedBits(value: number): bigint {
  const view = new DataView(new ArrayBuffer(8));
  view.setFloat64(0, value);
  const bits = view.getBigInt64(0);
  return bits < 0n ? -(bits & 0x7fffffffffffffffn) : bits;
}
