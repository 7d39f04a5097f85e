/** The copy of one source that is compiled: the text with what registers its names, without what does not compile. */

import type { CargoError } from "@/engine/drivers/rust/cargo-errors";
import { type Extent, type RustFunction, type RustModule, readModule } from "@/engine/drivers/rust/declarations";
import { entriesOf } from "@/engine/drivers/rust/registration";
import { type loadParser, probeSource } from "@/engine/source/parse";

const NOTHING: RustModule = { functions: [], types: [], statics: "none", children: [], inner: [], end: 0, items: [] };

type Parse = Awaited<ReturnType<typeof loadParser>>;
type Span = { readonly from: number; readonly to: number; readonly key: string };

/** Offsets refer to the original text; parts left out become blanks, so that line numbers stay. */
export class SourceCopy {
  readonly module: RustModule;
  /** Why nothing of the file could be compiled; null where some of it could. */
  complaint: string | null = null;
  readonly refused = new Map<string, string>();
  readonly lent = new Set<string>();
  /** Bodies and items that are left out. */
  private readonly bodies = new Map<string, Extent>();
  private readonly items = new Map<string, Extent>();
  private readonly source: string;
  private spans: Span[] = [];
  private last = "";
  /** Offsets at which text was added, with its length, ascending. */
  private added: { readonly at: number; readonly length: number }[] = [];

  /** With `probes`, each statement is instrumented and its place appended to them. */
  constructor(
    readonly file: string,
    private readonly given: string,
    parse: Parse,
    private readonly probes: { file: string; line: number }[] | null,
  ) {
    this.source = probes ? probed({ file, text: given, parse, probes }) : given;
    const tree = parse(this.source, "rust");
    this.module = tree ? readModule(tree.root, this.source.length) : NOTHING;
    tree?.free();
  }

  /** A copy without probes, for an error in the person's own text; null where this one has none. */
  withoutProbes(error: CargoError, parse: Parse): SourceCopy | null {
    const offset = this.offsetOf(error);
    const isAdded = this.spans.some(({ from, to }) => offset >= from && offset < to);
    return this.probes === null || isAdded ? null : new SourceCopy(this.file, this.given, parse, null);
  }

  /** The text to compile. */
  text(): string {
    this.spans = [];
    this.added = [];
    if (this.complaint !== null) {
      this.last = `pub mod zz_side_twin_names { pub fn register(r: &mut ::zz_side_twin::Registry) {} }`;
      return this.last;
    }
    let kept = this.source;
    for (const { from, to } of this.items.values())
      kept = kept.slice(0, from) + blank(kept.slice(from, to)) + kept.slice(to);
    for (const { from, to } of this.bodies.values()) {
      const made = stub(kept.slice(from, to));
      if (made !== null) kept = kept.slice(0, from) + made + kept.slice(to);
    }
    const additions = additionsOf(this.module, "").sort((left, right) => left.at - right.at);
    let text = "";
    let done = 0;
    for (const { at, module, scope } of additions) {
      text += kept.slice(done, at);
      done = at;
      const before = text.length;
      text += scope === "" ? "\n" : " ";
      for (const { key, text: entry } of entriesOf(module, this.file, scope, this)) {
        const from = text.length;
        text += `${entry}${scope === "" ? "\n" : " "}`;
        if (key !== "") this.spans.push({ from, to: text.length, key });
      }
      this.added.push({ at: before, length: text.length - before });
    }
    this.last = text + kept.slice(done);
    return this.last;
  }

  /** Leaves out what an error is about; false where it is out already, or is not known. */
  leaveOut(error: CargoError): boolean {
    if (this.complaint !== null) return false;
    const offset = this.offsetOf(error);
    const span = this.spans.find(({ from, to }) => offset >= from && offset < to);
    if (span) {
      if (this.refused.has(span.key)) return false;
      if (!this.lent.has(span.key)) {
        this.lent.add(span.key);
        return true;
      }
      this.refused.set(span.key, error.what);
      return true;
    }
    const own = this.ownOffset(offset);
    const what = `${this.file}:${error.line}: ${error.what}`;
    const found = functionAt(this.module, own, "");
    if (found && !this.bodies.has(found.key)) {
      this.refused.set(found.key, what);
      this.bodies.set(found.key, found.made.body);
      return true;
    }
    if (found && !this.items.has(found.key)) {
      this.bodies.delete(found.key);
      this.items.set(found.key, found.made.item);
      return true;
    }
    const item = itemAt(this.module, own);
    if (item && !this.items.has(String(item.from))) {
      this.items.set(String(item.from), item);
      this.refuseWithin(this.module, item, what, "");
      return true;
    }
    this.complaint = what;
    return true;
  }

  private refuseWithin(module: RustModule, item: Extent, what: string, scope: string): void {
    for (const made of module.functions)
      if (made.item.from >= item.from && made.item.to <= item.to) this.refused.set(`${scope}${made.name}`, what);
    for (const { name, module: inner } of module.inner) this.refuseWithin(inner, item, what, `${scope}${name}::`);
  }

  private offsetOf({ line, column }: CargoError): number {
    let at = 0;
    for (let row = 1; row < line; row++) at = this.last.indexOf("\n", at) + 1;
    for (let letter = 1; letter < column; letter++) at += (this.last.codePointAt(at) ?? 0) > 0xffff ? 2 : 1;
    return at;
  }

  /** An offset of the copy as one of the person's text, which differ by what was added before it. */
  private ownOffset(offset: number): number {
    return this.added.reduce((own, { at, length }) => (offset >= at + length ? own - length : own), offset);
  }
}

function probed(terms: {
  readonly file: string;
  readonly text: string;
  readonly parse: Parse;
  readonly probes: { file: string; line: number }[];
}): string {
  const { file, text, parse, probes } = terms;
  const tree = parse(text, "rust");
  const first = probes.length;
  const made = tree && probeSource(tree.root, text, "rust", (index) => `::zz_side_twin::hit(${first + index});`);
  tree?.free();
  for (const line of made?.lines ?? []) probes.push({ file, line });
  return made?.text ?? text;
}

/** Text of the same lines. */
const blank = (text: string): string => text.replace(/[^\n]/g, " ");

const ENDS = "panic!()";

/** A body of the same lines and length that ends the call; null where it is too short for one. */
function stub(text: string): string | null {
  const lines = blank(text.slice(1, -1)).split("\n");
  const longest = lines.reduce((best, line, at) => (line.length > (lines[best]?.length ?? 0) ? at : best), 0);
  if ((lines[longest]?.length ?? 0) < ENDS.length) return null;
  return `{${lines.map((line, at) => (at === longest ? ENDS.padEnd(line.length) : line)).join("\n")}}`;
}

type Addition = { readonly at: number; readonly module: RustModule; readonly scope: string };

const additionsOf = (module: RustModule, scope: string): Addition[] => [
  { at: module.end, module, scope },
  ...module.inner.flatMap(({ name, module: inner }) => additionsOf(inner, `${scope}${name}::`)),
];

function functionAt(module: RustModule, at: number, scope: string): { made: RustFunction; key: string } | null {
  const made = module.functions.find(({ item }) => at >= item.from && at < item.to);
  if (made) return { made, key: `${scope}${made.name}` };
  for (const { name, module: inner } of module.inner) {
    const found = functionAt(inner, at, `${scope}${name}::`);
    if (found) return found;
  }
  return null;
}

function itemAt(module: RustModule, at: number): Extent | null {
  for (const { module: inner } of module.inner) {
    const found = itemAt(inner, at);
    if (found) return found;
  }
  return module.items.find(({ from, to }) => at >= from && at < to) ?? null;
}
