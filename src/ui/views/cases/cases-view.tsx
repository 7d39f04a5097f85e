"use client";
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

type Tab = "families" | "all" | "allowances" | "make";

/** The shared cases of the port: families of those that differ first, then all of them. */
export function CasesView({ id, twin }: { id: string; twin: string | null }) {
  const router = useRouter();
  const events = usePortEvents(id);
  const { data, error, reload } = useView(ROUTES.cases, { twin }, id);
  const [tab, setTab] = useState<Tab>("families");
  const [words, setWords] = useState("");
  const [familyAt, setFamilyAt] = useState(0);
  const [caseAt, setCaseAt] = useState(0);
  const [shownCase, setShownCase] = useState<string | null>(null);
  const [allowanceAt, setAllowanceAt] = useState(0);
  const [isAdding, setAdding] = useState(false);
  const families = useMemo(() => (data ? filterFamilies(data.families, words) : []), [data, words]);
  const all = useMemo(() => (data ? fromColumns(data.cases) : []), [data]);
  const cases = useMemo(() => filterCases(all, words), [all, words]);
  const family = families[Math.min(familyAt, families.length - 1)];
  const allowance = data?.allowances[Math.min(allowanceAt, data.allowances.length - 1)];
  const chosen = tab === "families" ? (shownCase ?? family?.simplest ?? null) : (cases[caseAt]?.id ?? null);
  const detail = useView(ROUTES.case, chosen === null ? null : { case: chosen, twin }, id);
  const shown = detail.data?.id === chosen ? detail.data : null;
  const field = useRef<HTMLInputElement>(null);
  const making = useMaking(id, reload);
  const move = (step: number) => {
    if (tab === "make") return;
    if (tab === "families") {
      setFamilyAt((before) => clamp(before + step, families.length));
      setShownCase(null);
    } else if (tab === "all") setCaseAt((before) => clamp(before + step, cases.length));
    else setAllowanceAt((before) => clamp(before + step, data?.allowances.length ?? 0));
  };
  /** A case that was just added is run at once and shown. */
  const showAdded = (name: string) => {
    setAdding(false);
    setTab("all");
    setWords(name);
    setCaseAt(0);
    events.start({ caseId: name, ...(twin ? { twin } : {}) });
    reload();
  };
  const goTo = () => {
    const item = all.find((entry) => entry.id === chosen);
    if (item?.module)
      router.push(`${benchHref(id, item.module, twin, item.section)}&case=${encodeURIComponent(item.id)}`);
  };
  const keys: Key[] = [
    { key: "ArrowDown", shows: "↓", does: "next in the list", run: () => move(1) },
    { key: "ArrowUp", shows: "↑", does: "previous", run: () => move(-1) },
    { key: "1", does: "families", run: () => setTab("families") },
    { key: "2", does: "all cases", run: () => setTab("all") },
    { key: "3", does: "allowances", run: () => setTab("allowances") },
    { key: "4", does: "make cases", run: () => setTab("make") },
    { key: "n", does: "add a case", run: () => setAdding(data !== null) },
    { key: "f", does: "filter", run: () => field.current?.focus() },
    { key: "g", does: "go to both sections on the Bench", run: goTo },
    { key: "s", does: "shrink the input of the case" },
    { key: "a", does: "agree to what the case shows" },
    { key: "m", does: "try mends for the case" },
    { key: "r", does: "copy a reproducer of the case" },
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
                  words={`Families ${formatCount(families.length)}`}
                />
                <TabButton name="all" tab={tab} onChoose={setTab} words={`All cases ${formatCount(cases.length)}`} />
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
                  onChange={(event) => setWords(event.target.value)}
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
                onChoose={(at) => {
                  setFamilyAt(at);
                  setShownCase(null);
                }}
                isChecked={data.port.lastCheck !== null}
              />
            )}
            {tab === "all" && (
              <>
                <Exchange port={id} twin={data.twin} words={words} onAdd={() => setAdding(true)} onImported={reload} />
                <CaseList cases={cases} at={caseAt} onChoose={setCaseAt} isEmpty={all.length === 0} />
              </>
            )}
            {tab === "make" && <MakeCases modules={data.modules} making={making} />}
            {tab === "allowances" && (
              <AllowanceList allowances={data.allowances} chosen={allowance} onChoose={setAllowanceAt} />
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
                onChoose={setShownCase}
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
      {isAdding && data && <AddCase data={data} taken={all} onClose={() => setAdding(false)} onAdded={showAdded} />}
    </PortFrame>
  );
}

const clamp = (index: number, count: number): number => Math.max(0, Math.min(count - 1, index));

function filterFamilies(families: readonly FamilyView[], words: string): readonly FamilyView[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  return families.filter(({ module, call, sentence, at }) => {
    const text = `${module ?? "program"} ${call} ${sentence} ${at} differ`.toLowerCase();
    return wanted.every((word) => text.includes(word));
  });
}

type TabProps = {
  readonly name: Tab;
  readonly tab: Tab;
  readonly words: string;
  readonly onChoose: (tab: Tab) => void;
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
  readonly onChoose: (at: number) => void;
  readonly isChecked: boolean;
  /** Whether the filter hides families. */
  readonly isFiltered: boolean;
};

const SHOWN_MARKS = 24;

function describeNone(cases: number, isChecked: boolean, isFiltered: boolean): string {
  if (cases === 0) return "No cases yet. Press 4 to record or generate some, n to write one.";
  if (isFiltered) return "No family matches the filter.";
  return isChecked ? "No case differs." : "Not checked yet. Press c to check.";
}

function FamilyList({ families, total, chosen, onChoose, isChecked, isFiltered }: FamilyListProps) {
  const inSection = useMemo(() => {
    const counts = new Map<string, number>();
    for (const { module, section } of total) {
      const key = `${module ?? ""}\0${section}`;
      counts.set(key, (counts.get(key) ?? 0) + 1);
    }
    return counts;
  }, [total]);
  return (
    <ul className={styles.families}>
      {families.length === 0 && <li className={styles.none}>{describeNone(total.length, isChecked, isFiltered)}</li>}
      {families.map((family, index) => (
        <li key={family.id}>
          <button
            type="button"
            className={styles.family}
            aria-pressed={family === chosen}
            onClick={() => onChoose(index)}
          >
            <Mark mark="differ" />
            <span className={styles.sentence}>{family.sentence}</span>
            <span className="soft">
              {family.cases.length} of {inSection.get(`${family.module ?? ""}\0${family.call}`) ?? family.cases.length}
            </span>
            <span className={styles.where}>{[family.module ?? "program", family.call].join(".")}</span>
            <span className={styles.marks} aria-hidden="true">
              {family.cases.slice(0, SHOWN_MARKS).map((name) => (
                <Mark key={name} mark="differ" />
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
}: {
  cases: readonly CaseListing[];
  at: number;
  onChoose: (at: number) => void;
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
          {isEmpty
            ? "No cases yet. Press 4 to record or generate some, n to write one."
            : "No case matches the filter."}
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
                onClick={() => onChoose(index)}
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
