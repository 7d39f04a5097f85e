/** The kind of a document, where it is set instead of detected. */
import { z } from "zod";
import { recordOf } from "@/core/formats/json";

/** The kinds of documents; each has a comparer. */
export const documentKind = z.enum(["text", "json", "csv", "image", "bytes"]);
/** A kind of document. */
export type DocumentKind = z.infer<typeof documentKind>;

/** Path pattern (`stdout`, `printed`, `files.out/*.dat`) → kind. */
export const kindsByPath = recordOf(documentKind);
