/** Arbitrary values for property tests. */
import fc from "fast-check";
import { keyText } from "@/core/values/canonical";
import { DEFAULT_EQUALITY } from "@/core/values/equality";
import type { Value } from "@/core/values/value";

const text = fc.string({ unit: "grapheme" });
const scalar: fc.Arbitrary<Value> = fc.oneof(
  fc.constantFrom<Value>({ kind: "none", form: "null" }, { kind: "none", form: "undefined" }),
  fc.boolean().map((value): Value => ({ kind: "boolean", value })),
  fc.bigInt().map((value): Value => ({ kind: "int", value })),
  fc.double().map((value): Value => ({ kind: "float", value })),
  fc
    .tuple(fc.bigInt(), fc.nat(6))
    .map(([digits, scale]): Value => ({ kind: "decimal", text: `${digits}.${"0".repeat(scale)}5` })),
  fc.string({ unit: "binary" }).map((value): Value => ({ kind: "text", value })),
  fc.uint8Array().map((bytes): Value => ({ kind: "bytes", base64: Buffer.from(bytes).toString("base64") })),
  fc
    .date({ noInvalidDate: true, min: new Date("1000-01-01"), max: new Date("9000-01-01") })
    .map((day): Value => ({ kind: "date", text: day.toISOString().slice(0, 10) })),
  fc
    .date({ noInvalidDate: true, min: new Date("1000-01-01"), max: new Date("9000-01-01") })
    .map((day): Value => ({ kind: "time", text: day.toISOString() })),
);

/** Values of every kind but references and opaque ones, nested a few levels. */
export const arbitraryValue: fc.Arbitrary<Value> = fc.letrec<{ value: Value }>((tie) => ({
  value: fc.oneof(
    { depthSize: "small", withCrossShrink: true },
    scalar,
    fc.array(tie("value"), { maxLength: 4 }).map((items): Value => ({ kind: "list", items })),
    fc.array(tie("value"), { maxLength: 4 }).map((items): Value => ({ kind: "tuple", items })),
    fc.array(tie("value"), { maxLength: 4 }).map((items): Value => ({ kind: "set", items })),
    fc.dictionary(fc.oneof(text, fc.constantFrom("~obj", "~x", "__proto__", "a.b")), tie("value"), { maxKeys: 4 }).map(
      (record): Value => ({
        kind: "map",
        plain: true,
        entries: Object.entries(record).map(([key, item]) => [{ kind: "text", value: key }, item]),
      }),
    ),
    fc
      // No program has a map with one key twice.
      .uniqueArray(fc.tuple(scalar, tie("value")), {
        maxLength: 3,
        selector: ([key]) => keyText(key, DEFAULT_EQUALITY),
      })
      .map((entries): Value => ({ kind: "map", plain: false, entries })),
    fc
      .dictionary(text, tie("value"), { maxKeys: 3 })
      .map((record): Value => ({ kind: "object", name: "Fare", fields: Object.entries(record) })),
  ),
})).value;
