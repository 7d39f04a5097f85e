/** The file of a twin in which a file of the original is ported, or would be. */
import { mappedFile } from "@/core/pairing/module-map";
import { findLanguage } from "@/core/source/languages/index";

/** Inputs: the port's map, the twin, and the module's files on both sides. */
export type TargetTerms = {
  readonly moduleMap: Parameters<typeof mappedFile>[0];
  readonly language: string;
  /** All files of the twin. */
  readonly files: readonly string[];
  /** The module's files. */
  readonly original: readonly string[];
  readonly own: readonly string[];
};

/** By the map, of the same name among the module's files, or at the same path with the twin's ending. */
export function targetFileOf(file: string, { moduleMap, language, files, original, own }: TargetTerms): string {
  const mapped = mappedFile(moduleMap, file, new Set(files));
  const index = original.indexOf(file);
  const isAlike = (other: string) => baseOf(other) === baseOf(file);
  return (
    own.find(isAlike) ??
    (own.length === original.length ? own[index] : undefined) ??
    mapped?.expected ??
    own.at(0) ??
    withEnding(file, language)
  );
}

const baseOf = (file: string): string => file.slice(file.lastIndexOf("/") + 1);

function withEnding(file: string, language: string): string {
  const { endings = [] } = findLanguage(language) ?? {};
  const dot = file.lastIndexOf(".");
  const stem = dot > file.lastIndexOf("/") ? file.slice(0, dot) : file;
  return endings.includes(file.slice(stem.length + 1)) ? file : `${stem}.${endings[0]}`;
}
