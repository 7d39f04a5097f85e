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

/** Each name once a line. Cost: linear in the texts. */
export function findMentions(texts: readonly PlainText[], { modules, packages }: Names): Mention[] {
  const forms = new Map<string, string>();
  const add = (form: string, name: string) => {
    if (form.length >= LEAST_LENGTH) forms.set(form, name);
  };
  for (const { name, files } of modules) {
    for (const file of files) {
      const stem = file.replace(/\.[^./]+$/, "");
      for (const form of [file, file.split("/").at(-1) ?? "", stem, stem.replaceAll("/", "."), name]) add(form, name);
    }
  }
  for (const name of packages) add(name, name);
  const said = JSON.stringify([...forms]);
  const mentions: Mention[] = [];
  for (const text of texts) {
    for (const mention of mentionsIn(text, forms, said)) mentions.push(mention);
    if (mentions.length >= MOST_MENTIONS) return mentions.slice(0, MOST_MENTIONS);
  }
  return mentions;
}

const found = new WeakMap<PlainText, { readonly said: string; readonly mentions: readonly Mention[] }>();

/** Looked for once a text, as long as the names are the same. */
function mentionsIn(whole: PlainText, forms: ReadonlyMap<string, string>, said: string): readonly Mention[] {
  const known = found.get(whole);
  if (known?.said === said) return known.mentions;
  const mentions: Mention[] = [];
  for (const [index, line] of whole.text.split("\n").entries()) {
    const names = new Set<string>();
    for (const [token] of line.matchAll(TOKEN)) for (const form of formsIn(token)) addKnown(forms.get(form), names);
    for (const name of names) mentions.push({ file: whole.path, line: index + 1, name });
    if (mentions.length >= MOST_MENTIONS) break;
  }
  found.set(whole, { said, mentions });
  return mentions;
}

function addKnown(name: string | undefined, names: Set<string>): void {
  if (name !== undefined) names.add(name);
}

/** What names are made of: words, and the signs that join them in paths and dotted names. */
const TOKEN = /[\p{L}\p{N}_@][\p{L}\p{N}_./@-]*/gu;
/** Longer ones are no names. */
const MOST_PARTS = 10;

/** A token, and every run of its parts: `src/ferry/fares.py` holds `ferry/fares.py`, `fares.py` and `fares`. */
function* formsIn(token: string): Generator<string> {
  yield token;
  const parts = token.split(/([./-])/);
  if (parts.length === 1 || parts.length > 2 * MOST_PARTS) return;
  for (let from = 0; from < parts.length; from += 2)
    for (let to = from + 1; to <= parts.length; to += 2) yield parts.slice(from, to).join("");
}
