/** All comparers, in the order in which a document is tried. */
import { bytes } from "@/core/compare/comparers/bytes";
import type { Comparer } from "@/core/compare/comparers/comparer";
import { csv } from "@/core/compare/comparers/csv";
import { image } from "@/core/compare/comparers/image";
import { json } from "@/core/compare/comparers/json";
import { text } from "@/core/compare/comparers/text";

export const COMPARERS: readonly Comparer[] = [image, json, csv, text, bytes];
