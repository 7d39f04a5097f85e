/** What kind of document a text or a file is, where it is set instead of found out. */
import { z } from "zod";
import { recordOf } from "@/core/formats/json";

export const documentKind = z.enum(["text", "json", "csv", "image", "bytes"]);
export type DocumentKind = z.infer<typeof documentKind>;

/** Path pattern (`stdout`, `printed`, `files.out/*.dat`) → kind. */
export const kindsByPath = recordOf(documentKind);
