"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { type FormEvent, useEffect, useState } from "react";
import type { PhrasebookView as Book } from "@/api/making-views";
import { ROUTES } from "@/api/routes";
import type { ErrorRecord } from "@/core/errors";
import type { StartedPhrase } from "@/core/phrasebook/start-phrase";
import { ask, recordOf } from "@/ui/api";
import { plural } from "@/ui/format";
import { Problem } from "@/ui/frame/problem";
import { draftPhrase, type PhraseDraft } from "@/ui/state/phrase-draft";
import type { Place } from "@/ui/state/phrase-places";
import { useAsk } from "@/ui/state/use-ask";
import { PhrasePlaces } from "@/ui/views/phrasebook/phrase-places";
import styles from "@/ui/views/phrasebook/phrasebook.module.css";

/** How long a person pauses before the places are looked up, in milliseconds. */
const PAUSE_MS = 250;
const NONE: ReadonlySet<string> = new Set();
const KINDS = ["code", "name", "text"] as const;
const HINTS = {
  code: "(:one:) matches an expression, (:many..:) any number of arguments or statements",
  name: "a dotted name; everything below it moves along",
  text: "a whole line; (:rest:) matches a piece of it",
} as const;

type Props = {
  readonly port: string;
  readonly book: Book;
  /** From a selection on the Bench. */
  readonly begun: StartedPhrase | null;
  readonly onDone: () => void;
};

/** A phrase that is being written, tried on the twin's own files after each pause. */
export function WritePhrase({ port, book, begun, onDone }: Props) {
  const [draft, setDraft] = useState<PhraseDraft>({ kind: "code", from: "", to: "", ...begun, why: "" });
  const { attempt, busy, refusal } = useAsk();
  const phrase = draftPhrase(draft, book.language);
  const { places, problem } = useTrial(port, book.twin, phrase);
  const ready = places?.filter(({ state }) => state === "ready").length ?? 0;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    attempt(async () => {
      if (!phrase) return;
      await ask(ROUTES.addPhrase, { phrase }, { port });
      onDone();
    });
  };
  const field = (key: "from" | "to" | "why", label: string, placeholder: string) => (
    <>
      <label htmlFor={`phrase-${key}`}>{label}</label>
      <InputBase
        id={`phrase-${key}`}
        autoFocus={key === "from"}
        multiline={key !== "why"}
        value={draft[key]}
        placeholder={placeholder}
        onChange={(event) => setDraft({ ...draft, [key]: event.target.value })}
        onKeyDown={(event) => {
          if (event.key === "Escape") onDone();
          if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) submit(event);
        }}
        inputProps={key === "why" ? {} : { className: "mono", spellCheck: false }}
      />
    </>
  );
  return (
    <>
      <form className={styles.write} aria-label="New phrase" onSubmit={submit}>
        <span>Kind</span>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={draft.kind}
          onChange={(_, kind) => kind && setDraft({ ...draft, kind })}
        >
          {KINDS.map((kind) => (
            <ToggleButton key={kind} value={kind}>
              {kind}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        {field("from", "From", HINTS[draft.kind])}
        {field("to", "To", draft.kind === "code" ? "empty takes the statement away" : "what it becomes")}
        {field("why", "Why", "for those who read the phrasebook")}
        <div className={styles.actions}>
          <Button type="submit" className="main" disabled={busy || !phrase || problem !== null || places === null}>
            Add to the book <kbd>Ctrl ↵</kbd>
          </Button>
          <Button onClick={onDone}>Cancel</Button>
          <span className="soft" role="status">
            {places && `${plural(ready, "place")} would change`}
          </span>
        </div>
        {(refusal ?? problem) && (
          <div>
            <Problem record={(refusal ?? problem) as ErrorRecord} />
          </div>
        )}
      </form>
      {places && <PhrasePlaces places={places} chosen={undefined} refused={NONE} onChoose={() => undefined} />}
    </>
  );
}

/** The places of the phrase as it is now; those of the last sound one stay while it is being typed. */
function useTrial(port: string, twin: string, phrase: Readonly<Record<string, unknown>> | null) {
  const [places, setPlaces] = useState<readonly Place[] | null>(null);
  const [problem, setProblem] = useState<ErrorRecord | null>(null);
  const key = phrase && JSON.stringify(phrase);
  useEffect(() => {
    if (key === null) return;
    let isCurrent = true;
    const timer = setTimeout(() => {
      ask(ROUTES.tryPhrase, { twin, phrase: JSON.parse(key) }, { port }).then(
        (trial) => {
          if (!isCurrent) return;
          setPlaces(trial.places);
          setProblem(null);
        },
        (thrown: unknown) => isCurrent && setProblem(recordOf(thrown)),
      );
    }, PAUSE_MS);
    return () => {
      isCurrent = false;
      clearTimeout(timer);
    };
  }, [port, twin, key]);
  return { places, problem };
}
