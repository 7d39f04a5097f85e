import { describe, expect, it } from "vitest";
import { patternsIn, textsOfPatterns } from "@/core/exploring/patterns";

describe("the regular expressions of a piece of code", () => {
  it.each<[string, string, string[]]>([
    ["a literal", "const parts = /^(\\d+)-(\\w+)$/i.exec(text);", ["^(\\d+)-(\\w+)$"]],
    ["one with a slash in a class", "return /[/a]b\\/c/.test(x);", ["[/a]b\\/c"]],
    ["no division", "const half = total / 2; const more = half / 3;", []],
    ["no comment", "x = 1; // a / b\n/* c */", []],
    ["a constructor", 'new RegExp("a\\\\d+")', ["a\\d+"]],
    ["Python's functions", "re.compile(r'(\\d+)\\s*kn')\nre.sub('\\\\W', '', x)", ["(\\d+)\\s*kn", "\\W"]],
    [
      "a verbose one",
      're.compile(r"""\n  (?P<sign>[-+]?)   # a sign\n  (?=\\d)  [ #]\n""", re.VERBOSE)',
      ["(?P<sign>[-+]?)(?=\\d)[ #]"],
    ],
    ["each once", "/ab/.test(x) || /ab/.test(y)", ["ab"]],
  ])("are those of %s", (_what, code, expected) => {
    expect(patternsIn(code)).toEqual(expected);
  });
});

describe("texts that match them", () => {
  it.each([
    ["const re = /^(?<value>-?\\d*\\.?\\d+) *(?<unit>ms|sec)?$/;", /^-?\d*\.?\d+ *(ms|sec)?$/],
    ["re.fullmatch(r'(?P<a>[ab]{2,})(?P=a)?', x)", /^[ab]{2,}$/],
    ["x = /(?<=a)b(?!c)\\p{L}/u.test(y)", /^b[A-Za-zé]$/],
    ["re.match(r'(?i)\\Aport\\Z', x)", /^port$/],
  ])("%s", (code, pattern) => {
    const texts = textsOfPatterns(code);
    expect(texts.length).toBeGreaterThan(0);
    for (const text of texts) expect(text).toMatch(pattern);
    expect(textsOfPatterns(code)).toEqual(texts);
  });

  it("are none for an expression that cannot be read, and no long ones", () => {
    expect(textsOfPatterns("x = /(?(1)a|b)/.test(y)")).toEqual([]);
    expect(textsOfPatterns("x = /a{200}/.test(y)")).toEqual([]);
  });
});
