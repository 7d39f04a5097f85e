import { type Cause, findingFrom } from "@/core/explain/cause";
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
    return findingFrom(all, (pair) => isText(pair.original, pair.twin) || isText(pair.twin, pair.original), {
      weight: 0.98,
      evidence: "a number on one side, the same as text on the other",
    });
  },
  fires: [[{ original: 5, twin: "5" }], [{ original: { a: "12" }, twin: { a: 12 } }]],
  staysQuiet: [[{ original: 5, twin: "6" }], [{ original: 5, twin: 6 }]],
};
