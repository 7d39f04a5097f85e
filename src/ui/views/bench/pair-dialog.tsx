"use client";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import InputBase from "@mui/material/InputBase";
import { useState } from "react";
import { ROUTES } from "@/api/routes";
import type { BenchView } from "@/api/views";
import { ask } from "@/ui/api";
import { useNotice } from "@/ui/frame/notices";
import { Problem } from "@/ui/frame/problem";
import { useAsk } from "@/ui/state/use-ask";
import styles from "@/ui/views/bench/pair-dialog.module.css";

type Row = BenchView["rows"][number];

type Props = {
  readonly bench: BenchView;
  readonly row: Row;
  readonly onClose: () => void;
  /** The pair was saved: what rests on it is checked. */
  readonly onPaired: () => void;
};

/** Why two sections are paired, and a person's word on it, which goes into the port file. */
export function PairDialog({ bench, row, onClose, onPaired }: Props) {
  const isTwinOnly = row.original === null;
  const now = isTwinOnly ? null : row.twin ? row.twinName : row.relation === "dropped" ? NOTHING : null;
  const [wanted, setWanted] = useState<string | null>(row.isManual ? (now ?? NOTHING) : now);
  const [note, setNote] = useState("");
  const { attempt, busy, refusal } = useAsk();
  const [words, setWords] = useState("");
  const every = optionsFor(bench.rows, isTwinOnly);
  const options = every.filter(({ name }) => name.toLowerCase().includes(words.toLowerCase()) || name === wanted);
  const notice = useNotice();
  const say = (forget: boolean) =>
    attempt(async () => {
      const other = wanted === NOTHING ? null : wanted;
      const sides = isTwinOnly ? { original: other, twin: row.name } : { original: row.name, twin: other };
      const body = { module: bench.module.name, on: bench.twin, ...sides, note, ...(forget ? { forget } : {}) };
      await ask(ROUTES.pair, body, { port: bench.port.id });
      onClose();
      onPaired();
      const { forget: _forget, ...pair } = body;
      notice({
        text: `${forget ? `${row.name} is paired automatically again` : `Paired ${row.name} by hand`}${bench.cases.length > 0 ? ", and checked" : ""}.`,
        undo: async () => {
          await ask(ROUTES.pair, { ...pair, forget: !forget }, { port: bench.port.id });
          onPaired();
        },
      });
    });
  return (
    <Dialog open onClose={onClose} aria-labelledby="pair" fullWidth maxWidth="sm">
      <DialogTitle id="pair">
        {isTwinOnly ? "Which original section does " : "Which twin section ports "}
        <span className="mono">{row.name}</span>
        {isTwinOnly ? " port?" : "?"}
      </DialogTitle>
      <DialogContent>
        <form
          id="pair-form"
          onSubmit={(event) => {
            event.preventDefault();
            if (wanted !== null) say(false);
          }}
        >
          <Basis row={row} />
          {every.length > MIN_FOR_SEARCH && (
            <InputBase
              fullWidth
              autoFocus
              placeholder="find a section"
              value={words}
              onChange={(event) => setWords(event.target.value)}
              inputProps={{ "aria-label": "Find a section" }}
            />
          )}
          <div className={styles.options} role="radiogroup" aria-label="Sections that may answer">
            {[...options, { name: NOTHING, note: isTwinOnly ? "it is new" : "it is dropped" }].map((option, index) => (
              <label key={option.name}>
                <input
                  type="radio"
                  name="pair"
                  autoFocus={every.length <= MIN_FOR_SEARCH && (wanted === null ? index === 0 : wanted === option.name)}
                  checked={wanted === option.name}
                  onChange={() => setWanted(option.name)}
                />
                {option.name === NOTHING ? (
                  <span>nothing: {option.note}</span>
                ) : (
                  <>
                    <span className="mono">{option.name}</span>
                    <span className="soft">{option.note}</span>
                  </>
                )}
              </label>
            ))}
          </div>
          <InputBase
            fullWidth
            placeholder="Why, for those who come later"
            value={note}
            onChange={(event) => setNote(event.target.value)}
            inputProps={{ "aria-label": "Why" }}
          />
          {refusal && <Problem record={refusal} />}
        </form>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        {row.isManual && (
          <Button disabled={busy} onClick={() => say(true)}>
            Back to automatic
          </Button>
        )}
        <Button className="main" type="submit" form="pair-form" disabled={busy || wanted === null}>
          Save pair
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** Longer lists of sections can be searched. */
const MIN_FOR_SEARCH = 10;

/** The value of "no section"; sections have non-empty names. */
const NOTHING = "";

function Basis({ row }: { row: Row }) {
  if (row.isManual)
    return (
      <p>Paired by hand{row.reasons.length > 0 && row.relation === "dropped" ? `: ${row.reasons.join("; ")}` : ""}.</p>
    );
  if (row.score === null) return <p>Nothing was found that is like it.</p>;
  return (
    <>
      <p>
        Paired with <span className="mono">{row.twinName}</span>, {Math.round(100 * row.score)} % match:
      </p>
      <ul className={styles.reasons}>
        {row.reasons.map((reason) => (
          <li key={reason}>{reason}</li>
        ))}
      </ul>
    </>
  );
}

/** The sections of the other side: those that answer for nothing come first. */
function optionsFor(rows: readonly Row[], isTwinOnly: boolean): { name: string; note: string }[] {
  const code = rows.filter((row) => row.kind !== "between");
  const options = isTwinOnly
    ? code
        .filter((row) => row.original)
        .map((row) => ({ name: row.name, note: row.twinName ? `answered by ${row.twinName}` : "" }))
    : code
        .filter((row) => row.twin)
        .map((row) => ({
          name: row.original ? (row.twinName ?? "") : row.name,
          note: row.original ? `answers for ${row.name}` : "",
        }));
  return options
    .filter(({ name }) => name !== "")
    .sort((one, other) => Number(one.note !== "") - Number(other.note !== ""));
}
