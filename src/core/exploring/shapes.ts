/** The records that a piece of code takes apart: which fields it asks a parameter for, as far as the text shows it. */
import { escapePattern } from "@/core/values/escape-pattern";

/** Fields with the shapes of those that are records themselves; `isList` for a list of such records. */
export type Shape = { readonly fields: ReadonlyMap<string, Shape | null>; readonly isList: boolean };

const MAX_DEPTH = 3;
const MAX_FIELDS = 40;
/** Longer code is looked through for fields, not for fields of fields: that takes as many passes as there are fields. */
const MAX_LENGTH = 40_000;

/** Members of strings, lists and functions, which say nothing about a record's fields. */
const OWN = /^(length|size|constructor|prototype|call|apply|bind|toString|then|__\w+)$/;

/** The shape of a variable; null where the code asks it for no field. Cost: a few passes over the code a level. */
export function shapeOf(code: string, variable: string, depth = 0): Shape | null {
  if (depth >= MAX_DEPTH || (depth > 0 && code.length > MAX_LENGTH)) return null;
  const names = aliasesOf(code, variable);
  const own = fieldsOf(code, names, depth);
  if (own.size > 0) return { fields: own, isList: false };
  const items = itemsOf(code, names);
  if (items.length === 0) return null;
  const fields = fieldsOf(code, items, depth);
  return fields.size > 0 ? { fields, isList: true } : null;
}

/** The variable, and those that are copies of it or it with a default. */
function aliasesOf(code: string, variable: string): string[] {
  const it = boundary(variable);
  const copied = new RegExp(
    `(?:const|let|var)?\\s*\\b([A-Za-z_$][\\w$]*)\\s*=\\s*(?:\\{\\s*\\.{3}${escapePattern(variable)}(?![\\w$])|Object\\.assign\\(\\{\\},\\s*${it}|${it}\\s*(?:\\|\\||\\?\\?|or)\\s*\\{|dict\\(${it}\\)|${it}\\s*(?:;|\\n|$))`,
    "g",
  );
  return [...new Set([variable, ...[...code.matchAll(copied)].map(([, name = ""]) => name)])].slice(0, 4);
}

/** The variables that hold one item of a list. */
function itemsOf(code: string, names: readonly string[]): string[] {
  const it = `(?:${names.map(boundary).join("|")})`;
  const loops = new RegExp(
    `\\bfor\\s*\\(?\\s*(?:const |let |var )?\\s*([A-Za-z_$][\\w$]*)\\s+(?:of|in)\\s+${it}(?!\\s*[.([])|${it}\\s*\\.(?:map|filter|forEach|some|every|find|flatMap|findIndex|sort|reduce)\\(\\s*(?:async\\s*)?\\(?\\s*(?:[A-Za-z_$][\\w$]*,\\s*)?([A-Za-z_$][\\w$]*)`,
    "g",
  );
  const first = new RegExp(`\\b([A-Za-z_$][\\w$]*)\\s*=\\s*${it}\\[\\w+\\]`, "g");
  return [
    ...new Set([
      ...[...code.matchAll(loops)].map(([, looped, mapped]) => looped ?? mapped ?? ""),
      ...[...code.matchAll(first)].map(([, name = ""]) => name),
    ]),
  ].filter(Boolean);
}

function fieldsOf(code: string, names: readonly string[], depth: number): Map<string, Shape | null> {
  const it = `(?:${names.map(boundary).join("|")})`;
  const found = new Set<string>();
  const asked = [
    // A call is one of what texts and lists can do.
    new RegExp(`${it}(?:\\?)?\\.([A-Za-z_$][\\w$]*)(?![\\w$]*\\s*\\()`, "g"),
    new RegExp(`${it}(?:\\?\\.)?\\[\\s*["']([^"'\\n]{1,30})["']\\s*\\]`, "g"),
    new RegExp(`${it}\\.(?:get|pop|setdefault)\\(\\s*["']([^"'\\n]{1,30})["']`, "g"),
    new RegExp(`["']([^"'\\n]{1,30})["'] (?:not )?in ${it}(?![\\w$.])`, "g"),
  ];
  for (const pattern of asked) for (const [, name = ""] of code.matchAll(pattern)) found.add(name);
  const apart = new RegExp(`\\{([^{}]*)\\}\\s*=\\s*${it}(?![\\w$.([])`, "g");
  for (const [, inner = ""] of code.matchAll(apart))
    for (const part of inner.split(",")) found.add(/^\s*([A-Za-z_$][\w$]*)/.exec(part)?.[1] ?? "");
  const wanted = [...found].filter((name) => name !== "" && !OWN.test(name)).slice(0, MAX_FIELDS);
  return new Map(
    wanted.map((name) => [name, names[0] === undefined ? null : shapeOf(code, `${names[0]}.${name}`, depth + 1)]),
  );
}

/** A pattern for a variable, or a field of one, that is not a part of a longer name. */
const boundary = (name: string): string => `(?<![\\w$.])${escapePattern(name)}(?![\\w$])`;
