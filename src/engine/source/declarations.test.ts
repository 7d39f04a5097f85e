/** What is read of one file in each language, against sources with every manner of declaring that it has. */
import { describe, expect, it } from "vitest";
import { LANGUAGES } from "@/core/source/languages/index";
import { parseSource, readFileFacts } from "@/engine/source/parse";
import { DECLARATIONS } from "@/testing/declarations/index";

describe("every manner of declaring", () => {
  it("is there for every language that is read", () => {
    expect(DECLARATIONS.map(({ language }) => language).sort()).toEqual(LANGUAGES.map(({ name }) => name).sort());
  });

  it.each(DECLARATIONS.map((one) => [one.language, one] as const))("is read in %s", async (language, known) => {
    const facts = await readFileFacts("harbour/fares/x", known.source, language);
    expect(facts?.errorLine).toBeNull();
    expect(
      facts?.sections.map(
        ({ kind, name, from, to, params, complexity }) =>
          `${kind} ${name} ${from}-${to} (${params.join(", ")}) ${complexity}`,
      ),
    ).toEqual(known.sections);
    expect(
      facts?.imports.map(({ line, specifier, names, bindings }) =>
        `${line} ${specifier} [${names.join(", ")}] ${bindings.map((one) => `${one.local}=${[one.root, ...one.path].join(" ")}`).join(", ")}`.trim(),
      ),
    ).toEqual(known.imports);
    expect(facts?.uses.map(({ line, parts }) => `${line} ${parts.join(".")}`)).toEqual(known.uses);
  });

  it.each(DECLARATIONS.map((one) => [one.language, one] as const))(
    "is the same in %s with other line endings, a mark at the head, and for the pairing",
    async (language, { source }) => {
      const facts = await readFileFacts("x", source, language);
      const crlf = await readFileFacts("x", source.replaceAll("\n", "\r\n"), language);
      expect(crlf?.sections).toEqual(facts?.sections);
      expect(crlf?.uses).toEqual(facts?.uses);
      const shifted = await readFileFacts("x", `\n\n${source}`, language);
      expect(shifted?.sections).toEqual(
        facts?.sections.map((section) => ({ ...section, from: section.from + 2, to: section.to + 2 })),
      );
      expect((await parseSource(source, language)).sections).toEqual(facts?.sections);
    },
  );
});
