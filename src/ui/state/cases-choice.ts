/** The selection on the Cases view, by name rather than by index, which moves with every check. Pure. */
import type { CaseListing } from "@/api/case-listing";
import type { AllowanceView, FamilyView } from "@/api/views";

/** Parts of the view. */
export const CASE_TABS = ["families", "all", "allowances", "make"] as const;
export type CaseTab = (typeof CASE_TABS)[number];

/** `case` is the one that is read, in its family or in the list of all. */
export type CasesChoice = {
  readonly tab: CaseTab;
  readonly words: string;
  readonly family: string | null;
  readonly case: string | null;
  readonly allowance: string | null;
  /** Where the form for a new case begins; null where none was asked for. */
  readonly add: { readonly module: string | null; readonly section: string | null } | null;
};

/** From an address; anything unknown is the first. */
export const choiceFrom = (given: Readonly<Record<string, string | undefined>>): CasesChoice => ({
  tab: CASE_TABS.find((tab) => tab === given.tab) ?? (given.case === undefined ? "families" : "all"),
  words: given.words ?? "",
  family: null,
  case: given.case ?? null,
  allowance: given.allowance ?? null,
  add: given.add === undefined ? null : { module: given.add, section: given.section ?? null },
});

/** The lists as they are shown. */
export type CaseLists = {
  readonly families: readonly FamilyView[];
  readonly cases: readonly CaseListing[];
  readonly allowances: readonly AllowanceView[];
};

/** Resolves the selection in these lists; a family renamed by a check is found again by its case. */
export function chosenIn(choice: CasesChoice, { families, cases, allowances }: CaseLists) {
  const family =
    families.find(({ id }) => id === choice.family) ??
    families.find((entry) => choice.case !== null && entry.cases.includes(choice.case)) ??
    families[0];
  const at = Math.max(
    0,
    cases.findIndex(({ id }) => id === choice.case),
  );
  const inFamily =
    family && choice.case !== null && family.cases.includes(choice.case) ? choice.case : family?.simplest;
  return {
    family,
    allowance: allowances.find(({ id }) => id === choice.allowance) ?? allowances[0],
    caseAt: at,
    case: (choice.tab === "families" ? inFamily : cases[at]?.id) ?? null,
  };
}

/** The choice one step further in the list of its tab. */
export function stepped(choice: CasesChoice, lists: CaseLists, step: 1 | -1): CasesChoice {
  const found = chosenIn(choice, lists);
  const next = <T>(list: readonly T[], at: number): T | undefined =>
    list[Math.max(0, Math.min(list.length - 1, at + step))];
  switch (choice.tab) {
    case "families": {
      const family = next(lists.families, found.family ? lists.families.indexOf(found.family) : 0);
      return { ...choice, family: family?.id ?? null, case: null };
    }
    case "all":
      return { ...choice, case: next(lists.cases, found.caseAt)?.id ?? null };
    case "allowances": {
      const allowance = next(lists.allowances, found.allowance ? lists.allowances.indexOf(found.allowance) : 0);
      return { ...choice, allowance: allowance?.id ?? null };
    }
    case "make":
      return choice;
  }
}

/** The families that hold every word: in their section, sentence, place or mark. Empty words match all. */
export function filterFamilies(families: readonly FamilyView[], words: string): readonly FamilyView[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  return families.filter(({ module, call, sentence, at, mark }) => {
    const text = `${module ?? "program"} ${call} ${sentence} ${at} ${mark}`.toLowerCase();
    return wanted.every((word) => text.includes(word));
  });
}
