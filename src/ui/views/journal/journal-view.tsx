"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { type FormEvent, useRef, useState } from "react";
import type { JournalView as Journal } from "@/api/making-views";
import { ROUTES } from "@/api/routes";
import { ask } from "@/ui/api";
import { localDay, localTime, plural } from "@/ui/format";
import { PortFrame } from "@/ui/frame/port-frame";
import { Problem } from "@/ui/frame/problem";
import { byDay, describeKind, type Entry, filterEntries } from "@/ui/state/journal-days";
import { useAsk } from "@/ui/state/use-ask";
import type { Key } from "@/ui/state/use-keys";
import { usePortEvents } from "@/ui/state/use-port-events";
import { useView } from "@/ui/state/use-view";
import styles from "@/ui/views/journal/journal.module.css";
import { Progress } from "@/ui/views/journal/progress";

const KINDS = ["decision", "assumption", "note"] as const;

/** Decisions, assumptions and what the product did, by date; written down here and closed here. */
export function JournalView({ id, twin }: { id: string; twin: string | null }) {
  const events = usePortEvents(id);
  const { data, error } = useView(ROUTES.journal, {}, id);
  const [words, setWords] = useState("");
  const field = useRef<HTMLTextAreaElement>(null);
  const filter = useRef<HTMLInputElement>(null);
  const keys: Key[] = [
    { key: "w", does: "write an entry", run: () => field.current?.focus() },
    { key: "f", does: "filter", run: () => filter.current?.focus() },
  ];
  const entries = filterEntries(data?.entries ?? [], words);
  return (
    <PortFrame port={data?.port ?? null} view="journal" twin={twin} events={events} keys={keys} error={error}>
      {data && (
        <div className={styles.body}>
          <main className={styles.page} aria-label="Entries">
            <Progress points={data.progress} />
            <div className={styles.filter}>
              <InputBase
                inputRef={filter}
                fullWidth
                value={words}
                onChange={(event) => setWords(event.target.value)}
                onKeyDown={(event) => event.key === "Escape" && filter.current?.blur()}
                placeholder="filter by kind, module or words"
                inputProps={{ "aria-label": "Filter by kind, module or words" }}
              />
              <span className="soft">{plural(entries.length, "entry", "entries")}</span>
            </div>
            {entries.length === 0 && (
              <p className={styles.none}>
                {words === ""
                  ? "Nothing is written down yet. Write the first decision on the right; what Side Twin changes is entered by itself."
                  : "No entry matches the filter."}
              </p>
            )}
            {byDay(entries, localDay).map(([day, list]) => (
              <section key={day} className={styles.day} aria-label={day}>
                <h2>{day}</h2>
                <ul>
                  {list.map((entry) => (
                    <li key={entry.id} data-kind={entry.kind} data-holds={entry.holds}>
                      <span className="soft">{localTime(entry.at)}</span>
                      <i aria-hidden="true" />
                      <span>
                        <span className="soft">{describeKind(entry)}</span> {entry.text}
                      </span>
                      <span className="mono soft">{[entry.module, entry.section].filter(Boolean).join(".")}</span>
                    </li>
                  ))}
                </ul>
              </section>
            ))}
            {data.older > 0 && (
              <p className={styles.none}>{plural(data.older, "older entry", "older entries")} in journal.jsonl</p>
            )}
            {data.problems.map(({ line, what }) => (
              <p key={line} className={styles.none}>
                journal.jsonl, line {line}: {what}. The line is left as it is.
              </p>
            ))}
          </main>
          <aside className={styles.side}>
            <Write port={id} field={field} />
            <Assumptions port={id} entries={data.entries} />
            <Snapshots port={id} snapshots={data.snapshots} />
          </aside>
        </div>
      )}
    </PortFrame>
  );
}

function Write({ port, field }: { port: string; field: React.RefObject<HTMLTextAreaElement | null> }) {
  const [kind, setKind] = useState<(typeof KINDS)[number]>("decision");
  const [text, setText] = useState("");
  const [module, setModule] = useState("");
  const { attempt, busy, refusal } = useAsk();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    attempt(async () => {
      const place = module.trim() === "" ? {} : { module: module.trim() };
      await ask(ROUTES.addEntry, { kind, text, ...place }, { port });
      setText("");
    });
  };
  return (
    <section>
      <h2>
        Write it down <kbd>w</kbd>
      </h2>
      <form onSubmit={submit} className={styles.write}>
        <fieldset className={styles.kinds} aria-label="Kind">
          {KINDS.map((name) => (
            <button key={name} type="button" aria-pressed={name === kind} onClick={() => setKind(name)}>
              {name}
            </button>
          ))}
        </fieldset>
        <InputBase
          inputRef={field}
          multiline
          minRows={3}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) submit(event);
            if (event.key === "Escape") field.current?.blur();
          }}
          placeholder={kind === "assumption" ? "what is taken for true" : "what was decided, and why"}
          inputProps={{ "aria-label": "Text of the entry" }}
        />
        <div className={styles.row}>
          <InputBase
            value={module}
            onChange={(event) => setModule(event.target.value)}
            placeholder="module, if any"
            inputProps={{ "aria-label": "Module", className: "mono" }}
          />
          <Button type="submit" className="main" disabled={busy || text.trim() === ""}>
            Save entry <kbd>Ctrl ↵</kbd>
          </Button>
        </div>
        {refusal && <Problem record={refusal} />}
      </form>
    </section>
  );
}

function Assumptions({ port, entries }: { port: string; entries: readonly Entry[] }) {
  const { attempt, busy, refusal } = useAsk();
  const all = entries.filter(({ kind }) => kind === "assumption");
  const open = all.filter(({ holds = "open" }) => holds === "open");
  const close = (id: string, holds: "true" | "false") => attempt(() => ask(ROUTES.closeEntry, { id, holds }, { port }));
  return (
    <section>
      <h2>{open.length === 0 ? "No open assumption" : plural(open.length, "open assumption")}</h2>
      <ul className={styles.assumptions}>
        {open.map((entry) => (
          <li key={entry.id}>
            {entry.text}
            <span className="soft">
              {[entry.module, entry.section].filter(Boolean).join(".")} since {localDay(entry.at)}
            </span>
            <span className={styles.row}>
              <Button disabled={busy} onClick={() => close(entry.id, "true")}>
                It holds
              </Button>
              <Button disabled={busy} onClick={() => close(entry.id, "false")}>
                It does not hold
              </Button>
            </span>
          </li>
        ))}
      </ul>
      {all.length > open.length && <p className="soft">{plural(all.length - open.length, "closed assumption")}</p>}
      {refusal && <Problem record={refusal} />}
    </section>
  );
}

const MAX_SNAPSHOTS = 12;

function Snapshots({ port, snapshots }: { port: string; snapshots: Journal["snapshots"] }) {
  const { attempt, busy, refusal } = useAsk();
  const turn = ({ id, state }: Journal["snapshots"][number]) =>
    attempt(async () => void (await ask(state === "done" ? ROUTES.undo : ROUTES.redo, { id }, { port })));
  return (
    <section>
      <h2>Snapshots</h2>
      {snapshots.length === 0 && <p className="soft">Nothing was changed by Side Twin yet.</p>}
      <ul className={styles.assumptions}>
        {snapshots.slice(0, MAX_SNAPSHOTS).map((snapshot) => (
          <li key={snapshot.id}>
            {snapshot.what}
            <span className="soft">
              {localDay(snapshot.at)} {localTime(snapshot.at)}, {plural(snapshot.files.length, "file")}
            </span>
            <span className={styles.row}>
              {snapshot.state !== "done" && <span className="soft">undone</span>}
              <Button disabled={busy} onClick={() => turn(snapshot)}>
                {snapshot.state === "done" ? "Undo" : "Redo"}
              </Button>
            </span>
          </li>
        ))}
      </ul>
      {refusal && <Problem record={refusal} />}
    </section>
  );
}
