/** Joint imports of Python of which a phrase moves some names and keeps others. */
import type { Node } from "web-tree-sitter";
import type { Phrase } from "@/core/formats/phrasebook";
import { importsOf } from "@/core/phrasebook/imports";
import { isKept, type NameMatch } from "@/core/phrasebook/match-lines";
import type { Range } from "@/core/phrasebook/syntax";

/** A statement, and the two that take its place. */
export type SplitImport = Range & { readonly text: string };

/** `from a import b, c` names `a.b` and `a.c`: whether `keep` holds all, some or none of them. */
export function pythonKeeps(phrase: Phrase, name: NameMatch, root: Node, source: string): "all" | "some" | "no" {
  const names = importedFrom(name, root, source);
  if (!names) return "no";
  const kept = names.filter((entry) => isKept(`${name.full}.${entry}`, phrase.keep));
  return kept.length === 0 ? "no" : kept.length === names.length ? "all" : "some";
}

function importedFrom(name: NameMatch, root: Node, source: string): string[] | null {
  const statement = importsOf(root, source, "python").find(({ from, to }) => from <= name.from && name.to <= to);
  return statement &&
    statement.form.module !== "" &&
    /^from\b/.test(source.slice(statement.from)) &&
    name.from - statement.from < 40 + statement.form.module.length
    ? (statement.form.names ?? []).map((entry) => entry.name)
    : null;
}

/** A joint import of which some stays becomes two. */
export function splitImport(phrase: Phrase, name: NameMatch, root: Node, source: string): SplitImport | null {
  const statement = importsOf(root, source, "python").find(({ from, to }) => from <= name.from && name.to <= to);
  if (!statement) return null;
  const show = (names: readonly { name: string; local: string }[], module: string) =>
    `from ${module} import ${names.map((entry) => (entry.name === entry.local ? entry.name : `${entry.name} as ${entry.local}`)).join(", ")}`;
  const all = statement.form.names ?? [];
  const stays = all.filter((entry) => isKept(`${name.full}.${entry.name}`, phrase.keep));
  const moves = all.filter((entry) => !stays.includes(entry));
  const moved = phrase.to + name.full.slice(phrase.from.length);
  return {
    from: statement.from,
    to: statement.to,
    text: `${show(stays, name.full)}\n${show(moves, moved)}`,
  };
}
