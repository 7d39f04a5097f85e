/**
 * Text → a parsed contract, or an error that names file, line, key and what to do.
 * JSON is parsed with positions (jsonc-parser, comments refused) so that a schema issue can be shown at its line.
 */
import {
  findNodeAtLocation,
  type Node,
  type ParseError,
  parseTree,
  printParseErrorCode,
  stripComments,
} from "jsonc-parser";
import type { z } from "zod";
import { type Place, SideTwinError } from "@/core/errors";
import { refuseDeep } from "@/core/formats/nesting";

/** Largest contract file that is read, in UTF-16 code units; larger ones are refused before parsing. */
const MAX_DOCUMENT_LENGTH = 64 * 1024 * 1024;

/**
 * Parses one JSON document against a strict schema; `comments` allows those of JavaScript.
 * Throws SideTwinError: `bad-input` for malformed text, unknown keys and wrong types, `newer-version` for a later format.
 */
export function parseDocument<T>(
  text: string,
  schema: z.ZodType<T>,
  options: { file: string; format: string; comments?: boolean },
): T {
  const { file, format } = options;
  const written = text.startsWith("\uFEFF") ? text.slice(1) : text;
  // Blanks in their place keep every line and column.
  const source = options.comments ? stripComments(written, " ") : written;
  if (source.trim() === "") {
    throw new SideTwinError({
      code: "bad-input",
      what: "The file is empty",
      where: { file },
      next: `Write a JSON object with "format": "${format}", or choose another file.`,
    });
  }
  if (source.length > MAX_DOCUMENT_LENGTH) {
    throw new SideTwinError({
      code: "bad-input",
      what: `The file has ${source.length} characters; at most ${MAX_DOCUMENT_LENGTH} are read`,
      where: { file },
      next: "Split it.",
    });
  }
  refuseDeep(source, { file });
  const parsed = parseJson(source, file, options.comments ?? false);
  refuseNewerVersion(parsed.value, { file, format, source, root: parsed.root });
  const result = schema.safeParse(parsed.value);
  if (result.success) return result.data;
  throw issueToError(firstIssue(result.error.issues), parsed.value, (path) =>
    placeOf(path, { file, source, root: parsed.root }),
  );
}

type Located = { readonly value: unknown; readonly root: Node };

function parseJson(source: string, file: string, areCommentsAllowed: boolean): Located {
  const errors: ParseError[] = [];
  const root = parseTree(source, errors, { disallowComments: true, allowTrailingComma: false });
  const first = errors[0];
  if (first || !root) {
    const offset = first?.offset ?? 0;
    const { line, column } = lineAndColumn(source, offset);
    throw new SideTwinError({
      code: "bad-input",
      what: `Not JSON: ${first ? words(printParseErrorCode(first.error)) : "no value"}`,
      where: { file, line, column },
      next: `Fix the JSON there; ${areCommentsAllowed ? "" : "comments and "}trailing commas are not allowed.`,
    });
  }
  const duplicate = findDuplicateKey(root);
  if (duplicate) {
    throw new SideTwinError({
      code: "bad-input",
      what: `The key "${duplicate.value}" is given twice`,
      where: { file, ...lineAndColumn(source, duplicate.offset) },
      next: "Remove one of them.",
    });
  }
  // The platform's own parser gives exact numbers and no prototype surprises; the tree only locates.
  return { value: JSON.parse(source), root };
}

function findDuplicateKey(node: Node): Node | null {
  const seen = new Set<unknown>();
  for (const child of node.children ?? []) {
    if (node.type === "object") {
      const key = child.children?.[0];
      if (key) {
        if (seen.has(key.value)) return key;
        seen.add(key.value);
      }
    }
    const below = findDuplicateKey(child);
    if (below) return below;
  }
  return null;
}

type Where = { readonly file: string; readonly source: string; readonly root: Node };

function refuseNewerVersion(value: unknown, at: Where & { format: string }): void {
  if (typeof value !== "object" || value === null || !("version" in value)) return;
  const version = value.version;
  if (typeof version === "number" && version > 1) {
    throw new SideTwinError({
      code: "newer-version",
      what: `Version ${version} of ${at.format} is newer than this Side Twin reads (1)`,
      where: placeOf(["version"], at),
      next: "Update Side Twin, or save the file in version 1.",
    });
  }
}

function placeOf(path: readonly PropertyKey[], at: Where): Place {
  const keys = path.map((part) => (typeof part === "number" ? part : String(part)));
  let node: Node | undefined;
  // A missing key has no node of its own: the nearest enclosing value is shown instead.
  for (let length = keys.length; length >= 0 && !node; length--) {
    const found = findNodeAtLocation(at.root, keys.slice(0, length));
    node = found?.parent?.type === "property" && length === keys.length ? found.parent : found;
  }
  const key = formatKeyPath(keys);
  return { file: at.file, ...lineAndColumn(at.source, node?.offset ?? 0), ...(key ? { key } : {}) };
}

/** A Zod issue as our error record. `locate` turns a key path into a place. */
export function issueToError(
  issue: z.core.$ZodIssue | undefined,
  input: unknown,
  locate: (path: readonly PropertyKey[]) => Place,
): SideTwinError {
  if (!issue) return new SideTwinError({ code: "bad-input", what: "Not readable", where: locate([]) });
  const deepest = deepestIssue(issue);
  if (deepest.code === "unrecognized_keys") {
    const key = deepest.keys[0] ?? "";
    const path = [...deepest.path, key];
    return new SideTwinError({
      code: "bad-input",
      what: `Unknown key "${key}"`,
      where: locate(path),
      next: "Rename or remove it.",
    });
  }
  const missing = deepest.code === "invalid_type" && valueAt(input, deepest.path) === undefined;
  const key = formatKeyPath(deepest.path.map((part) => (typeof part === "number" ? part : String(part))));
  return new SideTwinError({
    code: "bad-input",
    what: missing ? `"${key}" is missing` : deepest.message,
    where: locate(deepest.path),
    next: missing ? "Add it." : "See docs/formats.md for what is allowed here.",
  });
}

/** A misspelt key is reported twice, as unknown and as missing; the unknown one names the actual text. */
export const firstIssue = (issues: readonly z.core.$ZodIssue[]): z.core.$ZodIssue | undefined =>
  issues.find((issue) => issue.code === "unrecognized_keys") ?? issues[0];

/** Unions report one issue with branches inside; the branch that got furthest is the relevant one. */
function deepestIssue(issue: z.core.$ZodIssue): z.core.$ZodIssue {
  if (issue.code !== "invalid_union") return issue;
  let best: z.core.$ZodIssue = issue;
  for (const branch of issue.errors) {
    for (const inner of branch) {
      const deep = deepestIssue(inner);
      const full = { ...deep, path: [...issue.path, ...deep.path] } as z.core.$ZodIssue; // same variant, longer path
      const unknownKey = full.code === "unrecognized_keys" && best.code !== "unrecognized_keys";
      if (full.path.length > best.path.length || (full.path.length === best.path.length && unknownKey)) best = full;
    }
  }
  return best;
}

function valueAt(input: unknown, path: readonly PropertyKey[]): unknown {
  let value: unknown = input;
  for (const part of path) {
    if (typeof value !== "object" || value === null) return undefined;
    value = (value as Record<PropertyKey, unknown>)[part]; // any object can be read by key
  }
  return value;
}

function formatKeyPath(path: readonly (string | number)[]): string {
  return path.join(".");
}

function lineAndColumn(source: string, offset: number): { line: number; column: number } {
  let line = 1;
  let start = 0;
  for (let at = source.indexOf("\n"); at !== -1 && at < offset; at = source.indexOf("\n", at + 1)) {
    line++;
    start = at + 1;
  }
  return { line, column: offset - start + 1 };
}

function words(name: string): string {
  return name.replace(/([a-z])([A-Z])/g, (_all, before: string, after: string) => `${before} ${after.toLowerCase()}`);
}
