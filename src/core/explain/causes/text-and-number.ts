import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import { type AnyPair, toNumeric, toText } from "@/core/explain/facets";

export const textAndNumber: Cause = {
  name: "text-and-number",
  title: "A number against its text",
  note: "A value that was read as text was never turned into a number, or a number was joined to a text. Fix: convert once, where the value comes in.",
  examine: ({ all }) => {
    const isText = (one: AnyPair["original"], other: AnyPair["original"]) => {
      const [number, text] = [toNumeric(one), toText(other)];
      return number !== null && text !== null && text.trim() !== "" && Number(text) === number.value;
    };
    // Texts are put one behind the other where numbers are added.
    const isDigits = (one: AnyPair["original"], other: AnyPair["original"]) =>
      toNumeric(one) !== null && /^-?\d+(\.\d+)?$/.test(toText(other) ?? "");
    return bestOf([
      findingFrom(all, (pair) => isText(pair.original, pair.twin) || isText(pair.twin, pair.original), {
        weight: 0.98,
        evidence: "a number on one side, the same as text on the other",
      }),
      findingFrom(all, (pair) => isDigits(pair.original, pair.twin) || isDigits(pair.twin, pair.original), {
        weight: 0.9,
        evidence: "a number on one side, digits as text on the other",
      }),
    ]);
  },
  fires: [[{ original: 5, twin: "5" }], [{ original: 5, twin: "41" }], [{ original: { a: "12" }, twin: { a: 12 } }]],
  staysQuiet: [[{ original: 5, twin: "six" }], [{ original: 5, twin: 6 }]],
};
