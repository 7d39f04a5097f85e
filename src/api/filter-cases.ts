/** Which cases a few words ask for: module, section, mark, origin or a part of the name, each word one of them. */

import type { CaseListing } from "@/api/case-listing";
import { MARK_WORDS } from "@/api/mark-words";

/** All cases for no words; upper and lower case are the same. Cost: one walk over the cases. */
export function filterCases(cases: readonly CaseListing[], words: string): readonly CaseListing[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  if (wanted.length === 0) return cases;
  return cases.filter((item) => {
    const { id, module, section, mark, from } = item;
    const text = `${id} ${module ?? "program"} ${section} ${mark} ${MARK_WORDS[mark]} ${from ?? "hand"}`.toLowerCase();
    return wanted.every((word) => text.includes(word));
  });
}
