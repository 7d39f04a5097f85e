import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { MARK_WORDS } from "@/api/mark-words";
import { ROUTES } from "@/api/routes";
import type { BenchFile, BenchView, CaseLinesView } from "@/api/views";
import { ask, describeRefusal } from "@/ui/api";
import { formatCount, plural } from "@/ui/format";
import { useNotice } from "@/ui/frame/notices";
import { useOpenPlace } from "@/ui/frame/place-link";
import { Mark } from "@/ui/marks/mark";
import { type Complaint, complaintsIn, countComplaints } from "@/ui/state/ladder";
import { useAsk } from "@/ui/state/use-ask";
import styles from "@/ui/views/bench/bench.module.css";
import { CallbackNote } from "@/ui/views/bench/callback-note";
import { CodeLines, type FoundLine } from "@/ui/views/bench/code-lines";
import { DriftBand } from "@/ui/views/bench/drift-band";

type Row = BenchView["rows"][number];
type Piece = NonNullable<Row["original"]>;

type Props = {
  readonly row: Row;
  readonly files: BenchView["files"];
  /** Of the module's twin. */
  readonly complaints: readonly Complaint[];
  /** The lines that the chosen case ran, where they are shown. */
  readonly ran: CaseLinesView | null;
  readonly found: FoundLine | null;
  /** Whether drafts are made between the two languages. */
  readonly canDraft: boolean;
  /** With the snapshot that undoes it. */
  readonly onDrafted: (snapshot: string | null) => void;
  readonly folded: boolean;
  readonly selected: boolean;
  readonly onSelect: () => void;
  readonly onToggle: () => void;
  readonly onPair: () => void;
  /** After the port file was changed. */
  readonly onChanged: () => void;
  /** Opens the twin's page in an editor; null where there is no file to write to. */
  readonly onWrite: (() => void) | null;
  /** The editor in place of the twin's page. */
  readonly editor: ReactNode;
  readonly place: { readonly port: string; readonly module: string; readonly twin: string };
};

/** One section of the original beside its twin, with their verdicts between them. */
export function BenchRow({
  row,
  files,
  complaints,
  ran,
  found,
  canDraft,
  onDrafted,
  folded,
  selected,
  onSelect,
  onToggle,
  onPair,
  onChanged,
  onWrite,
  editor,
  place,
}: Props) {
  const name = row.name || "between sections";
  const own = complaintsIn(complaints, row.twin);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: rows are walked and folded by the keys of the view
    <section
      className={`${styles.row} ${folded ? styles.folded : ""} ${selected ? styles.selected : ""}`}
      aria-label={name}
      data-section={row.name}
      onClick={onSelect}
    >
      <div className={styles.page} data-page="original">
        {row.original ? (
          <Page
            piece={row.original}
            files={files.original}
            folded={folded}
            ran={ran?.original}
            found={found?.side === "original" ? found : null}
            edge
          />
        ) : (
          <Empty text="Nothing in the original" />
        )}
      </div>
      <div className={styles.margin}>
        <button
          type="button"
          className={styles.fold}
          onClick={onToggle}
          aria-expanded={!folded}
          aria-label={[relationWords(row), MARK_WORDS[row.mark], `${folded ? "open" : "fold"} ${name}`]
            .filter(Boolean)
            .join(", ")}
        >
          {row.kind === "between" ? <span className={styles.dash} /> : <Mark mark={row.mark} />}
          <span>{relationWords(row)}</span>
        </button>
        {row.drift && <span className={styles.drifted}>drifted</span>}
        <span className={styles.count}>{countWords(row, folded)}</span>
        {countComplaints(own) > 0 && (
          <span className={styles.complaints}>{plural(countComplaints(own), "complaint")}</span>
        )}
        {!folded && selected && row.twin && onWrite && !editor && (
          <button type="button" className={styles.why} onClick={onWrite}>
            edit it
          </button>
        )}
        {!folded && row.callback && (
          <CallbackNote section={row.name} callback={row.callback} place={place} onChanged={onChanged} />
        )}
        {!folded && selected && <RowActs row={row} files={files} place={place} />}
        {!folded && row.kind !== "between" && (
          <button type="button" className={styles.why} onClick={onPair} title={row.reasons.join("\n")}>
            {row.isManual
              ? "paired by hand"
              : row.score === null
                ? "pair it"
                : `${Math.round(100 * row.score)} % match`}
          </button>
        )}
      </div>
      <div className={styles.page} data-page="twin">
        {editor ? (
          editor
        ) : row.twin ? (
          <Page
            piece={row.twin}
            files={files.twin}
            folded={folded}
            complaints={complaints}
            ran={ran?.twin}
            ranAlone={ran?.onlyHere}
            found={found?.side === "twin" ? found : null}
          />
        ) : (
          <Empty text={emptyWords(row)}>
            {onWrite && row.relation === "missing" && (
              <Button onClick={onWrite}>
                Begin it <kbd>w</kbd>
              </Button>
            )}
            {canDraft && row.relation === "missing" && row.kind !== "between" && (
              <DraftButton place={place} section={row.name} onDrafted={onDrafted} />
            )}
          </Empty>
        )}
      </div>
      {row.drift && !folded && <DriftBand drift={row.drift} place={{ ...place, section: row.name }} />}
    </section>
  );
}

/** Both places in the person's editor, and the original's text for the clipboard. */
function RowActs({ row, files, place: { port, twin } }: Pick<Props, "row" | "files" | "place">) {
  const { open, dialog } = useOpenPlace(port);
  const notice = useNotice();
  const copy = (piece: Piece, list: readonly BenchFile[]) => {
    const text =
      list
        .find(({ file }) => file === piece.file)
        ?.lines.slice(piece.from - 1, piece.to)
        .join("\n") ?? "";
    navigator.clipboard.writeText(text).then(
      () => notice({ text: `Copied ${piece.file}, lines ${piece.from} to ${piece.to}.` }),
      () => notice({ text: "The browser does not allow copying." }),
    );
  };
  const acts = (side: string, word: string, piece: Piece | null, list: readonly BenchFile[]) =>
    piece && (
      <span className={styles.acts}>
        <button
          type="button"
          className={styles.why}
          title={`${piece.file}:${piece.from}`}
          onClick={() => open({ side, file: piece.file, line: piece.from })}
        >
          open {word}
        </button>
        <button type="button" className={styles.why} aria-label={`Copy ${word}`} onClick={() => copy(piece, list)}>
          copy
        </button>
      </span>
    );
  return (
    <>
      {acts("original", "original", row.original, files.original)}
      {acts(twin, "twin", row.twin, files.twin)}
      {dialog}
    </>
  );
}

type DraftProps = Pick<Props, "place" | "onDrafted"> & { readonly section: string };

/** Drafts one section and reports the places left to a person. */
function DraftButton({ place: { port, module, twin }, section, onDrafted }: DraftProps) {
  const { attempt, busy } = useAsk();
  const notice = useNotice();
  const draft = () =>
    attempt(async () => {
      try {
        const { files, snapshot } = await ask(ROUTES.draft, { module, sections: [section], twin }, { port });
        const unsaid = files.flatMap(({ sections }) => sections.flatMap((own) => own.unsaid)).length;
        if (files.length === 0 || snapshot === null)
          notice({ text: "Nothing was drafted: no part of it can be translated." });
        else if (unsaid > 0)
          notice({ text: `Drafted ${section}; ${plural(unsaid, "place")} left to you, marked "not ported".` });
        onDrafted(snapshot);
      } catch (thrown) {
        notice({ text: describeRefusal(thrown) });
      }
    });
  return (
    <Button onClick={draft} disabled={busy}>
      Draft it
    </Button>
  );
}

function relationWords(row: Row): string {
  switch (row.relation) {
    case "between":
      return "";
    case "missing":
      return "not ported yet";
    case "merged":
      return `merged into ${row.twinName}`;
    case "moved":
      return `moved: ${row.twinName}`;
    case "split":
      return `split from ${row.twinName}`;
    default:
      return row.relation;
  }
}

function emptyWords(row: Row): string {
  if (row.kind === "between") return "";
  switch (row.relation) {
    case "merged":
      return `${row.twinName} answers for this section too`;
    case "moved":
      return `It is ${row.twinName}`;
    case "dropped":
      return `Dropped${row.reasons.length > 0 ? `: ${row.reasons.join("; ")}` : ""}`;
    default:
      return "Not ported yet";
  }
}

function countWords(row: Row, folded: boolean): string {
  const { cases, agree, allowed, skipped } = row.totals;
  if (row.kind === "between") return "";
  if (cases === 0 && row.cases > 0) return folded ? formatCount(row.cases) : `${plural(row.cases, "case")} not run yet`;
  if (cases === 0) return row.kind === "function" && !folded ? "no cases" : "";
  if (skipped === cases) return `${formatCount(cases)} wait`;
  if (folded) return allowed > 0 ? `${formatCount(cases)}, ${allowed} allowed` : formatCount(cases);
  return agree + allowed === cases
    ? plural(cases, "case")
    : `${formatCount(agree + allowed)} of ${formatCount(cases)} agree`;
}

type PageProps = {
  readonly piece: Piece;
  readonly files: readonly BenchFile[];
  readonly folded: boolean;
  readonly edge?: boolean;
  readonly ran?: Readonly<Record<string, readonly number[]>> | undefined;
  readonly ranAlone?: Readonly<Record<string, readonly number[]>> | undefined;
  readonly complaints?: readonly Complaint[];
  readonly found: FoundLine | null;
};

function Page({ piece, files, folded, edge = false, complaints, ran, ranAlone, found }: PageProps) {
  const file = files.find((entry) => entry.file === piece.file);
  if (!file) return null;
  // A folded row shows the line that names the section, not a comment above it.
  const named = folded ? firstCodeLine(file, piece) : piece.from;
  return (
    <CodeLines
      file={file}
      from={named}
      to={folded ? named : piece.to}
      edge={edge}
      ran={ran ? new Set(ran[piece.file]) : undefined}
      ranAlone={ranAlone ? new Set(ranAlone[piece.file]) : undefined}
      complaints={folded ? undefined : complaints}
      found={found?.file === piece.file ? found : null}
    />
  );
}

function firstCodeLine(file: BenchFile, piece: Piece): number {
  for (let line = piece.from; line <= piece.to; line++) {
    const first = file.spans[line - 1]?.[0];
    const text = file.lines[line - 1] ?? "";
    if (text.trim() !== "" && first?.[2] !== "c") return line;
  }
  return piece.from;
}

function Empty({ text, children }: { text: string; children?: ReactNode }) {
  return (
    <div className={styles.empty}>
      {text} {children}
    </div>
  );
}
