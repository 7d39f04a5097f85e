import type { Trace } from "@/core/pairing/traces";
import type { Section } from "@/core/source/section";

/** A section together with the file it stands in, and what its text leaves behind where that is known. */
export type PlacedSection = Section & { readonly file: string; readonly trace?: Trace };
