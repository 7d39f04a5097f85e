/** Gathers what the families of a check are found from: the cases that differ with both answers, and some that agree. */
import type { CaseFacts } from "@/core/explain/facets";
import { type Family, findFamilies } from "@/core/explain/families";
import type { JudgedAnswers, Verdict } from "@/service/check/verdict";

export type SectionFamily = Family & {
  readonly twin: string;
  readonly module: string | null;
  readonly call: string;
};

/** So many cases of one section are kept with their answers; one fault shows in far fewer. */
const MOST_DIFFERING = 1000;
const MOST_AGREEING = 120;

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

  /** All families, those with the most cases first. Gives way between sections, as one may take a while. */
  async families(): Promise<SectionFamily[]> {
    const found: SectionFamily[] = [];
    for (const { twin, module, call, differing, agreeing } of this.sections.values()) {
      if (differing.size === 0) continue;
      for (const family of findFamilies([...differing.values()], agreeing))
        found.push({ ...family, twin, module, call });
      await new Promise((resolve) => setImmediate(resolve));
    }
    return found.sort((one, other) => other.cases.length - one.cases.length);
  }
}

const toFacts = ({ item, divergences }: Verdict, answers: JudgedAnswers): CaseFacts => ({
  id: item.id,
  item,
  original: answers.original,
  twin: answers.twin,
  divergences,
});
