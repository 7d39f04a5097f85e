import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import { type AnyPair, type CaseFacts, inputOf, leavesOf, toNumeric, toText } from "@/core/explain/facets";

export const textAndNumber: Cause = {
  name: "text-and-number",
  title: "A number against its text",
  note: "A value that was read as text was never turned into a number, or a number was joined to a text. Fix: convert once, where the value comes in.",
  examine: ({ all }) => {
    const isText = (one: AnyPair["original"], other: AnyPair["original"]) => {
      const [number, text] = [toNumeric(one), toText(other)];
      return number !== null && text !== null && text.trim() !== "" && Number(text) === number.value;
    };
    // Texts are put one behind the other where numbers are added: what was given begins or ends the answer.
    const isJoined = (one: AnyPair["original"], other: AnyPair["original"], { item }: CaseFacts) => {
      const text = toText(other) ?? "";
      const given = inputOf(item).flatMap((value) =>
        leavesOf(value).flatMap((leaf) => toNumeric(leaf) ?? toText(leaf) ?? []),
      );
      return (
        toNumeric(one) !== null &&
        /^-?\d+(\.\d+)?$/.test(text) &&
        given
          .map((value) => (typeof value === "string" ? value : String(value.value)))
          .some((part) => part !== "" && part.length < text.length && (text.startsWith(part) || text.endsWith(part)))
      );
    };
    return bestOf([
      findingFrom(all, (pair) => isText(pair.original, pair.twin) || isText(pair.twin, pair.original), {
        weight: 0.98,
        evidence: "a number on one side, the same as text on the other",
      }),
      findingFrom(
        all,
        ({ original, twin, facts }) => isJoined(original, twin, facts) || isJoined(twin, original, facts),
        { weight: 0.9, evidence: "a number on one side, what was given joined to it as text on the other" },
      ),
    ]);
  },
  fires: [
    [{ original: 5, twin: "5" }],
    [{ original: 5, twin: "41", args: ["4"] }],
    [{ original: { a: "12" }, twin: { a: 12 } }],
  ],
  staysQuiet: [[{ original: 5, twin: "6" }], [{ original: 5, twin: 6 }]],
};
