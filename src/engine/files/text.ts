/** Text files as UTF-8. Bytes that are not UTF-8 are refused with their line, instead of being replaced silently. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { SideTwinError } from "@/core/errors";

/** Throws SideTwinError `not-readable`, or `bad-input` for a file that is not UTF-8. */
export async function readText(file: string): Promise<string> {
  const bytes = await readFile(file).catch((cause) => {
    throw new SideTwinError({ code: "not-readable", what: `${file} cannot be read: ${cause.message}` }, cause);
  });
  return decodeText(bytes, file);
}

/** An editor that writes in place leaves an empty or half a file for a moment: only what is still so after this is refused. */
export const HALF_WRITTEN_MS = 100;

/** Reads and parses a file. Throws as `readText` does, and whatever `parse` throws for a stable text. */
export async function readParsed<T>(file: string, parse: (text: string) => T): Promise<T> {
  let text = await readText(file);
  for (;;) {
    try {
      return parse(text);
    } catch (error) {
      await sleep(HALF_WRITTEN_MS);
      const now = await readText(file);
      if (now === text) throw error;
      text = now;
    }
  }
}

/** Keeps a byte-order mark. Throws SideTwinError `bad-input` with the line of the first byte that is not UTF-8. */
export function decodeText(bytes: Buffer, file: string): string {
  try {
    return new TextDecoder("utf-8", { fatal: true, ignoreBOM: true }).decode(bytes);
  } catch (cause) {
    throw new SideTwinError(
      {
        code: "bad-input",
        what: "The file is not UTF-8",
        where: { file: path.basename(file), line: firstBadLine(bytes) },
        next: "Save it as UTF-8.",
      },
      cause,
    );
  }
}

/**
 * Decodes a tool's output: UTF-16 by its byte-order mark, else UTF-8; a line that is not UTF-8 is read as Latin-1.
 */
export function decodeOutput(bytes: Buffer): string {
  const isUtf16 = bytes.length > 1 && bytes.includes(0) && [0xfffe, 0xfeff].includes(bytes.readUInt16BE(0));
  if (isUtf16) return new TextDecoder(bytes[0] === 0xff ? "utf-16le" : "utf-16be").decode(bytes);
  const text = bytes.toString("utf8");
  if (!text.includes("\ufffd")) return text;
  // Cut after each line feed: no character of UTF-8 contains that byte.
  const lines = bytes.toString("latin1").split(/(?<=\n)/);
  return lines
    .map((line) => {
      const raw = Buffer.from(line, "latin1");
      const read = raw.toString("utf8");
      return Buffer.from(read).equals(raw) ? read : line;
    })
    .join("");
}

function firstBadLine(bytes: Buffer): number {
  let line = 1;
  let start = 0;
  for (let end = bytes.indexOf(10); ; end = bytes.indexOf(10, start)) {
    const part = bytes.subarray(start, end === -1 ? bytes.length : end);
    if (!Buffer.from(part.toString("utf8")).equals(part) || end === -1) return line;
    line++;
    start = end + 1;
  }
}
