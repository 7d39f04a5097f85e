/** Edits of lines of a twin's file, made on the Bench: only these lines change, and concurrent changes are kept. */
import { createHash } from "node:crypto";
import { readFile } from "node:fs/promises";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import type { PortModule } from "@/core/pairing/modules";
import { targetFileOf } from "@/core/pairing/target-file";
import { Snapshots } from "@/engine/snapshots/snapshots";
import { type OpenPort, twinsFor } from "@/service/port/open-port";

/** A file's text with line feeds, and its fingerprint. */
export type SourceText = { readonly text: string; readonly hash: string };

/** Lines from `from` to `to` get the text; `to` is `from - 1` where lines are put in before `from`. */
export type SourceEdit = {
  readonly twin: string;
  readonly file: string;
  readonly from: number;
  readonly to: number;
  readonly text: string;
  /** Of the text that the edit was worked out from. */
  readonly hash: string;
};

/** Saved under a snapshot, or not since the file is another by now. */
export type SourceSaved =
  | {
      readonly state: "saved";
      readonly hash: string;
      readonly snapshot: string | null;
      /** The whole text before and after. */
      readonly before: string;
      readonly after: string;
    }
  | { readonly state: "changed"; readonly now: SourceText };

/** A file of the twin as it is on disk; empty where it is not there yet. Throws SideTwinError. */
export async function readSource(open: OpenPort, twin: string, file: string): Promise<SourceText> {
  return toText(await bytesOf(fullPath(open, twin, file)));
}

/**
 * Writes the lines with a snapshot; line ends, encoding, mode and what follows the last line stay as they are. Throws SideTwinError for a
 * file that is none of the twin's, and for text that its encoding cannot hold.
 */
export async function saveSource(open: OpenPort, edit: SourceEdit, data: string): Promise<SourceSaved> {
  const full = fullPath(open, edit.twin, edit.file);
  const before = await bytesOf(full);
  const now = toText(before);
  if (now.hash !== edit.hash) return { state: "changed", now };
  const { encoding, eol } = formOf(before);
  const lines = now.text.split("\n");
  if (edit.from < 1 || edit.from > lines.length + 1 || edit.to < edit.from - 1 || edit.to > lines.length)
    throw new SideTwinError({
      code: "bad-input",
      what: `${edit.file} has ${lines.length} lines, not ${edit.from} to ${edit.to}`,
      next: "Reload the page.",
    });
  const own = edit.text === "" ? [] : edit.text.replace(/\n$/, "").split(/\r\n|\n/);
  const text = [...lines.slice(0, edit.from - 1), ...own, ...lines.slice(edit.to)].join(eol);
  const after = encode(text, encoding, edit.file);
  if (before.equals(after))
    return { state: "saved", hash: now.hash, snapshot: null, before: now.text, after: now.text };
  const [twin] = twinsFor(open, edit.twin);
  const { id } = Snapshots.open(data, open.file).change(
    twin.folder,
    `lines ${edit.from} to ${Math.max(edit.from, edit.to)} of ${edit.file}, by hand`,
    [{ file: edit.file, content: after }],
    new Map([[edit.file, before]]),
  );
  return { state: "saved", hash: hashOf(after), snapshot: id, before: now.text, after: toText(after).text };
}

/** A source of the twin, or the file that a module's is to be. */
function fullPath(open: OpenPort, name: string, file: string): string {
  const [twin] = twinsFor(open, name);
  const isOwn =
    twin.files.includes(file) ||
    open.modules.some((module) => module.twins[twin.name]?.includes(file) || isExpected(open, twin, module, file));
  if (isOwn) return path.join(twin.folder, file);
  throw new SideTwinError({
    code: "not-found",
    what: `${file} is no file of the twin ${name}`,
    next: "Reload the page.",
  });
}

/** Whether the file is where a module of the original would be ported to. */
const isExpected = (open: OpenPort, twin: OpenPort["twins"][number], module: PortModule, file: string): boolean =>
  module.original.some(
    (original) =>
      targetFileOf(original, {
        moduleMap: open.port.moduleMap,
        language: twin.language,
        files: twin.files,
        original: module.original,
        own: module.twins[twin.name] ?? [],
      }) === file,
  );

const bytesOf = (full: string): Promise<Buffer> => readFile(full).catch(() => Buffer.alloc(0));
const hashOf = (bytes: Buffer): string => createHash("sha256").update(bytes).digest("hex").slice(0, 32);

type Form = { readonly encoding: "utf8" | "latin1"; readonly eol: string };

/** Bytes that are not UTF-8 are kept one by one; line ends are those of the first line. */
function formOf(bytes: Buffer): Form {
  const isUtf8 = Buffer.from(bytes.toString("utf8")).equals(bytes);
  return { encoding: isUtf8 ? "utf8" : "latin1", eol: /^[^\n]*\r\n/.test(bytes.toString("latin1")) ? "\r\n" : "\n" };
}

function toText(bytes: Buffer): SourceText {
  const { encoding, eol } = formOf(bytes);
  const text = bytes.toString(encoding);
  return { text: eol === "\n" ? text : text.replaceAll("\r\n", "\n"), hash: hashOf(bytes) };
}

function encode(text: string, encoding: Form["encoding"], file: string): Buffer {
  const bytes = Buffer.from(text, encoding);
  if (bytes.toString(encoding) === text) return bytes;
  throw new SideTwinError({
    code: "bad-input",
    what: `${file} is not UTF-8, and its encoding cannot hold all of this text`,
    next: "Save the file as UTF-8 first.",
  });
}
