"use client";
import InputBase from "@mui/material/InputBase";
import { formatCount } from "@/ui/format";
import { PortFrame } from "@/ui/frame/port-frame";
import type { CaseTab } from "@/ui/state/cases-choice";
import { AddCase } from "@/ui/views/cases/add-case";
import { AllowanceList, AllowancePage } from "@/ui/views/cases/allowances";
import { CaseList, FamilyList } from "@/ui/views/cases/case-lists";
import styles from "@/ui/views/cases/cases.module.css";
import { Exchange } from "@/ui/views/cases/exchange";
import { FamilyPage } from "@/ui/views/cases/family-page";
import { MadeCases } from "@/ui/views/cases/made-cases";
import { MakeCases } from "@/ui/views/cases/make-cases";
import { type CasesProps, useCases } from "@/ui/views/cases/use-cases";
import { Answers } from "@/ui/views/reader/answers";
import { Finding } from "@/ui/views/reader/finding";
import { Input } from "@/ui/views/reader/input";

/** The shared cases of the port: families of those that differ first, then all of them. */
export function CasesView(props: CasesProps) {
  const { id, twin } = props;
  const view = useCases(props);
  const { data, error, reload, events, keys, making, choose, setTab, field } = view;
  const { tab, words, families, all, cases, family, allowance, caseAt, chosen, shown } = view;
  const { adding, add, showAdded, showImported, goTo, closeForm, checkAll } = view;
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
                {data.canMake && <TabButton name="make" tab={tab} onChoose={setTab} words="Make" />}
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
                canMake={data.canMake}
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
                  canMake={data.canMake}
                  onClear={() => choose({ words: "" })}
                />
              </>
            )}
            {tab === "make" && data.canMake && (
              <MakeCases port={id} modules={data.modules} module={props.module} making={making} />
            )}
            {tab === "allowances" && (
              <AllowanceList
                allowances={data.allowances}
                chosen={allowance}
                onChoose={(name) => choose({ allowance: name })}
              />
            )}
          </aside>
          <main className={styles.page} aria-label="What is chosen">
            {tab === "make" && <MadeCases made={making.made} making={making} onCheck={checkAll} />}
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
      {adding && data && <AddCase data={data} taken={all} {...adding} onClose={closeForm} onAdded={showAdded} />}
    </PortFrame>
  );
}

/** `3 of 17` where a filter hides some. */
const countOf = (shown: number, all: number): string =>
  shown === all ? formatCount(all) : `${formatCount(shown)} of ${formatCount(all)}`;

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
