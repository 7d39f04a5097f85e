import type { Trace } from "@/core/pairing/traces";
import type { Section } from "@/core/source/section";

/** A section with its file, and its literal fingerprint if known. */
export type PlacedSection = Section & { readonly file: string; readonly trace?: Trace };
