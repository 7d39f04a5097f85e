import { type Cause, findingFrom } from "@/core/explain/cause";
import type { AnyPair } from "@/core/explain/facets";
import { isNothing } from "@/core/explain/values";

const WORDS = /\b(none|null|undefined|nil)\b/gi;

export const nullAndMissing: Cause = {
  name: "null-and-missing",
  title: "No value against no key",
  note: "A key that holds nothing, a key that is not there, and the words for nothing are different things to different languages. Fix: set or leave out the key as the original does.",
  examine: ({ all }) => {
    const isAbsent = ({ kind, original, twin }: AnyPair) =>
      (kind === "extra" && isNothing(twin)) || (kind === "missing" && isNothing(original));
    const isWorded = ({ original, twin }: AnyPair) => {
      if (typeof original !== "string" || typeof twin !== "string")
        return (isNothing(original) && isWord(twin)) || (isNothing(twin) && isWord(original));
      if (LEAKED.test(twin) && !LEAKED.test(original)) return true;
      return original !== twin && original.replace(WORDS, "#") === twin.replace(WORDS, "#") && WORDS.test(original);
    };
    const isKind = ({ original, twin }: AnyPair) => isNothing(original) && isNothing(twin);
    return findingFrom(all, (pair) => isAbsent(pair) || isWorded(pair) || isKind(pair), {
      weight: 0.97,
      evidence: "nothing on one side, and no key or another word for it on the other",
    });
  },
  fires: [[{ original: { a: 1, b: null }, twin: { a: 1 } }], [{ original: "name: None", twin: "name: undefined" }]],
  staysQuiet: [[{ original: { a: 1, b: 2 }, twin: { a: 1 } }], [{ original: null, twin: 5 }]],
};

/** Words for nothing that no person writes into a text. */
const LEAKED = /\b(undefined|null|None|NaN|nil)\b|\[object Object\]/;

const isWord = (value: AnyPair["original"]): boolean =>
  typeof value === "string" && /^(none|null|undefined|nil)$/i.test(value);
