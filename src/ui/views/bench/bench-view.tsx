"use client";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useMemo, useRef } from "react";
import type { ChangedSection } from "@/api/making-views";
import { MARK_WORDS } from "@/api/mark-words";
import type { BenchView as Bench, PlaceOnBench } from "@/api/views";
import { useNotice } from "@/ui/frame/notices";
import { PortFrame } from "@/ui/frame/port-frame";
import { describeRow, describeTapeCase } from "@/ui/state/bench-rows";
import { countComplaints } from "@/ui/state/ladder";
import { turning } from "@/ui/state/undoing";
import { useSize } from "@/ui/state/use-size";
import styles from "@/ui/views/bench/bench.module.css";
import { BenchHead } from "@/ui/views/bench/bench-head";
import { BenchRow } from "@/ui/views/bench/bench-row";
import { Callers, useCallers } from "@/ui/views/bench/callers";
import { CaseTape } from "@/ui/views/bench/case-tape";
import type { FoundLine } from "@/ui/views/bench/code-lines";
import { GoneBand } from "@/ui/views/bench/drift-band";
import { FirstSteps } from "@/ui/views/bench/first-steps";
import { PairDialog } from "@/ui/views/bench/pair-dialog";
import { PickedBand } from "@/ui/views/bench/picked";
import { RowEditor } from "@/ui/views/bench/row-editor";
import { type BenchProps, useBench } from "@/ui/views/bench/use-bench";
import { Reader } from "@/ui/views/reader/reader";

/** One module as facing pages, with the case tape and the reader below. */
export function BenchView(props: BenchProps) {
  const { id, module, twin } = props;
  const pages = useRef<HTMLDivElement>(null);
  const scroll = useRef<(at: number) => void>(() => undefined);
  const bench = useBench(props, (at) => scroll.current(at));
  const { data, rows, row, current, cases, chosen, chosenCase, detail, events, ladder, complaints, twinName } = bench;
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => pages.current,
    estimateSize: (index) => estimateHeight(rows[index], bench.isRowFolded(rows[index])),
    getItemKey: (index) => rows[index]?.id ?? index,
    overscan: 6,
  });
  scroll.current = (at) => {
    // Of a row that is taller than the page the beginning is shown.
    const isTall = (list.measurementsCache[at]?.size ?? 0) > (pages.current?.clientHeight ?? 0);
    list.scrollToIndex(at, { align: isTall ? "start" : "auto" });
  };
  const { size, separator } = useSize("reader", { words: "Height of the reader", least: 90, most: 700, start: 236 });
  const notice = useNotice();
  const callers = useCallers(id);
  const found = useFoundLine(props.initialPlace);
  const saved = (snapshot: string | null, changed: readonly ChangedSection[] = []) => {
    bench.saved();
    callers.add(changed);
    if (snapshot !== null)
      notice({
        text: cases.length > 0 ? "Saved, and checked again." : "Saved.",
        ...turning(id, snapshot, bench.saved),
      });
  };
  return (
    <PortFrame
      className={styles.view}
      port={data?.port ?? null}
      view="bench"
      module={module}
      modules={data?.modules ?? []}
      twin={twin}
      events={events}
      keys={bench.keys}
      about={{ section: current?.name ?? null, case: chosen, quote: bench.quote }}
      error={bench.error ?? ladder.problem ?? bench.refusal}
    >
      {data && (
        <>
          <BenchHead
            bench={data}
            complaints={ladder.view?.diagnosed ? countComplaints(complaints) : null}
            onFirstBuild={ladder.view?.rungs.length && !ladder.view.diagnosed ? ladder.toggle : null}
            building={ladder.building}
            openOnly={bench.openOnly}
            running={events.running}
            onOpenOnly={bench.toggleOpenOnly}
            onCheck={bench.check}
            onSave={bench.onSave}
          />
          <FirstSteps bench={data} onSaved={saved} />
          <Callers port={id} callers={callers} />
          <PickedBand bench={data} />
          <main className={styles.pages} ref={pages} aria-label="Facing pages" tabIndex={-1}>
            {rows.length === 0 && (
              <p className={styles.nothing}>
                {bench.openOnly ? "No row needs work." : "The original of this module is empty."}
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
                        ran={bench.ran}
                        found={found}
                        folded={bench.isRowFolded(entry)}
                        selected={item.index === row}
                        onSelect={() => bench.select(entry)}
                        onToggle={() => bench.toggle(entry)}
                        place={{ port: id, module, twin: twinName }}
                        canDraft={data.canDraft}
                        onDrafted={saved}
                        onWrite={entry.twin || bench.file ? () => bench.write(entry) : null}
                        editor={
                          bench.editing === entry.id && (
                            <RowEditor
                              key={entry.id}
                              port={id}
                              twin={twinName}
                              module={module}
                              section={entry.name}
                              file={entry.twin?.file ?? bench.file ?? ""}
                              language={data.port.twins.find(({ name }) => name === twinName)?.language ?? null}
                              lines={entry.twin}
                              onSaved={saved}
                              onClose={bench.closeEditor}
                            />
                          )
                        }
                        onPair={() => bench.pair(entry)}
                        onChanged={bench.saved}
                      />
                    </div>
                  )
                );
              })}
            </div>
          </main>
          {bench.pairing && current && current.kind !== "between" && (
            <PairDialog bench={data} row={current} onClose={bench.closePairing} onPaired={bench.saved} />
          )}
          <CaseTape cases={cases} chosen={chosen} onPick={bench.pick} check={data.port.lastCheck} />
          {chosen !== null && (
            <>
              <div className={styles.separator} {...separator} />
              <Reader
                height={size}
                detail={detail.data?.id === chosen ? detail.data : null}
                error={detail.data?.id === chosen ? null : detail.error}
                port={id}
                twin={twinName}
                chosen={chosen}
                ran={{ isShown: bench.ran !== null, isBusy: bench.isTracing, toggle: bench.showRan }}
              />
            </>
          )}
          <p className="visually-hidden" aria-live="polite">
            {describeRow(current)}
          </p>
          <p className="visually-hidden" aria-live="polite">
            {describeTapeCase(chosenCase, MARK_WORDS)}
          </p>
        </>
      )}
    </PortFrame>
  );
}

/** The line that the Bench was opened for: it is brought to the middle once, when it is first drawn. */
function useFoundLine(place: PlaceOnBench | null): FoundLine | null {
  const isSeen = useRef(false);
  const show = useCallback((line: HTMLElement | null) => {
    if (line === null || isSeen.current) return;
    isSeen.current = true;
    // The rows above take their measured heights first.
    setTimeout(() => line.scrollIntoView({ block: "center" }), 100);
  }, []);
  return useMemo(() => place && { ...place, show }, [place, show]);
}

const LINE_HEIGHT = 19;

function estimateHeight(row: Bench["rows"][number] | undefined, folded: boolean): number {
  if (!row || folded) return 30;
  const lines = (piece: { from: number; to: number } | null) => (piece ? piece.to - piece.from + 1 : 1);
  const drift = row.drift ? 40 + LINE_HEIGHT * Math.max(row.drift.lines.length, 4) : 0;
  return 11 + LINE_HEIGHT * Math.max(lines(row.original), lines(row.twin), 3) + drift;
}
