/** Documents that are compared: printed output and written files. */

/** Printed or written content: text, or bytes if it is not UTF-8. */
export type Content = string | Uint8Array;

/** A document with the name it was written under, or the empty text. */
export type Document = { readonly name: string; readonly content: Content };

/** The same document of both sides. */
export type DocumentPair = { readonly original: Document; readonly twin: Document };

const encoder = new TextEncoder();

/** Returns the bytes of a document, texts as UTF-8. */
export const bytesOf = (content: Content): Uint8Array =>
  typeof content === "string" ? encoder.encode(content) : content;

/** Whether a file name has one of the extensions, in any case. */
export const hasEnding = (name: string, ...endings: readonly string[]): boolean =>
  endings.some((ending) => name.toLowerCase().endsWith(ending));
