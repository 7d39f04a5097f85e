/** Aligns both answers as one tree: equal parts fold to one row, differences are expanded side by side. */
import { alignItems } from "@/core/compare/align";
import { alignLines } from "@/core/compare/align-lines";
import type { AlignedPicture, AlignedRow, AlignedTable, ShownDocument } from "@/core/compare/aligned-documents";
import type { Answer, RunAnswer, Thrown } from "@/core/compare/answer";
import { contentOf, sameForm } from "@/core/compare/compare";
import type { Content } from "@/core/compare/document";
import { type KindsByPath, kindSetFor, showDocuments } from "@/core/compare/documents";
import { byteLines, visiblePair, visibleText, windowOf } from "@/core/compare/show-text";
import type { Json } from "@/core/formats/json";
import { canonicalText, keyText } from "@/core/values/canonical";
import { DEFAULT_EQUALITY, type Equality } from "@/core/values/equality";
import { joinPath } from "@/core/values/path";
import { fromNotation, toNotation, type Value } from "@/core/values/value";

const MAX_ROWS = 2000;
const CONTEXT_LINES = 2;
const MAX_TEXT = 400;
/** A marker that cannot be a class name, because it is not a word. */
const THROWS = "throws ";

/** Both answers as the reader shows them. */
export type Aligned = {
  /** At most MAX_ROWS. */
  readonly rows: readonly AlignedRow[];
  readonly tables: readonly AlignedTable[];
  readonly pictures: readonly AlignedPicture[];
};

/** `kinds`: what texts and files are, where it is set. Cost grows with the size of both answers. */
export function alignAnswers(
  original: Answer | null,
  twin: Answer | null,
  equality: Equality = DEFAULT_EQUALITY,
  kinds: KindsByPath = {},
  /** The call's arguments: one that neither side changed has no row. */
  given: readonly Json[] = [],
): Aligned {
  const rows: AlignedRow[] = [];
  const tree = new Tree(rows, equality, kinds);
  const kind = original?.kind ?? twin?.kind;
  if (kind === "run") tree.run(asRun(original), asRun(twin));
  else if (kind === "steps") {
    const steps = (answer: Answer | null) => (answer?.kind === "steps" ? answer.steps : []);
    const [one, other] = [steps(original), steps(twin)];
    for (let index = 0; index < Math.max(one.length, other.length); index++) {
      tree.value(`steps.${index}`, `step ${index + 1}`, 0, resultOf(one[index]), resultOf(other[index]));
    }
    tree.text("printed", printedOf(original), printedOf(twin));
  } else {
    const call = (answer: Answer | null) => (answer?.kind === "call" ? answer : undefined);
    const [one, other] = [call(original), call(twin)];
    const label = one?.thrown && other?.thrown ? "thrown" : "value";
    tree.value(label, label, 0, resultOf(one), resultOf(other));
    tree.called(one?.called, other?.called);
    for (let index = 0; index < Math.max(one?.args.length ?? 0, other?.args.length ?? 0); index++) {
      const before = JSON.stringify(given[index]);
      if ([one, other].every((answer) => JSON.stringify(answer?.args[index]) === before)) continue;
      const arg = (list: readonly Json[] | undefined) =>
        list && index < list.length ? fromNotation(list[index] ?? null) : null;
      tree.value(`args.${index}`, `argument ${index + 1} after the call`, 0, arg(one?.args), arg(other?.args));
    }
    tree.text("printed", printedOf(original), printedOf(twin));
  }
  return { rows: rows.slice(0, MAX_ROWS), tables: tree.tables, pictures: tree.pictures };
}

const asRun = (answer: Answer | null): RunAnswer | null => (answer?.kind === "run" ? answer : null);
const printedOf = (answer: Answer | null): string => (answer && answer.kind !== "run" ? answer.printed : "");

type Result = { readonly value?: Json; readonly thrown?: Thrown } | undefined;

function resultOf(result: Result): Value | null {
  if (!result) return null;
  if (!result.thrown) return fromNotation(result.value ?? null);
  const { kind, message } = result.thrown;
  // Shown on one line against an answer, and by kind and message against another error.
  return {
    kind: "object",
    name: THROWS,
    fields: [
      ["kind", { kind: "text", value: kind }],
      ["message", { kind: "text", value: message }],
    ],
  };
}

type Place = Pick<AlignedRow, "at" | "label" | "depth">;

class Tree {
  readonly tables: AlignedTable[] = [];
  readonly pictures: AlignedPicture[] = [];

  constructor(
    private readonly rows: AlignedRow[],
    private readonly equality: Equality,
    private readonly kinds: KindsByPath,
  ) {}

  value(at: string, label: string, depth: number, original: Value | null, twin: Value | null): void {
    if (this.rows.length > MAX_ROWS) return;
    const same = original !== null && twin !== null && this.key(original) === this.key(twin);
    const row = { at, label, depth };
    if (same) this.rows.push({ ...row, original: short(original), twin: short(twin), differs: false });
    else if (original && twin && fieldsOf(original) && fieldsOf(twin)) this.fields(row, original, twin);
    else if (original && twin && itemsOf(original) && itemsOf(twin))
      this.items(row, itemsOf(original) ?? [], itemsOf(twin) ?? []);
    else if (original?.kind === "text" && twin?.kind === "text") this.texts(row, original.value, twin.value);
    else if (original?.kind === "bytes" && twin?.kind === "bytes") this.bytes(row, original.base64, twin.base64);
    else this.rows.push({ ...row, original: original && short(original), twin: twin && short(twin), differs: true });
  }

  /** Two texts that differ: as lines where one has any, else around the place where they part. */
  private texts(row: Place, original: string, twin: string): void {
    if (original.includes("\n") || twin.includes("\n")) {
      this.text(row.at, original, twin, row);
      return;
    }
    const cut = windowOf(original, twin, MAX_TEXT);
    const shown = visiblePair(cut.original, cut.twin);
    const label = cut.from === null ? row.label : `${row.label}, from character ${cut.from.toLocaleString("en")}`;
    this.rows.push({
      ...row,
      label,
      original: JSON.stringify(shown.original),
      twin: JSON.stringify(shown.twin),
      differs: true,
    });
  }

  private bytes(row: Place, original: string, twin: string): void {
    const [one, other] = [fromBase64(original), fromBase64(twin)];
    const count = (bytes: Uint8Array) => `${bytes.length} ${bytes.length === 1 ? "byte" : "bytes"}`;
    this.rows.push({ ...row, original: count(one), twin: count(other), differs: true });
    const { lines, more } = byteLines(one, other);
    for (const line of lines)
      this.rows.push({
        at: `${row.at}.${line.at}`,
        label: `byte ${line.at}`,
        depth: row.depth + 1,
        original: line.original,
        twin: line.twin,
        differs: line.differs,
      });
    if (more > 0) {
      const text = `${more} more`;
      this.rows.push({ ...row, label: "", depth: row.depth + 1, original: text, twin: text, differs: false });
    }
  }

  private key(value: Value): string {
    return canonicalText(value, this.equality);
  }

  private fields(row: Place, original: Value, twin: Value): void {
    this.rows.push({ ...row, original: nameOf(original), twin: nameOf(twin), differs: false });
    const [one, other] = [fieldsOf(original) ?? [], fieldsOf(twin) ?? []];
    const find = (fields: typeof one, key: string) =>
      fields.find(([name]) => keyText(name, this.equality) === key)?.[1] ?? null;
    for (const [name, field] of one) {
      const label = labelOf(name);
      this.value(joinPath(row.at, label), label, row.depth + 1, field, find(other, keyText(name, this.equality)));
    }
    for (const [name, field] of other) {
      if (find(one, keyText(name, this.equality)) !== null) continue;
      const label = labelOf(name);
      this.value(joinPath(row.at, label), label, row.depth + 1, null, field);
    }
  }

  private items(row: Place, original: readonly Value[], twin: readonly Value[]): void {
    const count = (items: readonly Value[]) => `${items.length} ${items.length === 1 ? "item" : "items"}`;
    this.rows.push({ ...row, original: count(original), twin: count(twin), differs: original.length !== twin.length });
    const keys = (items: readonly Value[]) => items.map((item) => this.key(item));
    const hunks =
      original.length === twin.length
        ? original.flatMap((item, index) => {
            const partner = twin[index];
            const differs = !partner || this.key(item) !== this.key(partner);
            return differs ? [{ originalFrom: index, originalTo: index + 1, twinFrom: index, twinTo: index + 1 }] : [];
          })
        : alignItems(keys(original), keys(twin));
    let at = 0;
    for (const hunk of hunks) {
      this.folded(row, original, at, hunk.originalFrom);
      for (let step = 0; step < Math.max(hunk.originalTo - hunk.originalFrom, hunk.twinTo - hunk.twinFrom); step++) {
        const index = hunk.originalFrom + step < hunk.originalTo ? hunk.originalFrom + step : hunk.twinFrom + step;
        const one = hunk.originalFrom + step < hunk.originalTo ? original[hunk.originalFrom + step] : undefined;
        const other = hunk.twinFrom + step < hunk.twinTo ? twin[hunk.twinFrom + step] : undefined;
        this.value(`${row.at}.${index}`, String(index), row.depth + 1, one ?? null, other ?? null);
      }
      at = hunk.originalTo;
    }
    this.folded(row, original, at, original.length);
  }

  /** A run of equal items as one row. */
  private folded(row: Pick<AlignedRow, "at" | "depth">, items: readonly Value[], from: number, to: number): void {
    if (to <= from) return;
    const first = items[from];
    const label = to - from === 1 ? String(from) : `${from} to ${to - 1}`;
    const text = to - from === 1 && first ? short(first) : `${to - from} equal items`;
    this.rows.push({
      at: `${row.at}.${from}`,
      label,
      depth: row.depth + 1,
      original: text,
      twin: text,
      differs: false,
    });
  }

  /** Lines of two texts: those that differ, with some around them. */
  text(at: string, original: string, twin: string, { label, depth } = { label: at, depth: 0 }): void {
    if (original === "" && twin === "") return;
    const [one, other] = [original.split("\n"), twin.split("\n")];
    this.rows.push({
      at,
      label,
      depth,
      original: `${lineCount(original)}`,
      twin: `${lineCount(twin)}`,
      differs: original !== twin,
    });
    let shown = 0;
    for (const hunk of alignLines(original, twin)) {
      if (this.rows.length > MAX_ROWS) return;
      this.context(at, one, Math.max(shown, hunk.originalFrom - CONTEXT_LINES), hunk.originalFrom, depth);
      for (let step = 0; step < Math.max(hunk.originalTo - hunk.originalFrom, hunk.twinTo - hunk.twinFrom); step++) {
        const inOriginal = hunk.originalFrom + step < hunk.originalTo;
        const inTwin = hunk.twinFrom + step < hunk.twinTo;
        const number = (inOriginal ? hunk.originalFrom : hunk.twinFrom) + step + 1;
        const line = inOriginal ? (one[hunk.originalFrom + step] ?? "") : null;
        const otherLine = inTwin ? (other[hunk.twinFrom + step] ?? "") : null;
        const both = line !== null && otherLine !== null ? visiblePair(line, otherLine) : null;
        this.rows.push({
          at: `${at}.${number}`,
          label: String(number),
          depth: depth + 1,
          original: both?.original ?? (line === null ? null : visibleText(line)),
          twin: both?.twin ?? (otherLine === null ? null : visibleText(otherLine)),
          differs: true,
        });
      }
      shown = Math.min(one.length, hunk.originalTo + CONTEXT_LINES);
      this.context(at, one, hunk.originalTo, shown, depth);
    }
    if (original === twin) this.context(at, one, 0, Math.min(one.length, 12), depth);
  }

  private context(at: string, lines: readonly string[], from: number, to: number, depth: number): void {
    for (let index = from; index < to; index++) {
      const line = visibleText(lines[index] ?? "");
      this.rows.push({
        at: `${at}.${index + 1}`,
        label: String(index + 1),
        depth: depth + 1,
        original: line,
        twin: line,
        differs: false,
      });
    }
  }

  run(original: RunAnswer | null, twin: RunAnswer | null): void {
    const exit = (answer: RunAnswer | null) => (answer ? String(answer.exit) : null);
    this.rows.push({
      at: "exit",
      label: "exit status",
      depth: 0,
      original: exit(original),
      twin: exit(twin),
      differs: exit(original) !== exit(twin),
    });
    const stdout = { original: original?.stdout ?? "", twin: twin?.stdout ?? "" };
    this.document("stdout", "", original && twin ? stdout : null, stdout);
    const stderr = { original: original?.stderr ?? "", twin: twin?.stderr ?? "" };
    this.document("stderr", "", original && twin ? stderr : null, stderr);
    const names = [...new Set([...Object.keys(original?.files ?? {}), ...Object.keys(twin?.files ?? {})])].sort();
    for (const name of names) {
      const [one, other] = [contentOf(original?.files[name]), contentOf(twin?.files[name])];
      const both = one !== null && other !== null ? sameForm(one, other) : null;
      const texts = { original: fileText(original, name), twin: fileText(twin, name) };
      this.document(`files.${name}`, name, both, texts);
    }
    this.times(original, twin);
  }

  /** Adds a document by its kind; `texts` is its content as lines. */
  private document(at: string, name: string, both: Contents | null, texts: { original: string; twin: string }): void {
    const isSame = texts.original === texts.twin && typeof both?.original === "string";
    const shown: ShownDocument =
      both && !isSame ? showDocuments(at, both, { name, as: kindSetFor(at, this.kinds) }) : {};
    if (shown.table) this.tables.push(shown.table);
    if (shown.picture) this.pictures.push(shown.picture);
    if (shown.rows) this.rows.push(...shown.rows);
    if (shown.values) this.value(at, at, 0, shown.values.original, shown.values.twin);
    if (Object.keys(shown).length === 0) this.text(at, texts.original, texts.twin);
  }

  /** How callbacks were called; a side without a note called its callback once, which gave the answer. */
  called(original: readonly Json[] | undefined, twin: readonly Json[] | undefined): void {
    const at = (list: readonly Json[] | undefined, index: number) => {
      const call = list?.[index];
      return call === undefined ? null : fromNotation(call);
    };
    for (let index = 0; index < Math.max(original?.length ?? 0, twin?.length ?? 0); index++)
      this.value(`called.${index}`, `call ${index + 1} of the callback`, 0, at(original, index), at(twin, index));
  }

  /** The moments of the lines, where they are observed. */
  private times(original: RunAnswer | null, twin: RunAnswer | null): void {
    const [one, other] = [original?.times, twin?.times];
    if (!one && !other) return;
    const show = (times: readonly number[] | undefined, line: number) =>
      times?.[line] === undefined ? null : `${times[line]} ms`;
    for (let line = 0; line < Math.max(one?.length ?? 0, other?.length ?? 0); line++) {
      const label = line === 0 ? "line 1 came after" : `line ${line + 1}`;
      const row = { original: show(one, line), twin: show(other, line) };
      this.rows.push({ at: `times.${line + 1}`, label, depth: 0, ...row, differs: false });
    }
  }
}

const fromBase64 = (text: string): Uint8Array => Uint8Array.from(atob(text), (letter) => letter.charCodeAt(0));

type Contents = { readonly original: Content; readonly twin: Content };

function fileText(answer: RunAnswer | null, name: string): string {
  const content = contentOf(answer?.files[name]);
  if (content === null) return answer?.files[name] ? "<removed>" : "";
  return typeof content === "string" ? content : `<${content.length} bytes>`;
}

function lineCount(text: string): string {
  const count = text === "" ? 0 : text.replace(/\n$/, "").split("\n").length;
  return `${count} ${count === 1 ? "line" : "lines"}`;
}

const nameOf = (value: Value): string => (value.kind === "object" ? value.name : "");
const labelOf = (key: Value): string => (key.kind === "text" ? key.value : short(key));

function fieldsOf(value: Value): readonly (readonly [Value, Value])[] | null {
  if (value.kind === "map") return value.entries;
  if (value.kind !== "object") return null;
  return value.fields.map(([name, field]) => [{ kind: "text", value: name }, field]);
}

function itemsOf(value: Value): readonly Value[] | null {
  if (value.kind === "list" || value.kind === "tuple" || value.kind === "set") return value.items;
  return value.kind === "object" && value.items ? value.items : null;
}

/** A value on one line, cut to what fits a screen. */
function short(value: Value): string {
  const text = describe(value);
  return text.length > MAX_TEXT ? `${text.slice(0, MAX_TEXT)}…` : text;
}

function describe(value: Value): string {
  switch (value.kind) {
    case "none":
      return value.form === "null" ? "null" : value.form;
    case "text":
      return JSON.stringify(visibleText(value.value));
    case "int":
      return value.value.toString();
    case "float":
      return Object.is(value.value, -0)
        ? "-0.0"
        : Number.isInteger(value.value) && Math.abs(value.value) < 1e16
          ? `${value.value}.0`
          : String(value.value);
    case "decimal":
    case "date":
    case "time":
    case "opaque":
      return value.text;
    case "object":
      if (value.name === THROWS)
        return `throws ${value.fields.map(([, field]) => (field.kind === "text" ? field.value : "")).join(": ")}`;
      return `${value.name} ${JSON.stringify(Object.fromEntries(value.fields.map(([name, field]) => [name, toNotation(field)])))}`;
    default:
      return JSON.stringify(toNotation(value));
  }
}
