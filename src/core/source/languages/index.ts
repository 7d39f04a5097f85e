/** The languages whose sections are read, one line each. */
import { javascript } from "@/core/source/languages/javascript";
import { python } from "@/core/source/languages/python";
import { tsx, typescript } from "@/core/source/languages/typescript";
import type { SourceLanguage } from "@/core/source/section";

export const LANGUAGES: readonly SourceLanguage[] = [python, javascript, typescript, tsx];

/** Null for a language that is not read yet. */
export const findLanguage = (name: string): SourceLanguage | null =>
  LANGUAGES.find((language) => language.name === name) ?? null;
