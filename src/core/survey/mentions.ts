/** Names that code takes from outside, and names of modules, in files that are not code: build files, settings, documents. */

export type PlainText = { readonly path: string; readonly text: string };
export type Mention = { readonly file: string; readonly line: number; readonly name: string };

type Names = {
  readonly modules: readonly { readonly name: string; readonly files: readonly string[] }[];
  readonly packages: readonly string[];
};

/** A text in which everything is mentioned says nothing: so many places are kept. */
const MOST_MENTIONS = 5000;
/** Shorter names are words of every text. */
const LEAST_LENGTH = 3;

/** Each name once a line. Cost: one pass over the texts. */
export function findMentions(texts: readonly PlainText[], { modules, packages }: Names): Mention[] {
  const forms = new Map<string, string>();
  for (const { name, files } of modules) {
    for (const file of files) {
      const stem = file.replace(/\.[^./]+$/, "");
      for (const form of [file, file.split("/").at(-1) ?? "", stem, stem.replaceAll("/", "."), name])
        forms.set(form, name);
    }
  }
  for (const name of packages) forms.set(name, name);
  const written = [...forms.keys()]
    .filter((form) => form.length >= LEAST_LENGTH)
    .sort((one, other) => other.length - one.length);
  if (written.length === 0) return [];
  const escaped = written.map((form) => form.replace(/[.*+?^${}()|[\]\\/]/g, "\\$&"));
  const pattern = new RegExp(`(?<![\\p{L}\\p{N}_])(?:${escaped.join("|")})(?![\\p{L}\\p{N}_])`, "gu");
  const mentions: Mention[] = [];
  for (const { path, text } of texts) {
    for (const [index, line] of text.split("\n").entries()) {
      const names = new Set([...line.matchAll(pattern)].map(([form]) => forms.get(form) ?? form));
      for (const name of names) mentions.push({ file: path, line: index + 1, name });
      if (mentions.length >= MOST_MENTIONS) return mentions.slice(0, MOST_MENTIONS);
    }
  }
  return mentions;
}
