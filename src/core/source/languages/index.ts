/** The languages whose sections are read, one line each. */
import { c } from "@/core/source/languages/c";
import { cpp } from "@/core/source/languages/cpp";
import { csharp } from "@/core/source/languages/csharp";
import { go } from "@/core/source/languages/go";
import { java } from "@/core/source/languages/java";
import { javascript } from "@/core/source/languages/javascript";
import { php } from "@/core/source/languages/php";
import { python } from "@/core/source/languages/python";
import { ruby } from "@/core/source/languages/ruby";
import { rust } from "@/core/source/languages/rust";
import { tsx, typescript } from "@/core/source/languages/typescript";
import type { SourceLanguage } from "@/core/source/section";

/** All languages that are read. */
export const LANGUAGES: readonly SourceLanguage[] = [
  python,
  javascript,
  typescript,
  tsx,
  java,
  c,
  cpp,
  csharp,
  go,
  rust,
  ruby,
  php,
];

/** Null for a language that is not read yet. */
export const findLanguage = (name: string): SourceLanguage | null =>
  LANGUAGES.find((language) => language.name === name) ?? null;
