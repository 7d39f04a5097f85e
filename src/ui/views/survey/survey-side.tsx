"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { type FormEvent, useRef, useState } from "react";
import { ROUTES } from "@/api/routes";
import type { UsesView } from "@/api/views";
import { WAYS, type Way } from "@/core/formats/ways";
import type { GridColumn } from "@/core/survey/uses-grid";
import { ask, describeRefusal } from "@/ui/api";
import { formatCount, plural } from "@/ui/format";
import { type Key, useKeys } from "@/ui/state/use-keys";
import { useView } from "@/ui/state/use-view";
import styles from "@/ui/views/survey/survey.module.css";

type Props = { readonly id: string; readonly column: GridColumn; readonly onChanged: () => void };

/** One library or platform-bound item: plan, reason, and every place behind its count. */
export function SurveySide({ id, column, onChanged }: Props) {
  const { data } = useView(ROUTES.uses, { name: column.name }, id);
  const [note, setNote] = useState(column.note ?? "");
  const [notice, setNotice] = useState<string | null>(null);
  const [isAdding, setAdding] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  const failed = (thrown: unknown) => setNotice(describeRefusal(thrown));
  const decide = (way: Way | null) => {
    ask(ROUTES.decideWay, { name: column.name, way, note }, { port: id }).then(() => {
      setNotice("Written into the port file.");
      onChanged();
    }, failed);
  };
  const keys: Key[] = [
    ...WAYS.map(
      (way, index): Key => ({ key: String(index + 1), does: way, run: () => decide(column.way === way ? null : way) }),
    ),
    { key: "n", does: "note", run: () => field.current?.focus() },
    { key: "s", does: "add a snag", run: () => setAdding(true) },
  ];
  useKeys(keys);
  return (
    <aside className={styles.side} aria-label="What is chosen">
      <h1>{column.name}</h1>
      <p className="soft">
        {plural(column.uses, "use")} in {plural(column.modules, "module")}, {formatCount(column.left)} left in what is
        not ported yet
      </p>
      {column.snag ? (
        <p>
          <b>{column.snag.title}.</b> {column.snag.why}
        </p>
      ) : (
        <p className="soft">Nothing in the catalogue binds it to the old platform.</p>
      )}
      <h2>Plan</h2>
      <fieldset className={styles.ways} aria-label="Plan">
        {WAYS.map((way) => (
          <button
            key={way}
            type="button"
            aria-pressed={column.way === way}
            onClick={() => decide(column.way === way ? null : way)}
          >
            {way}
          </button>
        ))}
      </fieldset>
      <form
        className={styles.note}
        onSubmit={(event: FormEvent) => {
          event.preventDefault();
          decide(column.way);
        }}
      >
        <InputBase
          inputRef={field}
          value={note}
          onChange={(event) => setNote(event.target.value)}
          onKeyDown={(event) => event.key === "Escape" && field.current?.blur()}
          placeholder="what was decided"
          inputProps={{ "aria-label": "What was decided" }}
          fullWidth
        />
        <Button type="submit" disabled={note.trim() === (column.note ?? "")}>
          Save note
        </Button>
      </form>
      {notice && <p role="status">{notice}</p>}
      <Places title="Where" places={data?.uses ?? []} total={column.uses} />
      {data && data.mentions.length > 0 && (
        <Places title="Mentioned outside code" places={data.mentions} total={data.mentions.length} />
      )}
      {isAdding ? (
        <AddSnag
          id={id}
          onDone={() => {
            setAdding(false);
            onChanged();
          }}
          onFailed={failed}
        />
      ) : (
        <Button onClick={() => setAdding(true)}>
          Add a platform-bound item <kbd>s</kbd>
        </Button>
      )}
    </aside>
  );
}

const SHOWN = 40;

function Places({ title, places, total }: { title: string; places: UsesView["uses"]; total: number }) {
  return (
    <section aria-label={title}>
      <h2>{title}</h2>
      <ul className={styles.places}>
        {places.slice(0, SHOWN).map(({ file, line, text }) => (
          <li key={`${file}:${line}`}>
            <span title={file}>{file.split("/").at(-1)}</span>
            <span>{line}</span>
            <span>{text}</span>
          </li>
        ))}
      </ul>
      {total > SHOWN && <p className="soft">and {total - SHOWN} more</p>}
    </section>
  );
}

type AddProps = { readonly id: string; readonly onDone: () => void; readonly onFailed: (thrown: unknown) => void };

function AddSnag({ id, onDone, onFailed }: AddProps) {
  const [name, setName] = useState("");
  const [match, setMatch] = useState("");
  const add = (event: FormEvent) => {
    event.preventDefault();
    ask(ROUTES.addSnag, { name, match }, { port: id }).then(onDone, onFailed);
  };
  return (
    <form className={styles.adding} onSubmit={add}>
      <InputBase
        autoFocus
        value={name}
        onChange={(event) => setName(event.target.value)}
        placeholder="name"
        inputProps={{ "aria-label": "Name" }}
      />
      <InputBase
        value={match}
        onChange={(event) => setMatch(event.target.value)}
        placeholder="pattern, e.g. json.*"
        inputProps={{ "aria-label": "Pattern" }}
      />
      <Button type="submit">Add it</Button>
    </form>
  );
}
