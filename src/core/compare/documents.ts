/** What kind of document a text is, found out from the text and its name; each kind is compared by its own parts. */
import { compareText } from "@/core/compare/text";
import type { Trial } from "@/core/compare/trial";
import { compareValues } from "@/core/compare/values";
import type { Json } from "@/core/formats/json";
import { fromNotation, type Value } from "@/core/values/value";

export type DocumentKind = "text" | "json";

/** Compares two documents, by path when both are JSON, else line by line. `as` sets the kind. */
export function compareDocuments(
  trial: Trial,
  at: string,
  texts: { original: string; twin: string },
  as?: DocumentKind,
): DocumentKind {
  if (texts.original === texts.twin) return as ?? "text";
  if (as !== "text") {
    const [original, twin] = [parseJsonDocument(texts.original), parseJsonDocument(texts.twin)];
    if (original !== undefined && twin !== undefined) {
      compareValues(trial, at, original, twin);
      return "json";
    }
  }
  compareText(trial, at, texts.original, texts.twin);
  return "text";
}

/** A JSON document as a value, when it is an object or a list (a lone number on a line is a text); its keys are plain data, so a `~` key is not read as notation. */
export function parseJsonDocument(text: string): Value | undefined {
  const start = text.trimStart()[0];
  if (start !== "{" && start !== "[") return undefined;
  try {
    return plainValue(JSON.parse(text) as Json);
  } catch {
    // Not JSON after all: the caller compares it as text.
    return undefined;
  }
}

function plainValue(json: Json): Value {
  if (typeof json !== "object" || json === null) return fromNotation(json);
  if (Array.isArray(json)) return { kind: "list", items: json.map(plainValue) };
  return {
    kind: "map",
    plain: true,
    entries: Object.entries(json).map(([key, item]) => [{ kind: "text", value: key }, plainValue(item)]),
  };
}
