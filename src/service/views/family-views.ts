/** Assembles the families that the screens show: what the last check found, as far as it still holds, and cases that could not be run. */
import type { FamilyView } from "@/api/views";
import { sectionOf } from "@/core/cases/hand-over";
import { findCause } from "@/core/explain/causes/index";
import { groupBy } from "@/core/values/group-by";
import { caseIndex } from "@/service/reading/case-index";
import type { PortFacts } from "@/service/views/port-facts";
import type { FamilyRow } from "@/store/families";
import type { VerdictRow } from "@/store/verdicts";

/** Families of cases that could not be run come first, then those that differ; each with the most cases first. */
export function familyViews(facts: PortFacts, rows: readonly FamilyRow[]): FamilyView[] {
  const { verdictOf } = caseIndex(facts);
  const differing = rows
    .filter(({ twin }) => twin === facts.twin)
    .map((row) => familyView(row, (id) => verdictOf.get(id)?.outcome === "differ"))
    .filter(({ cases }) => cases.length > 0);
  return [...brokenFamilies(facts, verdictOf), ...differing].sort(
    (left, right) =>
      Number(right.mark === "broken") - Number(left.mark === "broken") || right.cases.length - left.cases.length,
  );
}

/** A family with its suspects in words. A case that was mended or allowed since the check belongs to it no more. */
function familyView(
  { checkId, ordinal, module, call, at, sentence, simplest, cases, suspects, inner }: FamilyRow,
  isDiffering: (id: string) => boolean,
): FamilyView {
  const still = cases.filter(isDiffering);
  return {
    id: `${checkId}-${ordinal}`,
    mark: "differ",
    module,
    call,
    at,
    sentence,
    simplest: still.includes(simplest) ? simplest : (still[0] ?? simplest),
    cases: still,
    inner: inner && toInner(inner),
    suspects: suspects.map((suspect) => {
      const cause = findCause(suspect.cause);
      return {
        ...suspect,
        place: suspect.place ?? null,
        title: cause?.title ?? suspect.cause,
        note: cause?.note ?? "",
      };
    }),
  };
}

/** The row's optional `case` may be undefined; a view lacks it then. */
const toInner = ({ case: item, ...inner }: NonNullable<FamilyRow["inner"]>): FamilyView["inner"] => ({
  ...inner,
  ...(item ? { case: item } : {}),
});

/** Cases of one section that broke on the same side in the same manner. */
function brokenFamilies({ reading }: PortFacts, verdictOf: ReadonlyMap<string, VerdictRow>): FamilyView[] {
  const broken = reading.cases.flatMap((item) => {
    const verdict = verdictOf.get(item.id);
    if (verdict?.outcome !== "broken") return [];
    const [, kind = "broken", what = ""] = /^([a-z-]+): (.*)$/s.exec(verdict.why ?? "") ?? [];
    return [{ item, side: verdict.side ?? "both", kind, what }];
  });
  const groups = groupBy(
    broken,
    ({ item, side, kind }) => `${item.module ?? ""}\0${sectionOf(item)}\0${side}\0${kind}`,
  );
  return [...groups].flatMap(([key, members]) => {
    const [first] = members;
    if (!first) return [];
    const { item, side, kind, what } = first;
    const sameText = members.every((member) => member.what === what);
    return {
      id: `broken-${key.replaceAll("\0", "-")}`,
      mark: "broken" as const,
      module: item.module ?? null,
      call: sectionOf(item),
      at: side === "both" ? "both sides" : `the ${side === "original" ? "original" : "twin"}`,
      sentence: `${BROKEN_WORDS[kind] ?? "Could not be run"}${sameText && what !== "" && kind !== "timed-out" ? `: ${firstLine(what)}` : ""}`,
      simplest: item.id,
      cases: members.map((member) => member.item.id),
      suspects: [],
      inner: null,
    };
  });
}

const MAX_SENTENCE = 120;

function firstLine(text: string): string {
  const line = text.split("\n", 1)[0] ?? "";
  return line.length > MAX_SENTENCE ? `${line.slice(0, MAX_SENTENCE)}…` : line;
}

/** Why a side gave no answer, by the kind that drivers and runs give. */
const BROKEN_WORDS: Readonly<Record<string, string>> = {
  crashed: "Crashed",
  ended: "Ended itself",
  "timed-out": "Timed out",
  "over-limit": "Went over a limit",
  "would-not-load": "Would not load",
  "outside-folder": "Reached outside its folder",
};
