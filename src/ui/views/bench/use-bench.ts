"use client";
import { useRouter } from "next/navigation";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Mark as MarkName } from "@/api/case-listing";
import { ROUTES } from "@/api/routes";
import type { BenchView as Bench, CaseLinesView, PlaceOnBench, TapeCase } from "@/api/views";
import { ask, benchHref, newCaseHref } from "@/ui/api";
import { useNotice } from "@/ui/frame/notices";
import { placeOf } from "@/ui/state/bench-rows";
import { useCheckOnSave, useDiagnoseOnSave } from "@/ui/state/check-on-save";
import { type FoldChoices, isFolded, needsWork } from "@/ui/state/folding";
import { complainingModules, complaintsIn, complaintsOf } from "@/ui/state/ladder";
import { holds } from "@/ui/state/place-on-bench";
import { turning } from "@/ui/state/undoing";
import { useAddress } from "@/ui/state/use-address";
import { useAsk } from "@/ui/state/use-ask";
import type { Key } from "@/ui/state/use-keys";
import { useLadder } from "@/ui/state/use-ladder";
import { usePortEvents } from "@/ui/state/use-port-events";
import { useView } from "@/ui/state/use-view";
import { tapeOrder } from "@/ui/views/bench/case-tape";

/** The module, case and place to open on the Bench. */
export type BenchProps = {
  readonly id: string;
  readonly module: string;
  readonly twin: string | null;
  readonly initialCase: string | null;
  /** The section that is to be looked at first; without one that of the case to be read. */
  readonly initialSection: string | null;
  /** The line that is to be looked at; it comes before a section. */
  readonly initialPlace: PlaceOnBench | null;
};

type Row = Bench["rows"][number];

/** The state of the Bench and its acts; `show` scrolls to a row. */
export function useBench(
  { id, module, twin, initialCase, initialSection, initialPlace }: BenchProps,
  show: (row: number) => void,
) {
  const router = useRouter();
  const events = usePortEvents(id);
  const { data, error, reload } = useView(ROUTES.bench, { module, twin }, id);
  const [rowId, setRowId] = useState<string | null>(null);
  const [picked, setPicked] = useState<string | null>(initialCase);
  const [folds, setFolds] = useState<FoldChoices>({});
  const [openOnly, setOpenOnly] = useState(false);
  const [pairing, setPairing] = useState(false);
  const [editing, setEditing] = useState<string | null>(null);
  const [ran, setRan] = useState<{ readonly case: string; readonly lines: CaseLinesView } | null>(null);
  const { attempt, busy: isTracing, refusal } = useAsk();
  const notice = useNotice();

  const twinName = data?.twin ?? twin ?? "";
  const cases = useMemo(() => withNews(data?.cases ?? [], events.fresh, twinName), [data, events.fresh, twinName]);
  const all = useMemo(() => data?.rows ?? [], [data]);
  const rows = useMemo(() => all.filter((entry) => !openOnly || needsWork(entry)), [all, openOnly]);
  const row = placeOf(rowId, rows, all);
  const current = rows[row];
  const ladder = useLadder(id, data?.twin ?? null);
  const complaints = useMemo(() => complaintsOf(ladder.view, module), [ladder.view, module]);
  const [walked, setWalked] = useState({ module, at: -1 });
  // Once shown it stays: a case that was mended is not taken out of the reader by that.
  const [first, setFirst] = useState<string | null>(null);
  const wanted = picked ?? first;
  const firstId = cases.length > 0 ? (firstToRead(cases)?.id ?? null) : null;
  useEffect(() => setFirst((before) => before ?? firstId), [firstId]);
  // A case that was deleted makes room for the next one to read.
  const chosen = data && !cases.some((item) => item.id === wanted) ? firstId : wanted;
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
  useAddress({ section: current?.name ?? initialSection, case: chosen ?? initialCase });

  const isRowFolded = (entry: Row | undefined, choices: FoldChoices = folds) =>
    entry !== undefined && isFolded(entry, choices, complaintsIn(complaints, entry.twin).length > 0);
  // A differing row stays open when it is mended, until the user folds it.
  const opened = useRef(false);
  useEffect(() => {
    if (opened.current || all.length === 0) return;
    opened.current = true;
    const open = all.filter(({ mark }) => mark === "differ" || mark === "broken" || mark === "unsteady");
    setFolds((before) => ({ ...Object.fromEntries(open.map((entry) => [entry.id, false])), ...before }));
  }, [all]);
  const goTo = (at: number) => {
    const entry = rows[at];
    if (!entry) return;
    setRowId(entry.id);
    show(at);
  };
  const unfold = (entry: Row) => setFolds((before) => ({ ...before, [entry.id]: false }));
  const pick = (item: TapeCase | undefined) => {
    if (!item) return;
    setPicked(item.id);
    goTo(rows.findIndex((entry) => entry.name === item.section));
  };
  // When the module is first shown, the row of the case to be read is the one to look at.
  const settled = useRef(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: done once, as soon as the rows are there
  useEffect(() => {
    const wanted = initialSection ?? chosenCase?.section;
    if (settled.current || (wanted === undefined && !initialPlace) || rows.length === 0) return;
    settled.current = true;
    const at = rows.findIndex((entry) =>
      initialPlace ? holds(entry[initialPlace.side], initialPlace) : entry.name === wanted,
    );
    const entry = rows[at];
    if (!entry) return;
    if (initialPlace) unfold(entry);
    if (initialSection) {
      unfold(entry);
      const first = firstOf(initialSection, cases);
      if (first && initialCase === null) setPicked(first.id);
    }
    goTo(at);
  }, [chosenCase, rows]);
  const move = (step: number) => goTo(Math.max(0, Math.min(rows.length - 1, row + step)));
  const step = (direction: 1 | -1, wanted: (item: TapeCase) => boolean) => {
    const ordered = tapeOrder(cases);
    const from = ordered.findIndex((item) => item.id === chosen);
    const rest = direction === 1 ? ordered.slice(from + 1) : ordered.slice(0, Math.max(0, from)).reverse();
    pick(rest.find(wanted));
  };
  const select = (entry: Row) => {
    setRowId(entry.id);
    const first = firstOf(entry.name, cases);
    if (first && chosenCase?.section !== entry.name) setPicked(first.id);
  };
  const toggle = (entry: Row | undefined) => {
    if (entry) setFolds((before) => ({ ...before, [entry.id]: !isRowFolded(entry, before) }));
  };
  const walkedTo = walked.module === module ? complaints[walked.at] : undefined;
  const walkComplaints = (direction: 1 | -1) => {
    const next = (walked.module === module ? walked.at : -1) + direction;
    const found = complaints[next];
    if (!found) {
      const [names, from] = [data?.modules ?? [], (data?.modules ?? []).indexOf(module)];
      const rest = complainingModules(
        ladder.view,
        direction === 1 ? names.slice(from + 1) : names.slice(0, from).reverse(),
      );
      if (rest[0]) router.push(benchHref(id, rest[0], twin));
      return;
    }
    setWalked({ module, at: next });
    const at = rows.findIndex((entry) => complaintsIn([found], entry.twin).length > 0);
    const entry = rows[at];
    if (!entry) return;
    unfold(entry);
    goTo(at);
  };
  const neighbour = (direction: number) => {
    const names = data?.modules ?? [];
    const next = names[names.indexOf(module) + direction];
    if (next) router.push(benchHref(id, next, twin));
  };
  const file = data?.files.twin[0]?.file ?? data?.expected ?? null;
  const write = (entry: Row | undefined) => {
    if (!entry || (entry.twin === null && (entry.relation !== "missing" || file === null))) return;
    unfold(entry);
    setEditing(entry.id);
  };
  const pair = (entry: Row | undefined) => {
    if (!entry || entry.kind === "between") return;
    setRowId(entry.id);
    setPairing(true);
  };
  const check = () => events.start({ module, ...(twin ? { twin } : {}) });
  const saved = () => {
    reload();
    // Without a case there is nothing to check.
    if (cases.length > 0) events.start({ module, ...(twin ? { twin } : {}), patient: true });
    if (ladder.view?.diagnosed) ladder.start();
  };
  /** Undoes the last change of files, or redoes what was undone last. */
  const turn = (route: typeof ROUTES.undo | typeof ROUTES.redo) =>
    attempt(async () => {
      const done = await ask(route, {}, { port: id });
      saved();
      const text = route === ROUTES.undo ? `Undone: ${done.what}.` : `Done again: ${done.what}.`;
      notice({ text, isUndone: route === ROUTES.undo, ...turning(id, done.id, saved) });
    });
  const onSave = useCheckOnSave({
    cases: cases.length,
    saves: events.saves,
    isStale: data?.module.stale ?? false,
    isRunning: events.running,
    check: () => events.start({ module, ...(twin ? { twin } : {}), patient: true }),
  });
  useDiagnoseOnSave({ isOn: onSave.isOn, saves: events.saves, ladder });
  /** Marks the lines that the chosen case ran, or takes the marks away. */
  const showRan = () => {
    if (chosen === null) return;
    if (ran?.case === chosen) setRan(null);
    else
      attempt(async () => {
        const lines = await ask(ROUTES.caseLines, { case: chosen, twin: twinName }, { port: id });
        setRan({ case: chosen, lines });
      });
  };
  const keys: Key[] = [
    { key: "ArrowDown", shows: "↓", does: "next row", run: () => move(1) },
    { key: "ArrowUp", shows: "↑", does: "row before", run: () => move(-1) },
    { key: "Enter", does: "fold or open the row", run: () => toggle(current) },
    { key: "e", does: "why the row is paired so, and pair it otherwise", run: () => pair(current) },
    { key: "w", does: "write in the twin's page of the row", run: () => write(current) },
    { key: "o", does: "only what needs work, or all", run: () => setOpenOnly((before) => !before) },
    { key: "ArrowRight", shows: "→", does: "next case", run: () => step(1, () => true) },
    { key: "ArrowLeft", shows: "←", does: "case before", run: () => step(-1, () => true) },
    { key: "n", does: "next case that differs", run: () => step(1, differs) },
    { key: "p", does: "case before that differs", run: () => step(-1, differs) },
    { key: "h", does: "mark the lines that the case ran, on both sides", run: showRan },
    { key: ".", does: "next complaint, also of the next module", run: () => walkComplaints(1) },
    { key: ",", does: "complaint before", run: () => walkComplaints(-1) },
    { key: "u", does: "undo the last change of files", run: () => turn(ROUTES.undo) },
    { key: "U", does: "redo what was undone last", run: () => turn(ROUTES.redo) },
    { key: "l", does: "run the checks of the ladder, or stop them", run: ladder.toggle },
    { key: "c", does: "check this module", run: check },
    { key: "x", does: "stop the check", run: events.stop },
    { key: "]", does: "next module", run: () => neighbour(1) },
    { key: "[", does: "module before", run: () => neighbour(-1) },
    {
      key: "N",
      does: "add a case of this section",
      run: () => router.push(newCaseHref(id, twin, module, current?.name)),
    },
    { key: "s", does: "shrink the input of the case" },
    { key: "a", does: "allow the difference of the case" },
    { key: "m", does: "try mends for the case" },
    { key: "r", does: "copy a reproducer of the case" },
    { key: "z", does: "go to where the two sides part inside" },
  ];
  return {
    ...{ data, error, refusal, events, ladder, complaints, twinName, file, keys },
    ...{ rows, row, current, cases, chosen, chosenCase, detail, openOnly, pairing, editing, onSave },
    ran: ran?.case === chosen ? ran.lines : null,
    quote: walkedTo ? `${walkedTo.file}:${walkedTo.line}: ${walkedTo.message}` : null,
    ...{ isTracing, showRan, isRowFolded, select, toggle, pair, write, pick, check, saved, reload },
    toggleOpenOnly: () => setOpenOnly(!openOnly),
    closePairing: () => {
      setPairing(false);
      reload();
    },
    closeEditor: () => setEditing(null),
  };
}

const differs = (item: TapeCase): boolean => ["differ", "broken", "unsteady"].includes(item.mark);

/** The first case of a section that differs, or else its first. */
function firstOf(section: string, cases: readonly TapeCase[]): TapeCase | undefined {
  const own = cases.filter((item) => item.section === section);
  return own.find(differs) ?? own[0];
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
