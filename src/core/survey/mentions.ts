/** Names that code takes from outside, and names of modules, in files that are not code: build files, settings, documents. */

/** A file that is not code. */
export type PlainText = { readonly path: string; readonly text: string };
/** A name found in a file that is not code. */
export type Mention = { readonly file: string; readonly line: number; readonly name: string };

type Names = {
  readonly modules: readonly { readonly name: string; readonly files: readonly string[] }[];
  readonly packages: readonly string[];
};

/** Names mentioned everywhere are uninformative: keep at most this many places. */
const MAX_MENTIONS = 5000;
/** Shorter names are words of every text. */
const MIN_LENGTH = 3;

/** Each name once a line. Cost: linear in the texts. */
export function findMentions(texts: readonly PlainText[], { modules, packages }: Names): Mention[] {
  const forms = new Map<string, string>();
  const add = (form: string, name: string) => {
    if (form.length >= MIN_LENGTH) forms.set(form, name);
  };
  for (const { name, files } of modules) {
    for (const file of files) {
      const stem = file.replace(/\.[^./]+$/, "");
      for (const form of [file, file.split("/").at(-1) ?? "", stem, stem.replaceAll("/", "."), name]) add(form, name);
    }
  }
  for (const name of packages) add(name, name);
  const formsKey = JSON.stringify([...forms]);
  const mentions: Mention[] = [];
  for (const text of texts) {
    for (const mention of mentionsIn(text, forms, formsKey)) mentions.push(mention);
    if (mentions.length >= MAX_MENTIONS) return mentions.slice(0, MAX_MENTIONS);
  }
  return mentions;
}

const found = new WeakMap<PlainText, { readonly formsKey: string; readonly mentions: readonly Mention[] }>();

/** Looked for once a text, as long as the names are the same. */
function mentionsIn(whole: PlainText, forms: ReadonlyMap<string, string>, formsKey: string): readonly Mention[] {
  const known = found.get(whole);
  if (known?.formsKey === formsKey) return known.mentions;
  const mentions: Mention[] = [];
  for (const [index, line] of whole.text.split("\n").entries()) {
    const names = new Set<string>();
    for (const [token] of line.matchAll(TOKEN)) for (const form of formsIn(token)) addKnown(forms.get(form), names);
    for (const name of names) mentions.push({ file: whole.path, line: index + 1, name });
    if (mentions.length >= MAX_MENTIONS) break;
  }
  found.set(whole, { formsKey, mentions });
  return mentions;
}

function addKnown(name: string | undefined, names: Set<string>): void {
  if (name !== undefined) names.add(name);
}

/** Characters of names: words, and the separators in paths and dotted names. */
const TOKEN = /[\p{L}\p{N}_@][\p{L}\p{N}_./@-]*/gu;
/** Longer words are not names. */
const MAX_PARTS = 10;

/** A token, and every run of its parts: `src/ferry/fares.py` holds `ferry/fares.py`, `fares.py` and `fares`. */
function* formsIn(token: string): Generator<string> {
  yield token;
  const parts = token.split(/([./-])/);
  if (parts.length === 1 || parts.length > 2 * MAX_PARTS) return;
  for (let from = 0; from < parts.length; from += 2)
    for (let to = from + 1; to <= parts.length; to += 2) yield parts.slice(from, to).join("");
}
