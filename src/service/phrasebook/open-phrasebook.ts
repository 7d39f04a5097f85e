/** The phrases of a port and one of its twins, in the order of their files. */
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import { type Phrase, parsePhrasebook, type Scale } from "@/core/formats/phrasebook";
import { readText } from "@/engine/files/text";
import type { OpenPort } from "@/service/port/open-port";

export type OpenPhrasebook = {
  readonly phrases: readonly Phrase[];
  readonly scales: Readonly<Record<string, Scale>>;
  /** Id of a phrase → the file that has it. */
  readonly files: ReadonlyMap<string, string>;
};

/**
 * Reads the files that the port names; `drafts` takes the phrases for drafts in place of those for the twin. Throws SideTwinError with file, line and key; `not-found` for a missing file.
 */
export async function openPhrasebook(
  open: OpenPort,
  twin: string,
  { drafts = false }: { readonly drafts?: boolean } = {},
): Promise<OpenPhrasebook> {
  const phrases = new Map<string, Phrase>();
  const files = new Map<string, string>();
  const scales: Record<string, Scale> = {};
  for (const name of open.port.phrasebook) {
    const file = path.resolve(open.folder, name);
    const text = await readText(file).catch((cause: unknown) => {
      if (cause instanceof SideTwinError && cause.code === "bad-input") throw cause;
      throw new SideTwinError(
        {
          code: "not-found",
          what: `There is no phrasebook ${name}`,
          where: { file: path.basename(open.file), key: "phrasebook" },
          next: "Write the file, or take its name out of the port file.",
        },
        cause,
      );
    });
    const book = parsePhrasebook(text, name);
    for (const phrase of book.phrases) {
      if (phrases.has(phrase.id))
        throw new SideTwinError({
          code: "bad-input",
          what: `Two phrases have the id "${phrase.id}"`,
          where: { file: name },
          next: "Rename one of them.",
        });
      phrases.set(phrase.id, phrase);
      files.set(phrase.id, name);
    }
    Object.assign(scales, book.scales);
  }
  const own = [...phrases.values()].filter(
    (phrase) => phrase.drafts === drafts && (phrase.for?.includes(twin) ?? true),
  );
  return { phrases: own, scales, files };
}
