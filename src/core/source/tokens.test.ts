import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { LANGUAGES } from "@/core/source/languages/index";
import { tokensOf } from "@/core/source/tokens";

const WORDS = ["if", "value", "x1", "12", "3.5", '"a b"', "'c'", "(", ")", "+", "==", "{", "}", ";"];

describe.each(LANGUAGES.map((language) => [language.name, language] as const))("tokens of %s", (name, language) => {
  const [start = "", end = ""] = language.comments[0] ?? [];
  const comment = end === "" ? `${start} why not\n` : `${start} why\nnot ${end}`;

  it("are the same however they are laid out and whatever comments stand between", () => {
    let changed = 0;
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom(...WORDS), fc.constantFrom(" ", "  ", "\t", ` ${comment} `)), {
          maxLength: 12,
        }),
        (pieces) => {
          // Where blocks are indentation, a new line outside of brackets is a token of its own.
          const [open, close] = name === "python" ? ["(", ")"] : ["", ""];
          const plain = `${open}${pieces.map(([word]) => word).join(" ")}${close}`;
          const laidOut = `${open}${pieces.map(([word, gap]) => word + gap).join(" ")}${close}`;
          if (plain !== laidOut) changed++;
          const balanced = name === "python" ? pieces.every(([word]) => !"(){}".includes(word)) : true;
          if (balanced) expect(tokensOf(laidOut, name)).toBe(tokensOf(plain, name));
        },
      ),
    );
    expect(changed).toBeGreaterThan(20);
  });

  it("are others when a word is another", () => {
    expect(tokensOf(`a = b ${comment}`, name)).not.toBe(tokensOf(`a = c ${comment}`, name));
    expect(tokensOf('a = "x"', name)).not.toBe(tokensOf('a = "y"', name));
  });
});

describe("tokens of a language that is not read", () => {
  it("are its words and signs", () => {
    expect(tokensOf("a  # b\n c", null)).toBe("a # b c");
  });
});
