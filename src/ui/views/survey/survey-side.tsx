"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { type FormEvent, useRef, useState } from "react";
import { ROUTES } from "@/api/routes";
import type { UsesView } from "@/api/views";
import { WAY_WORDS, WAYS, type Way } from "@/core/formats/ways";
import type { GridColumn } from "@/core/survey/uses-grid";
import { ask, describeRefusal } from "@/ui/api";
import { formatCount, plural } from "@/ui/format";
import { useNotice } from "@/ui/frame/notices";
import { useOpenPlace } from "@/ui/frame/place-link";
import type { SurveyRow } from "@/ui/state/survey-rows";
import { type Key, useKeys } from "@/ui/state/use-keys";
import { useView } from "@/ui/state/use-view";
import styles from "@/ui/views/survey/survey.module.css";

type Props = {
  readonly id: string;
  readonly column: GridColumn;
  /** The module whose places are shown; null for all. */
  readonly row: SurveyRow | null;
  readonly onAllModules: () => void;
  readonly onChanged: () => void;
};

/** One library or platform-bound item: plan, reason, and every place behind its count. */
export function SurveySide({ id, column, row, onAllModules, onChanged }: Props) {
  const { data } = useView(ROUTES.uses, { name: column.name }, id);
  const [note, setNote] = useState(column.note ?? "");
  const [notice, setNotice] = useState<string | null>(null);
  const say = useNotice();
  const [isAdding, setAdding] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  const failed = (thrown: unknown) => setNotice(describeRefusal(thrown));
  const decide = (way: Way | null) => {
    const before = { way: column.way, note: column.note ?? "" };
    const write = async (wanted: { way: Way | null; note: string }) => {
      await ask(ROUTES.decideWay, { name: column.name, ...wanted }, { port: id });
      onChanged();
    };
    write({ way, note }).then(() => {
      setNotice(null);
      say({ text: `${column.name}: ${way ?? "no plan"}, saved in side-twin.json.`, undo: () => write(before) });
    }, failed);
  };
  const keys: Key[] = [
    ...WAYS.map(
      (way, index): Key => ({ key: String(index + 1), does: way, run: () => decide(column.way === way ? null : way) }),
    ),
    { key: "w", does: "note", run: () => field.current?.focus() },
    { key: "N", does: "add a platform-bound item", run: () => setAdding(true) },
  ];
  useKeys(keys);
  return (
    <aside className={styles.side} aria-label={column.name}>
      <h1>{column.name}</h1>
      <p className="soft">
        {plural(column.uses, "use")} in {plural(column.modules, "module")}, {formatCount(column.left)} in modules not
        ported yet
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
            title={WAY_WORDS[way]}
            onClick={() => decide(column.way === way ? null : way)}
          >
            {way}
          </button>
        ))}
      </fieldset>
      {column.way && <p className="soft">{WAY_WORDS[column.way]}</p>}
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
      {row && (
        <p>
          Only in {row.module}. <Button onClick={onAllModules}>All modules</Button>
        </p>
      )}
      <Places
        port={id}
        title="Where"
        places={(data?.uses ?? []).filter(({ file }) => !row || row.files.includes(file))}
      />
      {data && data.mentions.length > 0 && <Places port={id} title="Mentioned outside code" places={data.mentions} />}
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
          Add a platform-bound item <kbd>N</kbd>
        </Button>
      )}
    </aside>
  );
}

const SHOWN = 40;

type PlacesProps = { readonly port: string; readonly title: string; readonly places: UsesView["uses"] };

/** Every place; each opens in the person's editor. */
function Places({ port, title, places }: PlacesProps) {
  const [isWhole, setWhole] = useState(false);
  const { open, dialog } = useOpenPlace(port);
  return (
    <section aria-label={title}>
      <h2>{title}</h2>
      <ul className={styles.places}>
        {(isWhole ? places : places.slice(0, SHOWN)).map(({ file, line, text }) => (
          <li key={`${file}:${line}`}>
            <button
              type="button"
              className={styles.open}
              title={`Open ${file}:${line} in your editor`}
              onClick={() => open({ side: "original", file, line })}
            >
              {file.split("/").at(-1)}:{line}
            </button>
            <span>{text}</span>
          </li>
        ))}
      </ul>
      {places.length > SHOWN && (
        <Button onClick={() => setWhole(!isWhole)}>
          {isWhole ? `Only the first ${SHOWN}` : `Show all ${formatCount(places.length)}`}
        </Button>
      )}
      {dialog}
    </section>
  );
}

type AddProps = { readonly id: string; readonly onDone: () => void; readonly onFailed: (thrown: unknown) => void };

function AddSnag({ id, onDone, onFailed }: AddProps) {
  const [name, setName] = useState("");
  const say = useNotice();
  const [match, setMatch] = useState("");
  const add = (event: FormEvent) => {
    event.preventDefault();
    ask(ROUTES.addSnag, { name, match }, { port: id }).then(() => {
      say({
        text: `Added ${name}, saved in side-twin.json.`,
        undo: async () => {
          await ask(ROUTES.removeSnag, { name }, { port: id });
          onDone();
        },
      });
      onDone();
    }, onFailed);
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
