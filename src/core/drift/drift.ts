/**
 * Drift: the original changed after its section was ported. The section's text is remembered when it is paired or
 * proven; if its tokens change, it has drifted until agreeing cases run all changed lines, or a person confirms that
 * the twin follows.
 */
import { alignLines } from "@/core/compare/align-lines";

/**
 * Why the text was remembered: the section got a twin, agreeing cases ran it, or a person confirmed that the twin
 * follows.
 */
export type Basis = "paired" | "proven" | "said";

/** A section's text as it was when it matched the twin. */
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
  /** The commit checked out in the original's repository, if any. */
  readonly commit: string | null;
};

/** A section of the original in its current state. Lines from 1. */
export type SectionText = {
  readonly section: string;
  readonly twinSection: string;
  readonly file: string;
  readonly from: number;
  readonly text: string;
  readonly tokens: string;
};

/** A section that changed or disappeared after it was ported. */
export type DriftedSection = {
  readonly before: Remembered;
  /** Null where the section is gone. */
  readonly now: SectionText | null;
};

/** Finds the drift of one module; `remembered` are the rows of the module and the twin. */
export function findDrift(
  remembered: readonly Remembered[],
  now: readonly SectionText[],
  twinSections: ReadonlySet<string>,
): DriftedSection[] {
  const byName = new Map(now.map((section) => [section.section, section]));
  return remembered.flatMap((before): DriftedSection[] => {
    const current = byName.get(before.section);
    if (current) return current.tokens === before.tokens ? [] : [{ before, now: current }];
    // Sections gone on both sides, or paired with another section, do not drift.
    const isLeft = twinSections.has(before.twinSection) && !now.some((one) => one.twinSection === before.twinSection);
    return isLeft ? [{ before, now: null }] : [];
  });
}

/** Evidence from agreeing cases about a section's current code. */
export type SectionProof = {
  /** Whether it has cases, all of which agree or are allowed on the current code. */
  readonly agrees: boolean;
  /** Lines of its file from 1 that agreeing cases ran, and those that can be run; null where lines are not traced. */
  readonly lines: { readonly executable: ReadonlySet<number>; readonly proven: ReadonlySet<number> } | null;
};

/** Whether agreeing cases cover the change: one of them ran every new line. */
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
