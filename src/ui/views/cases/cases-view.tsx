"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useRouter } from "next/navigation";
import { useEffect, useMemo, useRef, useState } from "react";
import { fromColumns } from "@/api/case-columns";
import type { CaseListing } from "@/api/case-listing";
import { filterCases } from "@/api/filter-cases";
import { ROUTES } from "@/api/routes";
import type { FamilyView } from "@/api/views";
import { benchHref } from "@/ui/api";
import { formatCount, plural } from "@/ui/format";
import { PortFrame } from "@/ui/frame/port-frame";
import { Mark } from "@/ui/marks/mark";
import { type CasesChoice, type CaseTab, chosenIn, stepped } from "@/ui/state/cases-choice";
import { useAddress } from "@/ui/state/use-address";
import type { Key } from "@/ui/state/use-keys";
import { useMaking } from "@/ui/state/use-making";
import { usePortEvents } from "@/ui/state/use-port-events";
import { useView } from "@/ui/state/use-view";
import { AddCase } from "@/ui/views/cases/add-case";
import { AllowanceList, AllowancePage } from "@/ui/views/cases/allowances";
import styles from "@/ui/views/cases/cases.module.css";
import { Exchange } from "@/ui/views/cases/exchange";
import { FamilyPage } from "@/ui/views/cases/family-page";
import { MadeCases } from "@/ui/views/cases/made-cases";
import { MakeCases } from "@/ui/views/cases/make-cases";
import { Answers } from "@/ui/views/reader/answers";
import { Finding } from "@/ui/views/reader/finding";
import { Input } from "@/ui/views/reader/input";

/** The shared cases of the port: families of those that differ first, then all of them. */
export function CasesView({ id, twin, initial }: { id: string; twin: string | null; initial: CasesChoice }) {
  const router = useRouter();
  const events = usePortEvents(id);
  const { data, error, reload } = useView(ROUTES.cases, { twin }, id);
  const [choice, setChoice] = useState(initial);
  const [adding, setAdding] = useState(initial.add);
  const { tab, words } = choice;
  const families = useMemo(() => (data ? filterFamilies(data.families, words) : []), [data, words]);
  const all = useMemo(() => (data ? fromColumns(data.cases) : []), [data]);
  const cases = useMemo(() => filterCases(all, words), [all, words]);
  const lists = { families, cases, allowances: data?.allowances ?? [] };
  const { family, allowance, case: chosen, caseAt } = chosenIn(choice, lists);
  useAddress({ tab: tab === "families" ? null : tab, words, case: data ? chosen : choice.case });
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
    { key: "4", does: "make cases", run: () => setTab("make") },
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
  return (
    <PortFrame
      port={data?.port ?? null}
      view="cases"
      modules={data?.modules ?? []}
      twin={twin}
      events={events}
      keys={keys}
      error={error}
    >
      {data && (
        <div className={styles.body}>
          <aside className={styles.lists} aria-label="Lists">
            <div className={styles.tabs}>
              <div role="tablist" className={styles.tablist}>
                <TabButton
                  name="families"
                  tab={tab}
                  onChoose={setTab}
                  words={`Families ${countOf(families.length, data.families.length)}`}
                />
                <TabButton
                  name="all"
                  tab={tab}
                  onChoose={setTab}
                  words={`All cases ${countOf(cases.length, all.length)}`}
                />
                <TabButton
                  name="allowances"
                  tab={tab}
                  onChoose={setTab}
                  words={`Allowances ${formatCount(data.allowances.length)}`}
                />
                <TabButton name="make" tab={tab} onChoose={setTab} words="Make" />
              </div>
            </div>
            {(tab === "families" || tab === "all") && (
              <div className={styles.filter}>
                <InputBase
                  inputRef={field}
                  value={words}
                  onChange={(event) => choose({ words: event.target.value })}
                  placeholder="module, section, mark"
                  inputProps={{ "aria-label": "Filter by module, section, mark or name" }}
                  onKeyDown={(event) => event.key === "Escape" && field.current?.blur()}
                />
              </div>
            )}
            {tab === "families" && (
              <FamilyList
                isFiltered={data.families.length > families.length}
                families={families}
                total={all}
                chosen={family}
                onChoose={(entry) => choose({ family: entry.id, case: null })}
                onClear={() => choose({ words: "" })}
                isChecked={data.port.lastCheck !== null}
              />
            )}
            {tab === "all" && (
              <>
                <Exchange port={id} twin={data.twin} words={words} onAdd={add} onImported={showImported} />
                <CaseList
                  cases={cases}
                  at={caseAt}
                  onChoose={(name) => choose({ case: name })}
                  isEmpty={all.length === 0}
                  onClear={() => choose({ words: "" })}
                />
              </>
            )}
            {tab === "make" && <MakeCases modules={data.modules} making={making} />}
            {tab === "allowances" && (
              <AllowanceList
                allowances={data.allowances}
                chosen={allowance}
                onChoose={(name) => choose({ allowance: name })}
              />
            )}
          </aside>
          <main className={styles.page} aria-label="What is chosen">
            {tab === "make" && (
              <MadeCases made={making.made} making={making} onCheck={() => events.start(twin ? { twin } : {})} />
            )}
            {tab === "families" && family && (
              <FamilyPage
                port={id}
                twin={data.twin}
                family={family}
                detail={shown}
                chosen={chosen}
                onChoose={(name) => choose({ case: name })}
                onGo={goTo}
              />
            )}
            {tab === "allowances" && allowance && (
              <AllowancePage key={allowance.id} port={id} twin={data.twin} allowance={allowance} onChanged={reload} />
            )}
            {tab === "all" && shown && (
              <div className={styles.single}>
                <Input key={shown.id} port={id} twin={data.twin} detail={shown} />
                <Answers port={id} twin={data.twin} detail={shown} />
                <Finding port={id} twin={data.twin} detail={shown} />
              </div>
            )}
          </main>
        </div>
      )}
      {adding && data && (
        <AddCase data={data} taken={all} {...adding} onClose={() => setAdding(null)} onAdded={showAdded} />
      )}
    </PortFrame>
  );
}

/** `3 of 17` where a filter hides some. */
const countOf = (shown: number, all: number): string =>
  shown === all ? formatCount(all) : `${formatCount(shown)} of ${formatCount(all)}`;

function filterFamilies(families: readonly FamilyView[], words: string): readonly FamilyView[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  return families.filter(({ module, call, sentence, at, mark }) => {
    const text = `${module ?? "program"} ${call} ${sentence} ${at} ${mark}`.toLowerCase();
    return wanted.every((word) => text.includes(word));
  });
}

type TabProps = {
  readonly name: CaseTab;
  readonly tab: CaseTab;
  readonly words: string;
  readonly onChoose: (tab: CaseTab) => void;
};

const TabButton = ({ name, tab, words, onChoose }: TabProps) => (
  <button type="button" role="tab" aria-selected={name === tab} className={styles.tab} onClick={() => onChoose(name)}>
    {words}
  </button>
);

type FamilyListProps = {
  readonly families: readonly FamilyView[];
  readonly total: readonly CaseListing[];
  readonly chosen: FamilyView | undefined;
  readonly onChoose: (family: FamilyView) => void;
  /** Clears the filter. */
  readonly onClear: () => void;
  readonly isChecked: boolean;
  /** Whether the filter hides families. */
  readonly isFiltered: boolean;
};

const SHOWN_MARKS = 24;

function describeNone(cases: number, isChecked: boolean, isFiltered: boolean): string {
  if (cases === 0) return "No cases yet. Press 4 to record or generate some, N to write one.";
  if (isFiltered) return "No family matches the filter.";
  return isChecked ? "No case differs." : "Not checked yet. Press c to check.";
}

function FamilyList({ families, total, chosen, onChoose, onClear, isChecked, isFiltered }: FamilyListProps) {
  const inSection = useMemo(() => {
    const counts = new Map<string, number>();
    for (const { module, section } of total) {
      const key = `${module ?? ""}\0${section}`;
      counts.set(key, (counts.get(key) ?? 0) + 1);
    }
    return counts;
  }, [total]);
  const list = useRef<HTMLUListElement>(null);
  const chosenId = chosen?.id;
  useEffect(() => {
    if (chosenId !== undefined)
      list.current?.querySelector("[aria-pressed=true]")?.scrollIntoView({ block: "nearest" });
  }, [chosenId]);
  return (
    <ul className={styles.families} ref={list}>
      {families.length === 0 && (
        <li className={styles.none}>
          {describeNone(total.length, isChecked, isFiltered)}{" "}
          {isFiltered && <Button onClick={onClear}>Clear the filter</Button>}
        </li>
      )}
      {families.map((family) => (
        <li key={family.id}>
          <button
            type="button"
            className={styles.family}
            aria-pressed={family === chosen}
            onClick={() => onChoose(family)}
          >
            <Mark mark={family.mark} />
            <span className={styles.sentence}>{family.sentence}</span>
            <span className="soft">
              {family.cases.length} of {inSection.get(`${family.module ?? ""}\0${family.call}`) ?? family.cases.length}
            </span>
            <span className={styles.where}>{[family.module ?? "program", family.call].join(".")}</span>
            <span className={styles.marks} aria-hidden="true">
              {family.cases.slice(0, SHOWN_MARKS).map((name) => (
                <Mark key={name} mark={family.mark} />
              ))}
              {family.cases.length > SHOWN_MARKS && <span>…</span>}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

const ROW_HEIGHT = 30;

function CaseList({
  cases,
  at,
  onChoose,
  isEmpty,
  onClear,
}: {
  cases: readonly CaseListing[];
  at: number;
  onChoose: (name: string) => void;
  /** Clears the filter. */
  onClear: () => void;
  /** Whether there is no case at all. */
  isEmpty: boolean;
}) {
  const box = useRef<HTMLDivElement>(null);
  const list = useVirtualizer({
    count: cases.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
  });
  useEffect(() => {
    if (cases.length > 0) list.scrollToIndex(at, { align: "auto" });
  }, [at, cases.length, list]);
  return (
    <div className={styles.cases} ref={box} role="listbox" aria-label={plural(cases.length, "case")} tabIndex={-1}>
      {cases.length === 0 && (
        <p className={styles.none}>
          {isEmpty ? (
            "No cases yet. Press 4 to record or generate some, N to write one."
          ) : (
            <>
              No case matches the filter. <Button onClick={onClear}>Clear the filter</Button>
            </>
          )}
        </p>
      )}
      <div style={{ height: list.getTotalSize(), position: "relative" }}>
        {list.getVirtualItems().map(({ index, start }) => {
          const item = cases[index];
          return (
            item && (
              <button
                key={item.id}
                type="button"
                role="option"
                aria-selected={index === at}
                className={styles.case}
                style={{ transform: `translateY(${start}px)` }}
                onClick={() => onChoose(item.id)}
              >
                <Mark mark={item.mark} stale={item.stale} />
                <span className="mono">{item.id}</span>
                <span className="soft">{[item.module ?? "program", item.section].join(".")}</span>
              </button>
            )
          );
        })}
      </div>
    </div>
  );
}
