/** Gathers what the families of a check are found from: the cases that differ with both answers, and some that agree. */
import type { CaseFacts } from "@/core/explain/facets";
import { type Family, findFamilies } from "@/core/explain/families";
import { workers } from "@/engine/workers/worker-pool";
import type { JudgedAnswers, Verdict } from "@/service/check/verdict";

export type SectionFamily = Family & {
  readonly twin: string;
  readonly module: string | null;
  readonly call: string;
};

/** So many cases of one section are kept with their answers; one fault shows in far fewer. */
const MOST_DIFFERING = 1000;
const MOST_AGREEING = 120;

/** So few differing cases are looked at quicker than they are handed to another thread. */
const FEW = 12;

type Section = {
  readonly twin: string;
  readonly module: string | null;
  readonly call: string;
  readonly differing: Map<string, CaseFacts>;
  readonly agreeing: CaseFacts[];
};

export class FamilyGatherer {
  private readonly sections = new Map<string, Section>();
  private last: Section | null = null;

  /** Takes a verdict in; one that turned out unsteady takes its case out again. */
  take(verdict: Verdict, answers: JudgedAnswers): void {
    const { outcome } = verdict;
    if (outcome !== "differ" && outcome !== "agree" && outcome !== "unsteady") return;
    const { last } = this;
    // Cases of one section mostly follow each other.
    const isLast = last?.call === verdict.section && last.module === verdict.module && last.twin === verdict.twin;
    const section = isLast ? last : this.sectionOf(verdict);
    this.last = section;
    if (outcome === "unsteady") section.differing.delete(verdict.item.id);
    else if (outcome === "differ") {
      if (section.differing.size < MOST_DIFFERING) section.differing.set(verdict.item.id, toFacts(verdict, answers));
    } else if (section.agreeing.length < MOST_AGREEING) section.agreeing.push(toFacts(verdict, answers));
  }

  private sectionOf({ twin, module, section: call }: Verdict): Section {
    const key = `${twin}\0${module ?? ""}\0${call}`;
    const known = this.sections.get(key);
    if (known) return known;
    const made = { twin, module, call, differing: new Map(), agreeing: [] };
    this.sections.set(key, made);
    return made;
  }

  /** All families, those with the most cases first; sections with many differing cases are looked at on other threads. */
  async families(): Promise<SectionFamily[]> {
    const due = [...this.sections.values()].filter(({ differing }) => differing.size > 0);
    const found = await Promise.all(
      due.map(async ({ twin, module, call, differing, agreeing }) => {
        const cases = [...differing.values()];
        const isLarge = cases.length > FEW;
        const families = isLarge
          ? await workers.run("findFamilies", cases.map(plainFacts), agreeing.map(plainFacts))
          : findFamilies(cases, agreeing);
        return families.map((family) => ({ ...family, twin, module, call }));
      }),
    );
    return found.flat().sort((one, other) => other.cases.length - one.cases.length);
  }
}

/** Without the getters of answers that are parsed late: what goes to another thread is copied. */
const plainFacts = ({ id, item, original, twin, divergences }: CaseFacts): CaseFacts => ({
  id,
  item,
  original,
  twin,
  divergences,
});

const toFacts = ({ item, divergences }: Verdict, answers: JudgedAnswers): CaseFacts => ({
  id: item.id,
  item,
  original: answers.original,
  twin: answers.twin,
  divergences,
});
