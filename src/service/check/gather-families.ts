/** Gathers what the families of a check are found from: the cases that differ with both answers, and some that agree. */
import type { CaseFacts } from "@/core/explain/facets";
import { type Family, findFamilies } from "@/core/explain/families";
import type { FamilyInner } from "@/core/explain/inner";
import type { SharedCase } from "@/core/formats/case-line";
import { workers } from "@/engine/workers/worker-pool";
import type { SectionCodes } from "@/service/check/section-code";
import { type JudgedAnswers, lengthOfAnswer, type Verdict } from "@/service/check/verdict";
import type { OpenPort } from "@/service/port/open-port";

/** A family with its section and twin. */
export type SectionFamily = Family & {
  readonly twin: string;
  readonly module: string | null;
  readonly call: string;
};

/** A family, or a part of one, whose cases all part in one section. */
export type PartedFamily = SectionFamily & { readonly inner?: FamilyInner };

/** Splits families by where the sides part inside. */
export type PartFamilies = (
  open: OpenPort,
  all: readonly SharedCase[],
  options: {
    readonly families: readonly SectionFamily[];
    readonly answersOf: AnswersOf;
    readonly signal?: AbortSignal | undefined;
  },
) => Promise<PartedFamily[]>;

/** The answers that are kept of a section's cases. */
export type AnswersOf = (section: Pick<SectionFamily, "twin" | "module" | "call">) => {
  readonly differing: readonly CaseFacts[];
  readonly agreeing: readonly CaseFacts[];
};

/** This many cases of one section are kept with their answers; one fault shows in far fewer. */
const MAX_DIFFERING = 1000;
const MAX_AGREEING = 120;

/** Sections with long answers keep fewer cases: the sum of their characters is limited. */
const MAX_DIFFERING_LENGTH = 4_000_000;
const MAX_AGREEING_LENGTH = 1_000_000;

/** So few differing cases, with so little in them, are looked at quicker than they are handed to another thread. */
const MAX_INLINE_CASES = 12;
const MAX_INLINE_LENGTH = 20_000;

type Section = {
  readonly twin: string;
  readonly module: string | null;
  readonly call: string;
  readonly differing: Map<string, CaseFacts>;
  readonly agreeing: CaseFacts[];
  /** Characters of the kept answers. */
  readonly lengths: { differing: number; agreeing: number };
};

/** Collects differing cases during a check, and groups them at its end. */
export class FamilyGatherer {
  private readonly sections = new Map<string, Section>();
  private last: Section | null = null;

  /** Adds a verdict; one that turned out unsteady removes its case. */
  take(verdict: Verdict, answers: JudgedAnswers): void {
    const { outcome } = verdict;
    if (outcome !== "differ" && outcome !== "agree" && outcome !== "unsteady") return;
    const { last } = this;
    // Cases of one section mostly follow each other.
    const isLast = last?.call === verdict.section && last.module === verdict.module && last.twin === verdict.twin;
    const section = isLast ? last : this.sectionOf(verdict);
    this.last = section;
    const { differing, agreeing, lengths } = section;
    if (outcome === "unsteady") differing.delete(verdict.item.id);
    else if (outcome === "differ") {
      if (differing.size >= MAX_DIFFERING || lengths.differing > MAX_DIFFERING_LENGTH) return;
      differing.set(verdict.item.id, toFacts(verdict, answers));
      lengths.differing += lengthOf(answers);
    } else if (agreeing.length < MAX_AGREEING && lengths.agreeing <= MAX_AGREEING_LENGTH) {
      agreeing.push(toFacts(verdict, answers));
      lengths.agreeing += lengthOf(answers);
    }
  }

  private sectionOf({ twin, module, section: call }: Verdict): Section {
    const key = keyOf({ twin, module, call });
    const known = this.sections.get(key);
    if (known) return known;
    const made = { twin, module, call, differing: new Map(), agreeing: [], lengths: { differing: 0, agreeing: 0 } };
    this.sections.set(key, made);
    return made;
  }

  readonly answersOf: AnswersOf = (section) => {
    const found = this.sections.get(keyOf(section));
    return { differing: [...(found?.differing.values() ?? [])], agreeing: found?.agreeing ?? [] };
  };

  /** All families, those with the most cases first; sections with many differing cases are looked at on other threads. */
  async families(codes: SectionCodes): Promise<SectionFamily[]> {
    const due = [...this.sections.values()].filter(({ differing }) => differing.size > 0);
    const found = await Promise.all(
      due.map(async ({ twin, module, call, differing, agreeing, lengths }) => {
        const cases = [...differing.values()];
        const code = await codes.of(module, call, twin);
        const isLarge = cases.length > MAX_INLINE_CASES || lengths.differing + lengths.agreeing > MAX_INLINE_LENGTH;
        const families = isLarge
          ? await workers.run("findFamilies", cases.map(plainFacts), agreeing.map(plainFacts), code)
          : findFamilies(cases, agreeing, code);
        return families.map((family) => ({ ...family, twin, module, call }));
      }),
    );
    return found.flat().sort((one, other) => other.cases.length - one.cases.length);
  }
}

const keyOf = ({ twin, module, call }: Pick<SectionFamily, "twin" | "module" | "call">): string =>
  `${twin}\0${module ?? ""}\0${call}`;

/** Without the getters of answers that are parsed late: what goes to another thread is copied. */
const plainFacts = ({ id, item, original, twin, divergences }: CaseFacts): CaseFacts => ({
  id,
  item,
  original,
  twin,
  divergences,
});

function lengthOf(answers: JudgedAnswers): number {
  if (answers.texts) return answers.texts.original.length + answers.texts.twin.length;
  return (answers.original ? lengthOfAnswer(answers.original) : 0) + (answers.twin ? lengthOfAnswer(answers.twin) : 0);
}

const toFacts = ({ item, divergences }: Verdict, answers: JudgedAnswers): CaseFacts => ({
  id: item.id,
  item,
  original: answers.original,
  twin: answers.twin,
  divergences,
});
