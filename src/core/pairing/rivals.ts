/** Picks mutual best matches: a pair is taken only if each side is clearly the best for the other. */
import type { PlacedSection } from "@/core/pairing/placed-section";

/** The best and the second best score of each section, on either side. */
export class Rivals {
  private readonly tops = new Map<PlacedSection, { best: number; next: number }>();

  enter(section: PlacedSection, score: number): void {
    const top = this.tops.get(section) ?? { best: 0, next: 0 };
    this.tops.set(section, top);
    if (score > top.best) {
      top.next = top.best;
      top.best = score;
    } else if (score > top.next) top.next = score;
  }

  /** Whether the score is the section's best by at least the margin. */
  leads(section: PlacedSection, score: number, margin: number): boolean {
    const top = this.tops.get(section);
    return top !== undefined && score === top.best && score - top.next >= margin;
  }
}
