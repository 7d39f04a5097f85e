"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { type FormEvent, useEffect, useState } from "react";
import type { PhrasebookView as Book, PhraseView } from "@/api/making-views";
import { ROUTES } from "@/api/routes";
import type { StartedPhrase } from "@/core/phrasebook/start-phrase";
import { ask } from "@/ui/api";
import { localTime, plural } from "@/ui/format";
import { PortFrame } from "@/ui/frame/port-frame";
import { Problem } from "@/ui/frame/problem";
import { byFile, exceptionFor, fateOf, type Place, placeKey } from "@/ui/state/phrase-places";
import { setAddress } from "@/ui/state/use-address";
import { useAsk } from "@/ui/state/use-ask";
import type { Key } from "@/ui/state/use-keys";
import { useLadder } from "@/ui/state/use-ladder";
import { usePortEvents } from "@/ui/state/use-port-events";
import { useView } from "@/ui/state/use-view";
import { AfterApply, FIND_HARM, TAKE_BACK } from "@/ui/views/phrasebook/after-apply";
import { Leftovers } from "@/ui/views/phrasebook/leftovers";
import { PhraseList } from "@/ui/views/phrasebook/phrase-list";
import { PhraseHead, PhrasePlaces } from "@/ui/views/phrasebook/phrase-places";
import styles from "@/ui/views/phrasebook/phrasebook.module.css";
import { Proposals } from "@/ui/views/phrasebook/proposals";
import { WritePhrase } from "@/ui/views/phrasebook/write-phrase";

type Props = {
  readonly id: string;
  readonly twin: string | null;
  /** A phrase to be written, from a selection on the Bench. */
  readonly begun: StartedPhrase | null;
};

/** The phrases of a port in their order, every place that each would change, and what is left of the old way. */
export function PhrasebookView({ id, twin, begun }: Props) {
  const events = usePortEvents(id);
  const { data, error } = useView(ROUTES.phrasebook, { twin }, id);
  const [chosenId, setChosen] = useState<string | null>(null);
  const [at, setAt] = useState(0);
  const [refused, setRefused] = useState<ReadonlySet<string>>(new Set());
  const [keeping, setKeeping] = useState<Place | null>(null);
  const [isWriting, setWriting] = useState(begun !== null);
  const [notice, setNotice] = useState<string | null>(null);
  const [written, setWritten] = useState<string | null>(null);
  const { attempt, busy, refusal } = useAsk();
  const ladder = useLadder(id, data?.twin ?? null);
  const phrases = data?.phrases ?? [];
  const phrase = phrases.find((entry) => entry.id === chosenId) ?? phrases[0];
  const places = phrase ? byFile(phrase.places).flatMap(([, own]) => own) : [];
  const place = places[Math.min(at, places.length - 1)];
  const key = place ? `${phrase?.id} ${placeKey(place)} ${place.column}` : "";
  useEffect(() => {
    if (key) document.querySelector("[data-chosen-place]")?.scrollIntoView({ block: "nearest" });
  }, [key]);
  const choose = (step: number) => {
    const index = phrase ? phrases.indexOf(phrase) : -1;
    const next = phrases[Math.max(0, Math.min(phrases.length - 1, index + step))];
    if (!next) return;
    setChosen(next.id);
    setAt(0);
  };
  const move = (step: number) => setAt((before) => Math.max(0, Math.min(places.length - 1, before + step)));
  const refuse = () => {
    if (!place || (place.state !== "ready" && !refused.has(placeKey(place)))) return;
    const changed = new Set(refused);
    if (!changed.delete(placeKey(place))) changed.add(placeKey(place));
    setRefused(changed);
  };
  // A check that runs already notices files that change, and starts over.
  const check = () => {
    if (data && !events.running) events.start({ twin: data.twin });
    if (ladder.view?.diagnosed) ladder.start();
  };
  const apply = (only: string | null) =>
    attempt(async () => {
      if (!data) return;
      const wanted = { twin: data.twin, not: [...refused], ...(only === null ? {} : { phrases: [only] }) };
      const done = await ask(ROUTES.applyPhrases, wanted, { port: id });
      setRefused(new Set());
      setNotice(done.snapshot === null ? "Nothing to change." : null);
      if (done.snapshot === null) return;
      setWritten(`${plural(done.places, "place")} changed in ${plural(done.files, "file")}.`);
      check();
    });
  const undo = () =>
    attempt(async () => {
      // The newest, whichever the view still shows: a second key press may come before it is read again.
      const undone = await ask(ROUTES.undo, {}, { port: id });
      setNotice(`Put back: ${undone.what}; the twin is checked.`);
      setWritten(null);
      check();
    });
  const redo = () =>
    attempt(async () => {
      const done = await ask(ROUTES.redo, {}, { port: id });
      setNotice(`Done again: ${done.what}; the twin is checked.`);
      check();
    });
  const ready = countReady(data, refused);
  const keys: Key[] = [
    { key: "ArrowDown", shows: "↓", does: "next place", run: () => move(1) },
    { key: "ArrowUp", shows: "↑", does: "previous place", run: () => move(-1) },
    { key: "]", does: "next phrase", run: () => choose(1) },
    { key: "[", does: "previous phrase", run: () => choose(-1) },
    { key: "q", does: "leave the place out this time, or take it in again", run: refuse },
    { key: "k", does: "keep the place for good, with a reason", run: () => place && setKeeping(place) },
    { key: "N", does: "write a phrase", run: () => setWriting(true) },
    { key: "y", does: "apply this phrase", run: () => phrase && apply(phrase.id) },
    { key: "Y", does: "apply all phrases", run: () => apply(null) },
    { key: "u", does: "undo the last change of files", run: undo },
    { key: "U", does: "redo what was undone last", run: redo },
    { key: "W", does: FIND_HARM },
    { key: "Delete", shows: "Del", does: TAKE_BACK },
    { key: "c", does: "check the twin", run: () => events.start(data ? { twin: data.twin } : {}) },
    { key: "x", does: "stop the check", run: events.stop },
  ];
  return (
    <PortFrame port={data?.port ?? null} view="phrasebook" twin={twin} events={events} keys={keys} error={error}>
      {data && (
        <div className={styles.body}>
          <aside className={styles.list} aria-label="Phrases">
            <PhraseList
              phrases={phrases}
              chosen={phrase}
              refused={refused}
              onChoose={(name) => {
                setWriting(false);
                setChosen(name);
                setAt(0);
              }}
            />
            <div className={styles.new}>
              <Button disabled={isWriting} onClick={() => setWriting(true)}>
                Write a phrase <kbd>N</kbd>
              </Button>
            </div>
            <Proposals port={id} twin={data.twin} />
          </aside>
          <main className={styles.page} aria-label="Places">
            {data.problem && (
              <div className={styles.none}>
                <Problem record={data.problem} />
              </div>
            )}
            {isWriting ? (
              <WritePhrase
                port={id}
                book={data}
                begun={begun}
                onDone={() => {
                  setWriting(false);
                  setAddress({ from: null, to: null });
                }}
              />
            ) : phrase ? (
              <>
                <PhraseHead phrase={phrase} />
                <PhrasePlaces
                  places={phrase.places}
                  chosen={place}
                  refused={refused}
                  onChoose={(wanted) => setAt(places.indexOf(wanted))}
                />
              </>
            ) : data.problem ? null : (
              <p className={styles.none}>
                No phrases yet. A phrase records how one thing of the original is written in the twin, and is then
                applied to every place. Write the first one, or take one from what is learned.
              </p>
            )}
            {!isWriting && keeping && phrase && (
              <KeepPlace port={id} phrase={phrase} place={keeping} onDone={() => setKeeping(null)} />
            )}
            {!isWriting && phrases.length > 0 && <Leftovers book={data} />}
          </main>
          {written !== null && (
            <AfterApply
              port={id}
              twin={data.twin}
              written={written}
              events={events}
              ladder={ladder}
              onTakenBack={check}
            />
          )}
          <footer className={styles.foot}>
            <Button className="main" disabled={busy || ready.all === 0} onClick={() => apply(null)}>
              Apply all <kbd>Y</kbd>
            </Button>
            <Button disabled={busy || !phrase || ready.of(phrase) === 0} onClick={() => phrase && apply(phrase.id)}>
              Apply this phrase <kbd>y</kbd>
            </Button>
            <span className="soft" role="status">
              {notice ??
                `${plural(ready.all, "place")} ready in all. A snapshot is taken first, and the twin is checked afterwards.`}
            </span>
            {refusal && <Problem record={refusal} />}
            <span className={styles.undo}>
              {data.snapshot && (
                <>
                  <span className="soft">
                    {localTime(data.snapshot.at)}, {data.snapshot.what}
                  </span>
                  <Button disabled={busy} onClick={undo}>
                    Undo <kbd>u</kbd>
                  </Button>
                </>
              )}
            </span>
          </footer>
        </div>
      )}
    </PortFrame>
  );
}

function countReady(data: Book | null, refused: ReadonlySet<string>) {
  const of = ({ places }: PhraseView) => places.filter((place) => fateOf(place, refused) === "ready").length;
  return { of, all: (data?.phrases ?? []).reduce((sum, phrase) => sum + of(phrase), 0) };
}

type KeepProps = {
  readonly port: string;
  readonly phrase: PhraseView;
  readonly place: Place;
  readonly onDone: () => void;
};

/** An exception for one place, with the reason, written into the file of phrases. */
function KeepPlace({ port, phrase, place, onDone }: KeepProps) {
  const [why, setWhy] = useState("");
  const { attempt, busy, refusal } = useAsk();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    attempt(async () => {
      await ask(ROUTES.exceptPlace, { ...exceptionFor(phrase, place), why }, { port });
      onDone();
    });
  };
  return (
    <form className={styles.keep} onSubmit={submit}>
      <span>
        Keep <span className="mono">{placeKey(place)}</span> as it is
      </span>
      <InputBase
        autoFocus
        fullWidth
        value={why}
        onChange={(event) => setWhy(event.target.value)}
        onKeyDown={(event) => event.key === "Escape" && onDone()}
        placeholder="why it stays"
        inputProps={{ "aria-label": "Why it stays" }}
      />
      <Button type="submit" disabled={busy || why.trim() === ""}>
        Keep it
      </Button>
      <Button onClick={onDone}>Cancel</Button>
      {refusal && <Problem record={refusal} />}
    </form>
  );
}
