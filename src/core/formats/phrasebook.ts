/** The phrasebook: how one thing of the original is written in the twin (formats, sections 10 and 19). */
import { z } from "zod";
import { parseDocument } from "@/core/formats/document";
import { recordOf } from "@/core/formats/json";
import { namingStyle } from "@/core/formats/port-file";

const text = z.string().min(1);

const blankSchema = z.strictObject({
  /** The kinds of code that the blank may match; anything where omitted. */
  is: z
    .array(z.enum(["string", "number", "name", "call", "any"]))
    .min(1)
    .optional(),
  matches: z.string().optional(),
  /** Raw text → what is written; a text that is not in it leaves the place open. */
  turn: recordOf(z.string()).optional(),
  style: namingStyle.optional(),
  scale: text.optional(),
  strip: text.optional(),
  text: z.enum(["unquote", "quote"]).optional(),
});

const exceptionSchema = z.strictObject({ file: text, text: text.optional(), why: z.string().optional() });

const importsSchema = z.strictObject({ add: z.array(text).optional(), drop: z.array(text).optional() });

const phraseSchema = z.strictObject({
  id: text,
  kind: z.enum(["code", "name", "text", "file"]),
  language: text.optional(),
  why: z.string().optional(),
  from: text,
  to: z.string(),
  blanks: recordOf(blankSchema).default({}),
  imports: importsSchema.optional(),
  in: z.array(text).optional(),
  not: z.array(text).optional(),
  except: z.array(exceptionSchema).default([]),
  /** Of a name: names that stay; `a.b.**` keeps `a.b` too. */
  keep: z.array(text).default([]),
  /** Of a name: where besides code it is looked for. */
  reach: z.array(z.enum(["code", "strings", "comments", "config"])).default([]),
  /** Of a `file` phrase: content that the file must have. */
  when: z.strictObject({ has: text }).optional(),
  for: z.array(text).optional(),
  /** Used on the original's text when a draft is made, instead of on the twin. */
  drafts: z.boolean().default(false),
});

const scaleSchema = z.strictObject({
  unit: z.string(),
  /** Name → amount. */
  steps: recordOf(z.number()).refine((steps) => Object.keys(steps).length > 0, "A scale needs steps"),
  within: z.number().nonnegative(),
});

/** A file of phrases; defaults are filled in. */
export const phrasebookSchema = z
  .strictObject({
    format: z.literal("side-twin/phrasebook"),
    version: z.literal(1),
    scales: recordOf(scaleSchema).default({}),
    phrases: z.array(phraseSchema),
  })
  .superRefine((book, context) => {
    const ids = new Set<string>();
    for (const [index, phrase] of book.phrases.entries()) {
      const issue = (key: string, message: string) =>
        context.addIssue({ code: "custom", path: ["phrases", index, ...key.split(".")], message });
      if (ids.has(phrase.id)) issue("id", `Two phrases have the id "${phrase.id}"`);
      ids.add(phrase.id);
      const given = new Set(blankNames(phrase.from));
      for (const name of blankNames(phrase.to))
        if (name !== "_" && !given.has(name)) issue("to", `The blank "${name}" is not in "from"`);
      for (const [name, blank] of Object.entries(phrase.blanks)) {
        if (!given.has(name)) issue(`blanks.${name}`, `The blank "${name}" is not in "from"`);
        if (blank.scale !== undefined && !(blank.scale in book.scales))
          issue(`blanks.${name}.scale`, `There is no scale "${blank.scale}"`);
        if (blank.matches !== undefined && !isPattern(blank.matches))
          issue(`blanks.${name}.matches`, "This is not a regular expression");
      }
      if (phrase.kind === "code" && phrase.language === undefined)
        issue("language", 'A phrase of code names its "language"');
      if (phrase.kind === "code" && phrase.from.replace(BLANK, "").trim() === "")
        issue("from", "A phrase needs something besides blanks");
    }
  });

/** `(:name:)`, and `(:name..:)` for any number. */
export const BLANK = /\(:(\w+)(\.\.)?:\)/g;

const blankNames = (pattern: string): string[] => [...pattern.matchAll(BLANK)].map(([, name = ""]) => name);

function isPattern(pattern: string): boolean {
  try {
    return new RegExp(pattern, "u") instanceof RegExp;
  } catch {
    // The engine's message describes its own syntax; the schema names the place.
    return false;
  }
}

export type Phrasebook = z.infer<typeof phrasebookSchema>;
export type Phrase = z.infer<typeof phraseSchema>;
export type Blank = z.infer<typeof blankSchema>;
export type Scale = z.infer<typeof scaleSchema>;

/** Throws SideTwinError `bad-input` with file, line, phrase and key. */
export const parsePhrasebook = (content: string, file: string): Phrasebook =>
  parseDocument(content, phrasebookSchema, { file, format: "side-twin/phrasebook", comments: true });
