"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { type ReactNode, useId } from "react";
import type { EffectView, FoundView } from "@/api/bring-in-views";
import type { Draft } from "@/core/bring-in/draft";
import { plural } from "@/ui/format";
import styles from "@/ui/views/bring-in/bring-in.module.css";
import { MapRules } from "@/ui/views/bring-in/map-rules";
import type { DraftState } from "@/ui/views/bring-in/use-draft";

/** The port that would be made: what can be corrected, its modules, and the file as it would be written. */
export function WritePort({ found, state }: { found: FoundView; state: DraftState }) {
  const { draft, effect, change, follow } = state;
  const languages = found.languages.map(({ language, title }) => ({ value: language, title }));
  const planned = found.planned.map(({ language, title }) => ({ value: language, title }));
  return (
    <section className={styles.write} aria-label="The port">
      <h1>The port</h1>
      <div className={styles.form}>
        <Text label="Name" value={draft.name} onChange={(name) => change({ name })} />
        <Text label="Port file goes to" value={draft.folder} isCode onChange={(folder) => change({ folder })} />
        <Choice
          label="Original is in"
          value={draft.language}
          options={languages}
          onChange={(language) => follow({ language })}
        />
        <Choice
          label="Twin is to be in"
          value={draft.twin.language}
          options={planned}
          onChange={(language) => follow({ twin: { ...draft.twin, language } })}
        />
        <Text
          label="Twin's name"
          value={draft.twin.name}
          onChange={(name) => change({ twin: { ...draft.twin, name } })}
        />
        <Text
          label="Twin's folder"
          value={draft.twin.root}
          isCode
          onChange={(root) => follow({ twin: { ...draft.twin, root } })}
          note={effect && effect.twinFiles > 0 ? `${plural(effect.twinFiles, "file")} there` : "created if missing"}
        />
        <Text
          label="Built by"
          value={draft.prepare}
          isCode
          isLong
          onChange={(prepare) => change({ prepare })}
          note="one command per line"
        />
        <Text
          label="Started by"
          value={draft.run}
          isCode
          onChange={(run) => change({ run })}
          note={found.entryFrom[draft.language] ? `from ${found.entryFrom[draft.language]}` : "no entry point found"}
        />
        <Text
          label="Ignored"
          value={draft.ignore.join("\n")}
          isCode
          isLong
          onChange={(text) => change({ ignore: linesOf(text) })}
          note="a pattern a line"
        />
        <Text
          label="Shared cases in"
          value={draft.cases}
          isCode
          onChange={(cases) => change({ cases })}
          note={effect && effect.cases > 0 ? `${plural(effect.cases, "file")} there` : "none there yet"}
        />
        <Choice
          label="Names of functions"
          value={draft.functions}
          options={STYLES}
          onChange={(functions) => change({ functions: functions as Draft["functions"] })} // one of the options
        />
        <Choice
          label="Names of keys"
          value={draft.keys}
          options={STYLES}
          onChange={(keys) => change({ keys: keys as Draft["keys"] })} // one of the options
        />
      </div>
      <h2>Ladder</h2>
      <div className={styles.form}>
        <Text
          label="Rungs, lowest first"
          value={draft.ladder}
          isCode
          isLong
          onChange={(ladder) => change({ ladder })}
        />
      </div>
      <p className="soft">
        {effect && effect.made.length > 0
          ? `Its checks need ${effect.made.join(", ")}, written into the twin's folder.`
          : "Empty for none."}
      </p>
      <Modules draft={draft} effect={effect} change={change} />
      <MapRules draft={draft} effect={effect} change={change} />
      <h2>The port file, as it will be written</h2>
      <pre className={styles.file}>{effect?.text ?? ""}</pre>
    </section>
  );
}

const STYLES = ["same", "snake-to-camel", "camel-to-snake", "snake-to-pascal", "pascal-to-snake"].map((value) => ({
  value,
  title: value === "same" ? "as they are" : value.replaceAll("-", " "),
}));

const linesOf = (text: string): string[] => text.split("\n").filter((line) => line.trim() !== "");

type PartProps = {
  readonly draft: Draft;
  readonly effect: EffectView | null;
  readonly change: DraftState["change"];
};

/** Rules that form modules: each file, each folder, or files matching patterns. */
function Modules({ draft, effect, change }: PartProps) {
  const set = (index: number, part: Partial<Draft["modules"][number]>) =>
    change({ modules: draft.modules.map((module, at) => (at === index ? { ...module, ...part } : module)) });
  return (
    <>
      <h2>Modules</h2>
      <div className={styles.line}>
        <select
          aria-label="One module is"
          value={draft.modulesBy}
          onChange={(event) => change({ modulesBy: event.target.value === "folder" ? "folder" : "file" })}
        >
          <option value="file">Each file is one (a header with its source)</option>
          <option value="folder">Each folder is one</option>
        </select>
        <Button onClick={() => change({ modules: [...draft.modules, { name: "", files: [] }] })}>
          Group files by pattern
        </Button>
        <span className="soft">{effect ? plural(effect.moduleCount, "module") : ""}</span>
      </div>
      {draft.modules.map((module, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name while they are typed
        <div key={index} className={styles.line}>
          <InputBase
            value={module.name}
            placeholder="name"
            onChange={(event) => set(index, { name: event.target.value })}
            inputProps={{ "aria-label": "Name of the module" }}
          />
          <InputBase
            value={module.files.join(" ")}
            placeholder="harbour/**/*.py"
            onChange={(event) => set(index, { files: event.target.value.split(/\s+/).filter(Boolean) })}
            inputProps={{ "aria-label": "Files of the module", className: "mono", spellCheck: false }}
            fullWidth
          />
          <Button onClick={() => change({ modules: draft.modules.filter((_one, at) => at !== index) })}>Drop</Button>
        </div>
      ))}
      {effect && (
        <ul className={styles.modules} aria-label="Modules of the port">
          {effect.modules.map(({ name, files, lines }) => (
            <li key={name} title={files.join("\n")}>
              {name}{" "}
              <span className="soft">
                {files.length === 1 ? "" : `${files.length} files, `}
                {lines}
              </span>
            </li>
          ))}
          {effect.moduleCount > effect.modules.length && (
            <li className="soft">and {effect.moduleCount - effect.modules.length} more</li>
          )}
        </ul>
      )}
    </>
  );
}

type TextProps = {
  readonly label: string;
  readonly value: string;
  readonly isCode?: boolean;
  readonly isLong?: boolean;
  readonly note?: ReactNode;
  readonly onChange: (value: string) => void;
};

function Text({ label, value, isCode = false, isLong = false, note, onChange }: TextProps) {
  const id = useId();
  return (
    <>
      <label htmlFor={id}>{label}</label>
      <div className={styles.field}>
        <InputBase
          id={id}
          fullWidth
          multiline={isLong}
          value={value}
          onChange={(event) => onChange(event.target.value)}
          inputProps={{ spellCheck: false, className: isCode ? "mono" : undefined }}
        />
        {note && <small className="soft">{note}</small>}
      </div>
    </>
  );
}

type ChoiceProps = {
  readonly label: string;
  readonly value: string;
  readonly options: readonly { readonly value: string; readonly title: string }[];
  readonly onChange: (value: string) => void;
};

function Choice({ label, value, options, onChange }: ChoiceProps) {
  const id = useId();
  return (
    <>
      <label htmlFor={id}>{label}</label>
      <div className={styles.field}>
        <select id={id} value={value} onChange={(event) => onChange(event.target.value)}>
          {options.map((option) => (
            <option key={option.value} value={option.value}>
              {option.title}
            </option>
          ))}
        </select>
      </div>
    </>
  );
}
