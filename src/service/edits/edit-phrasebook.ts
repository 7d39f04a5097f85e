/** Changes to a file of phrases, in place: what a person wrote, its order and its layout stay as they are. */
import { existsSync } from "node:fs";
import path from "node:path";
import { applyEdits, type JSONPath, modify } from "jsonc-parser";
import { SideTwinError } from "@/core/errors";
import { type Phrase, parsePhrasebook } from "@/core/formats/phrasebook";
import { readText } from "@/engine/files/text";
import { editFile } from "@/engine/files/write";
import { editPortFile } from "@/service/port/edit-port-file";
import type { OpenPort } from "@/service/port/open-port";

const EMPTY = `${JSON.stringify({ format: "side-twin/phrasebook", version: 1, phrases: [] }, null, 2)}\n`;
const DEFAULT_FILE = "phrases.json";
const TRIAL = "(new phrase)";

/** Adds a phrase at the end of the last file of phrases; makes one where the port has none. Throws SideTwinError. */
export async function addPhrase(open: OpenPort, phrase: Readonly<Record<string, unknown>>): Promise<void> {
  const name = open.port.phrasebook.at(-1) ?? DEFAULT_FILE;
  await edit(path.resolve(open.folder, name), name, (text) => {
    const { phrases } = parsePhrasebook(text, name);
    const id = freeId(
      typeof phrase.id === "string" ? phrase.id : "phrase",
      phrases.map((entry) => entry.id),
    );
    return { at: ["phrases", phrases.length], value: { ...phrase, id } };
  });
  if (open.port.phrasebook.length === 0)
    await editPortFile(open.file, () => [{ path: ["phrasebook"], value: [DEFAULT_FILE] }]);
}

/** Adds an exception to a phrase. Throws SideTwinError `not-found` where no file of the port has it. */
export async function exceptPlace(
  open: OpenPort,
  wanted: { readonly phrase: string; readonly file: string; readonly text?: string | undefined; readonly why: string },
): Promise<void> {
  for (const name of open.port.phrasebook) {
    const file = path.resolve(open.folder, name);
    if (!existsSync(file)) continue;
    const found = parsePhrasebook(await readText(file), name).phrases.some(({ id }) => id === wanted.phrase);
    if (!found) continue;
    await edit(file, name, (text) => {
      const { phrases } = parsePhrasebook(text, name);
      const index = phrases.findIndex(({ id }) => id === wanted.phrase);
      const { phrase: _id, ...value } = wanted;
      const { except = [] } = phrases[index] ?? {};
      return except.length === 0
        ? { at: ["phrases", index, "except"], value: [value] }
        : { at: ["phrases", index, "except", except.length], value };
    });
    return;
  }
  throw new SideTwinError({
    code: "not-found",
    what: `There is no phrase "${wanted.phrase}"`,
    next: "It may have been taken out of its file.",
  });
}

/**
 * Returns the phrase as a file of its own, under an unused id. Throws SideTwinError `bad-input` for an incomplete or
 * invalid phrase.
 */
export function readTrial(phrase: Readonly<Record<string, unknown>>): Phrase {
  const book = { format: "side-twin/phrasebook", version: 1, phrases: [{ ...phrase, id: TRIAL }] };
  const read = parsePhrasebook(JSON.stringify(book), "the phrase").phrases[0];
  if (!read) throw new Error("a book of one phrase has one");
  return read;
}

async function edit(
  file: string,
  name: string,
  decide: (text: string) => { readonly at: JSONPath; readonly value: unknown },
): Promise<void> {
  await editFile(file, (before) => {
    const text = before ?? EMPTY;
    const { at, value } = decide(text);
    const formattingOptions = { insertSpaces: true, tabSize: 2, eol: text.includes("\r\n") ? "\r\n" : "\n" };
    const isItem = typeof at.at(-1) === "number";
    const after = applyEdits(text, modify(text, at, value, { formattingOptions, isArrayInsertion: isItem }));
    // Validate what is written, since it is read again.
    parsePhrasebook(after, name);
    return after;
  });
}

function freeId(wanted: string, taken: readonly string[]): string {
  if (!taken.includes(wanted)) return wanted;
  for (let number = 2; ; number++) if (!taken.includes(`${wanted}-${number}`)) return `${wanted}-${number}`;
}
