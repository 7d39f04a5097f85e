import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import { type AnyPair, type CaseFacts, inputOf, leavesOf, toNumeric, toText } from "@/core/explain/facets";
import { isMessage, throwsOnly } from "@/core/explain/values";

/** Error texts of languages without implicit conversion, such as Python, Ruby and PHP. */
const IS_MIXED =
  /unsupported operand type\(s\) for \S+ '(?:(?:int|float|complex)' and 'str|str' and '(?:int|float))'|can only concatenate str \(not "(?:int|float)"\)|no implicit conversion of (?:Integer|Float) into String|String can't be coerced into (?:Integer|Float)|Unsupported operand types: (?:string [-+*/%] (?:int|float)|(?:int|float) [-+*/%] string)|'[<>]=?' not supported between instances of '(?:(?:int|float)' and 'str|str' and '(?:int|float))'/;

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
      findingFrom(all, (pair) => throwsOnly(pair) === "twin" && isMessage(pair.twin, IS_MIXED), {
        weight: 0.97,
        evidence: "the twin joins a text and a number, which its language refuses",
      }),
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
    [{ original: "5 kr", twin: { "~thrown": ["TypeError", "unsupported operand type(s) for +: 'float' and 'str'"] } }],
    [{ original: "5 kr", twin: { "~thrown": ["TypeError", 'can only concatenate str (not "int") to str'] } }],
    [{ original: true, twin: { "~thrown": ["TypeError", "'<' not supported between instances of 'str' and 'int'"] } }],
    [{ original: "5 kr", twin: { "~thrown": ["TypeError", "String can't be coerced into Integer"] } }],
  ],
  staysQuiet: [
    [{ original: 5, twin: { "~thrown": ["TypeError", "unsupported operand type(s) for +: 'NoneType' and 'int'"] } }],
    [{ original: 5, twin: "6" }],
    [{ original: 5, twin: 6 }],
  ],
};
