"use client";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useRouter } from "next/navigation";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Mark as MarkName } from "@/api/case-listing";
import { ROUTES } from "@/api/routes";
import type { BenchView as Bench, TapeCase } from "@/api/views";
import { benchHref } from "@/ui/api";
import { PortFrame } from "@/ui/frame/port-frame";
import { type FoldChoices, isFolded, needsWork } from "@/ui/state/folding";
import { complainingModules, complaintsIn, complaintsOf } from "@/ui/state/ladder";
import type { Key } from "@/ui/state/use-keys";
import { useLadder } from "@/ui/state/use-ladder";
import { usePortEvents } from "@/ui/state/use-port-events";
import { useView } from "@/ui/state/use-view";
import styles from "@/ui/views/bench/bench.module.css";
import { BenchHead } from "@/ui/views/bench/bench-head";
import { BenchRow } from "@/ui/views/bench/bench-row";
import { CaseTape, tapeOrder } from "@/ui/views/bench/case-tape";
import { GoneBand } from "@/ui/views/bench/drift-band";
import { PairDialog } from "@/ui/views/bench/pair-dialog";
import { RowEditor } from "@/ui/views/bench/row-editor";
import { SavedNotice } from "@/ui/views/bench/saved-notice";
import { Reader } from "@/ui/views/reader/reader";

type Props = {
  readonly id: string;
  readonly module: string;
  readonly twin: string | null;
  readonly initialCase: string | null;
  /** The section that is to be looked at first; without one that of the case to be read. */
  readonly initialSection: string | null;
};

/** One module as facing pages, with the case tape and the reader below. */
export function BenchView({ id, module, twin, initialCase, initialSection }: Props) {
  const router = useRouter();
  const events = usePortEvents(id);
  const { data, error, reload } = useView(ROUTES.bench, { module, twin }, id);
  const [row, setRow] = useState(0);
  const [picked, setPicked] = useState<string | null>(initialCase);
  const [folds, setFolds] = useState<FoldChoices>({});
  const [openOnly, setOpenOnly] = useState(false);
  const [pairing, setPairing] = useState(false);
  const [editing, setEditing] = useState<string | null>(null);

  const twinName = data?.twin ?? twin ?? "";
  const cases = useMemo(() => withNews(data?.cases ?? [], events.fresh, twinName), [data, events.fresh, twinName]);
  const rows = useMemo(
    () => (data ? data.rows.filter((entry) => !openOnly || needsWork(entry)) : []),
    [data, openOnly],
  );
  const ladder = useLadder(id, data?.twin ?? null);
  const complaints = useMemo(() => complaintsOf(ladder.view, module), [ladder.view, module]);
  const [walked, setWalked] = useState({ module, at: -1 });
  const chosen = picked ?? firstToRead(cases)?.id ?? null;
  const chosenCase = cases.find((item) => item.id === chosen) ?? null;
  const detail = useView(ROUTES.case, chosen === null ? null : { case: chosen, twin }, id);
  const reloadCase = detail.reload;
  const chosenMark = chosenCase?.mark;
  // A new verdict of the chosen case is loaded while the check goes on.
  const readMark = useRef(chosenMark);
  useEffect(() => {
    if (readMark.current !== chosenMark && readMark.current !== undefined) reloadCase();
    readMark.current = chosenMark;
  }, [chosenMark, reloadCase]);

  const isRowFolded = (entry: Bench["rows"][number] | undefined, choices: FoldChoices) =>
    entry !== undefined && isFolded(entry, choices, complaintsIn(complaints, entry.twin).length > 0);
  const pages = useRef<HTMLDivElement>(null);
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => pages.current,
    estimateSize: (index) => estimateHeight(rows[index], isRowFolded(rows[index], folds)),
    getItemKey: (index) => rows[index]?.id ?? index,
    overscan: 6,
  });

  const pick = (item: TapeCase | undefined) => {
    if (!item) return;
    setPicked(item.id);
    const at = rows.findIndex((entry) => entry.name === item.section);
    if (at >= 0) {
      setRow(at);
      list.scrollToIndex(at, { align: "auto" });
    }
  };
  // When the module is first shown, the row of the case to be read is the one to look at.
  const settled = useRef(false);
  useEffect(() => {
    const wanted = initialSection ?? chosenCase?.section;
    if (settled.current || wanted === undefined || rows.length === 0) return;
    settled.current = true;
    const at = rows.findIndex((entry) => entry.name === wanted);
    const entry = rows[at];
    if (!entry) return;
    setRow(at);
    if (initialSection) {
      setFolds((before) => ({ ...before, [entry.id]: false }));
      const own = cases.find((item) => item.section === initialSection);
      if (own && initialCase === null) setPicked(own.id);
    }
    list.scrollToIndex(at, { align: "start" });
  }, [chosenCase, rows, list, cases, initialCase, initialSection]);
  const move = (step: number) => {
    const next = Math.max(0, Math.min(rows.length - 1, row + step));
    setRow(next);
    list.scrollToIndex(next, { align: "auto" });
  };
  const ordered = tapeOrder(cases);
  const step = (direction: 1 | -1, wanted: (item: TapeCase) => boolean) => {
    const from = ordered.findIndex((item) => item.id === chosen);
    const rest = direction === 1 ? ordered.slice(from + 1) : ordered.slice(0, Math.max(0, from)).reverse();
    pick(rest.find(wanted));
  };
  const differs = (item: TapeCase) => ["differ", "broken", "unsteady"].includes(item.mark);
  const toggle = (index: number) => {
    const entry = rows[index];
    if (entry) setFolds((before) => ({ ...before, [entry.id]: !isRowFolded(entry, before) }));
  };
  const walkComplaints = (direction: 1 | -1) => {
    const next = (walked.module === module ? walked.at : -1) + direction;
    const found = complaints[next];
    if (!found) {
      const [all, from] = [data?.modules ?? [], (data?.modules ?? []).indexOf(module)];
      const rest = complainingModules(
        ladder.view,
        direction === 1 ? all.slice(from + 1) : all.slice(0, from).reverse(),
      );
      if (rest[0]) router.push(benchHref(id, rest[0], twin));
      return;
    }
    setWalked({ module, at: next });
    const at = rows.findIndex((entry) => complaintsIn([found], entry.twin).length > 0);
    const entry = rows[at];
    if (!entry) return;
    setRow(at);
    setFolds((before) => ({ ...before, [entry.id]: false }));
    list.scrollToIndex(at, { align: "auto" });
  };
  const neighbour = (direction: number) => {
    const names = data?.modules ?? [];
    const next = names[names.indexOf(module) + direction];
    if (next) router.push(benchHref(id, next, twin));
  };
  const file = data?.files.twin[0]?.file ?? null;
  const write = (entry: Bench["rows"][number] | undefined) => {
    if (!entry || (entry.twin === null && (entry.relation !== "missing" || file === null))) return;
    setFolds((before) => ({ ...before, [entry.id]: false }));
    setEditing(entry.id);
  };
  const [undoable, setUndoable] = useState<string | null>(null);
  const saved = (snapshot: string | null) => {
    setUndoable(snapshot);
    reload();
    check();
    if (ladder.view?.diagnosed) ladder.toggle();
  };
  const check = () => events.start({ module, ...(twin ? { twin } : {}) });
  const keys: Key[] = [
    { key: "ArrowDown", shows: "↓", does: "next row", run: () => move(1) },
    { key: "ArrowUp", shows: "↑", does: "row before", run: () => move(-1) },
    { key: "Enter", does: "fold or open the row", run: () => toggle(row) },
    { key: "e", does: "why the row is paired so, and pair it otherwise", run: () => setPairing(true) },
    { key: "w", does: "write in the twin's page of the row", run: () => write(rows[row]) },
    { key: "o", does: "show open rows only, or all", run: () => setOpenOnly((before) => !before) },
    { key: "ArrowRight", shows: "→", does: "next case", run: () => step(1, () => true) },
    { key: "ArrowLeft", shows: "←", does: "case before", run: () => step(-1, () => true) },
    { key: "n", does: "next case that differs", run: () => step(1, differs) },
    { key: "p", does: "case before that differs", run: () => step(-1, differs) },
    { key: ".", does: "next complaint, also of the next module", run: () => walkComplaints(1) },
    { key: ",", does: "complaint before", run: () => walkComplaints(-1) },
    { key: "l", does: "run the checks of the ladder, or stop them", run: ladder.toggle },
    { key: "c", does: "check this module", run: check },
    { key: "x", does: "stop the check", run: events.stop },
    { key: "]", does: "next module", run: () => neighbour(1) },
    { key: "[", does: "module before", run: () => neighbour(-1) },
    { key: "s", does: "shrink the input of the case" },
    { key: "a", does: "agree to what the case shows" },
    { key: "m", does: "try mends for the case" },
    { key: "r", does: "copy a reproducer of the case" },
    { key: "u", does: "up to the Order", run: () => router.push(`/port/${id}/order`) },
  ];
  return (
    <PortFrame
      className={styles.view}
      port={data?.port ?? null}
      view="bench"
      module={module}
      modules={data?.modules ?? []}
      twin={twin}
      events={events}
      keys={keys}
      error={error ?? ladder.problem}
    >
      {data && (
        <>
          <BenchHead
            bench={data}
            complaints={ladder.view?.diagnosed ? complaints.length : null}
            building={ladder.building}
            openOnly={openOnly}
            running={events.running}
            onOpenOnly={() => setOpenOnly(!openOnly)}
            onCheck={check}
          />
          <main className={styles.pages} ref={pages} aria-label="Facing pages" tabIndex={-1}>
            {rows.length === 0 && (
              <p className={styles.nothing}>
                {openOnly ? "No row needs work." : "The original of this module is empty."}
              </p>
            )}
            {data.gone.map((gone) => (
              <GoneBand
                key={gone.section}
                gone={gone}
                place={{ port: id, module, section: gone.section, twin: twinName }}
              />
            ))}
            <div style={{ height: list.getTotalSize(), position: "relative" }}>
              {list.getVirtualItems().map((item) => {
                const entry = rows[item.index];
                return (
                  entry && (
                    <div
                      key={item.key}
                      ref={list.measureElement}
                      data-index={item.index}
                      className={styles.place}
                      style={{ transform: `translateY(${item.start}px)` }}
                    >
                      <BenchRow
                        row={entry}
                        files={data.files}
                        complaints={complaints}
                        folded={isRowFolded(entry, folds)}
                        selected={item.index === row}
                        onSelect={() => {
                          setRow(item.index);
                          const own = cases.filter((candidate) => candidate.section === entry.name);
                          if (own.length > 0 && !own.some((candidate) => candidate.id === chosen))
                            setPicked((own.find(differs) ?? own[0])?.id ?? null);
                        }}
                        onToggle={() => toggle(item.index)}
                        place={{ port: id, module, twin: twinName }}
                        onWrite={entry.twin || file ? () => write(entry) : null}
                        editor={
                          editing === entry.id && (
                            <RowEditor
                              key={entry.id}
                              port={id}
                              twin={twinName}
                              module={module}
                              section={entry.name}
                              file={entry.twin?.file ?? file ?? ""}
                              language={data.port.twins.find(({ name }) => name === twinName)?.language ?? null}
                              lines={entry.twin}
                              onSaved={saved}
                              onClose={() => setEditing(null)}
                            />
                          )
                        }
                        onPair={() => {
                          setRow(item.index);
                          setPairing(true);
                        }}
                      />
                    </div>
                  )
                );
              })}
            </div>
          </main>
          {undoable !== null && (
            <SavedNotice port={id} snapshot={undoable} onUndone={() => saved(null)} onClose={() => setUndoable(null)} />
          )}
          {pairing && rows[row] && rows[row].kind !== "between" && (
            <PairDialog
              bench={data}
              row={rows[row]}
              onClose={() => {
                setPairing(false);
                reload();
              }}
            />
          )}
          <CaseTape cases={cases} chosen={chosen} onPick={pick} check={data.port.lastCheck} />
          <Reader
            detail={detail.data?.id === chosen ? detail.data : null}
            error={detail.error}
            port={id}
            twin={twinName}
            chosen={chosen}
          />
        </>
      )}
    </PortFrame>
  );
}

/** The stored marks, overlaid with the verdicts that came in since. */
function withNews(cases: readonly TapeCase[], fresh: ReadonlyMap<string, MarkName>, twin: string): TapeCase[] {
  return cases.map((item) => {
    const mark = fresh.get(`${twin}\0${item.id}`);
    return mark ? { ...item, mark, stale: false } : item;
  });
}

const firstToRead = (cases: readonly TapeCase[]): TapeCase | undefined =>
  tapeOrder(cases).find((item) => item.mark === "differ" || item.mark === "broken" || item.mark === "unsteady") ??
  tapeOrder(cases)[0];

const LINE_HEIGHT = 19;

function estimateHeight(row: Bench["rows"][number] | undefined, folded: boolean): number {
  if (!row || folded) return 30;
  const lines = (piece: { from: number; to: number } | null) => (piece ? piece.to - piece.from + 1 : 1);
  const drift = row.drift ? 40 + LINE_HEIGHT * Math.max(row.drift.lines.length, 4) : 0;
  return 11 + LINE_HEIGHT * Math.max(lines(row.original), lines(row.twin), 3) + drift;
}
