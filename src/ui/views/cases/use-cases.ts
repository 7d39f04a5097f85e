"use client";
import { useRouter } from "next/navigation";
import { useMemo, useRef, useState } from "react";
import { fromColumns } from "@/api/case-columns";
import { filterCases } from "@/api/filter-cases";
import { ROUTES } from "@/api/routes";
import { benchHref } from "@/ui/api";
import { type CasesChoice, type CaseTab, chosenIn, filterFamilies, stepped } from "@/ui/state/cases-choice";
import { useAddress } from "@/ui/state/use-address";
import type { Key } from "@/ui/state/use-keys";
import { useMaking } from "@/ui/state/use-making";
import { usePortEvents } from "@/ui/state/use-port-events";
import { useView } from "@/ui/state/use-view";

/** The address of the Cases view. */
export type CasesProps = {
  readonly id: string;
  readonly twin: string | null;
  /** The module that inputs are made for first. */
  readonly module: string | null;
  readonly initial: CasesChoice;
};

/** The state of the Cases view and its acts. */
export function useCases({ id, twin, initial }: Omit<CasesProps, "module">) {
  const router = useRouter();
  const events = usePortEvents(id);
  const { data, error, reload } = useView(ROUTES.cases, { twin }, id);
  const [choice, setChoice] = useState(initial);
  const [adding, setAdding] = useState(initial.add);
  const { words } = choice;
  const canMake = data?.canMake ?? true;
  const tab = choice.tab === "make" && !canMake ? "all" : choice.tab;
  const families = useMemo(() => (data ? filterFamilies(data.families, words) : []), [data, words]);
  const all = useMemo(() => (data ? fromColumns(data.cases) : []), [data]);
  const cases = useMemo(() => filterCases(all, words), [all, words]);
  const lists = { families, cases, allowances: data?.allowances ?? [] };
  const { family, allowance, case: chosen, caseAt } = chosenIn({ ...choice, tab }, lists);
  const form = adding === null ? { add: null, section: null } : { add: adding.module, section: adding.section };
  useAddress({ tab: tab === "families" ? null : tab, words, case: data ? chosen : choice.case, ...form });
  const detail = useView(ROUTES.case, chosen === null ? null : { case: chosen, twin }, id);
  const shown = detail.data?.id === chosen ? detail.data : null;
  const field = useRef<HTMLInputElement>(null);
  const making = useMaking(id, reload);
  const choose = (next: Partial<CasesChoice>) => setChoice((before) => ({ ...before, ...next }));
  const setTab = (next: CaseTab) => choose({ tab: next });
  const move = (step: 1 | -1) => setChoice((before) => stepped(before, lists, step));
  /** A case that was just added is run at once and shown. */
  const showAdded = (name: string) => {
    setAdding(null);
    choose({ tab: "all", words: name, case: name });
    events.start({ caseId: name, ...(twin ? { twin } : {}) });
    reload();
  };
  /** Runs the imported cases and lists them from the first. */
  const showImported = (ids: readonly string[]) => {
    choose({ tab: "all", words: ids.length === 1 ? (ids[0] ?? "") : "", case: ids[0] ?? null });
    events.start(twin ? { twin } : {});
    reload();
  };
  const goTo = () => {
    const item = all.find((entry) => entry.id === chosen);
    if (item?.module)
      router.push(`${benchHref(id, item.module, twin, item.section)}&case=${encodeURIComponent(item.id)}`);
  };
  /** The form begins at the section of the chosen case. */
  const add = () => {
    const item = all.find((entry) => entry.id === chosen);
    setAdding({ module: item?.module ?? null, section: item?.section ?? null });
  };
  const keys: Key[] = [
    { key: "ArrowDown", shows: "↓", does: "next in the list", run: () => move(1) },
    { key: "ArrowUp", shows: "↑", does: "previous", run: () => move(-1) },
    { key: "1", does: "families", run: () => setTab("families") },
    { key: "2", does: "all cases", run: () => setTab("all") },
    { key: "3", does: "allowances", run: () => setTab("allowances") },
    { key: "4", does: "make cases", run: () => canMake && setTab("make") },
    { key: "N", does: "add a case", run: add },
    { key: "f", does: "filter", run: () => field.current?.focus() },
    { key: "g", does: "go to both sections on the Bench", run: goTo },
    { key: "s", does: "shrink the input of the case" },
    { key: "a", does: "allow the difference of the case" },
    { key: "m", does: "try mends for the case" },
    { key: "r", does: "copy a reproducer of the case" },
    { key: "z", does: "go to where the two sides part inside" },
    { key: "t", does: "tighten the allowance as proposed" },
    { key: "c", does: "check the whole port", run: () => events.start(twin ? { twin } : {}) },
    { key: "x", does: "stop the check", run: events.stop },
  ];
  return {
    ...{ data, error, reload, events, keys, making, choose, setTab, field },
    ...{ tab, words, families, all, cases, family, allowance, caseAt, chosen, shown },
    ...{ adding, add, showAdded, showImported, goTo },
    closeForm: () => setAdding(null),
    checkAll: () => events.start(twin ? { twin } : {}),
  };
}
