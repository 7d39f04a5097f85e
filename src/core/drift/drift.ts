/**
 * Drift: the original changed after its section was ported. What a section looked like when it was last paired or proven is
 * remembered; when its tokens are others now, it is drifted, until agreeing cases ran through all that changed, or a person
 * says that the twin follows.
 */
import { alignLines } from "@/core/compare/align-lines";

/** Why the text was remembered: the section got a twin, its cases agreed and ran it, or a person said that the twin follows. */
export type Basis = "paired" | "proven" | "said";

export type Remembered = {
  readonly twin: string;
  readonly module: string;
  readonly section: string;
  readonly twinSection: string;
  readonly file: string;
  readonly text: string;
  /** Its tokens, comments and layout aside. */
  readonly tokens: string;
  readonly at: string;
  readonly basis: Basis;
  /** The commit that the original stood at, where it is in a repository. */
  readonly commit: string | null;
};

/** A section of the original as it stands now. Lines from 1. */
export type SectionText = {
  readonly section: string;
  readonly twinSection: string;
  readonly file: string;
  readonly from: number;
  readonly text: string;
  readonly tokens: string;
};

export type DriftedSection = {
  readonly before: Remembered;
  /** Null where the section is gone. */
  readonly now: SectionText | null;
};

/** What of one module is drifted; `remembered` are the rows of the module and the twin. */
export function findDrift(
  remembered: readonly Remembered[],
  now: readonly SectionText[],
  twinSections: ReadonlySet<string>,
): DriftedSection[] {
  const byName = new Map(now.map((section) => [section.section, section]));
  return remembered.flatMap((before): DriftedSection[] => {
    const current = byName.get(before.section);
    if (current) return current.tokens === before.tokens ? [] : [{ before, now: current }];
    // What is gone on both sides, or paired with something else, is nobody's drift.
    const isLeft = twinSections.has(before.twinSection) && !now.some((one) => one.twinSection === before.twinSection);
    return isLeft ? [{ before, now: null }] : [];
  });
}

export type SectionProof = {
  /** Whether it has cases, and all of them agree or are allowed, on the code of now. */
  readonly agrees: boolean;
  /** Lines of its file from 1 that agreeing cases ran, and those that can be run; null where lines are not traced. */
  readonly lines: { readonly executable: ReadonlySet<number>; readonly proven: ReadonlySet<number> } | null;
};

/** Whether agreeing cases vouch for all that changed: every line that is new was run by one. */
export function isFollowed({ before, now }: DriftedSection, proof: SectionProof): boolean {
  if (!now || !proof.agrees) return false;
  const { lines } = proof;
  if (!lines) return true;
  return changedLines(before.text, now).every((line) => !lines.executable.has(line) || lines.proven.has(line));
}

function changedLines(before: string, { text, from }: SectionText): number[] {
  return alignLines(before, text).flatMap(({ twinFrom, twinTo }) =>
    Array.from({ length: twinTo - twinFrom }, (_one, index) => from + twinFrom + index),
  );
}

/** The rows to keep: sections that are paired for the first time, that were proven, and drifted ones that are followed. */
export function toRemember(
  remembered: readonly Remembered[],
  now: readonly SectionText[],
  about: {
    readonly twin: string;
    readonly module: string;
    readonly at: string;
    readonly commit: string | null;
    readonly proofOf: (section: SectionText) => SectionProof;
  },
): Remembered[] {
  const before = new Map(remembered.map((row) => [row.section, row]));
  return now.flatMap((section): Remembered[] => {
    const known = before.get(section.section);
    const proof = about.proofOf(section);
    const { section: name, twinSection, file, text, tokens } = section;
    const row = (basis: Basis): Remembered[] => [
      {
        twin: about.twin,
        module: about.module,
        section: name,
        twinSection,
        file,
        text,
        tokens,
        at: about.at,
        basis,
        commit: about.commit,
      },
    ];
    if (!known) return row(proof.agrees ? "proven" : "paired");
    if (known.tokens !== tokens) return isFollowed({ before: known, now: section }, proof) ? row("proven") : [];
    return known.basis !== "proven" && proof.agrees ? row("proven") : [];
  });
}
