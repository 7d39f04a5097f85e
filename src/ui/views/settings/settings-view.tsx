"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { useRouter } from "next/navigation";
import { type FormEvent, useEffect, useState } from "react";
import { ROUTES } from "@/api/routes";
import type { SettingView } from "@/api/views";
import { ask } from "@/ui/api";
import { useNotice } from "@/ui/frame/notices";
import { EditorDialog, PlaceLink } from "@/ui/frame/place-link";
import { PortFrame } from "@/ui/frame/port-frame";
import { Problem } from "@/ui/frame/problem";
import { chooseTextSize, TEXT_SIZES } from "@/ui/state/text-size";
import { useAsk } from "@/ui/state/use-ask";
import { usePortEvents } from "@/ui/state/use-port-events";
import { useView } from "@/ui/state/use-view";
import styles from "@/ui/views/settings/settings.module.css";

/** All that was asked when the port was added, and the rest of its file, to be changed later. */
export function SettingsView({ id }: { id: string }) {
  const events = usePortEvents(id);
  const card = useView(ROUTES.card, {}, id);
  const { data, error, reload } = useView(ROUTES.settings, {}, id);
  const [isEditor, setEditor] = useState(false);
  const groups = [...new Set((data?.settings ?? []).map(({ group }) => group))];
  return (
    <PortFrame port={card.data} view="settings" events={events} keys={[]} error={error}>
      {data && (
        <main className={styles.page}>
          <h1>Settings of {data.name}</h1>
          <p className="soft">
            Each is a value of the port file, written as JSON, and only its own lines change there.{" "}
            <PlaceLink port={id} place={{ side: null, file: lastOf(data.file), line: 1 }} />
          </p>
          {groups.map((group) => (
            <section key={group} aria-label={group}>
              <h2>{group}</h2>
              {data.settings
                .filter((setting) => setting.group === group)
                .map((setting) => (
                  <Setting key={setting.path.join(".")} port={id} setting={setting} onSaved={reload} />
                ))}
            </section>
          ))}
          <section aria-label="This machine">
            <h2>This machine</h2>
            <div className={styles.acts}>
              <Button onClick={() => setEditor(true)}>Set your editor …</Button>
              <TextSize />
              <Remove port={id} name={data.name} />
            </div>
          </section>
          {isEditor && <EditorDialog onClose={() => setEditor(false)} onSet={() => setEditor(false)} />}
        </main>
      )}
    </PortFrame>
  );
}

/** How large texts are, and all that goes with them, in this browser. */
function TextSize() {
  const [size, setSize] = useState(1);
  useEffect(() => {
    setSize(Number(document.documentElement.style.getPropertyValue("--zoom")) || 1);
  }, []);
  return (
    <label>
      Text size{" "}
      <select
        value={size}
        onChange={(event) => {
          const next = Number(event.target.value);
          setSize(next);
          chooseTextSize(next);
        }}
      >
        {TEXT_SIZES.map((factor) => (
          <option key={factor} value={factor}>
            {Math.round(factor * 100)} %
          </option>
        ))}
      </select>
    </label>
  );
}

const lastOf = (file: string): string => file.slice(file.lastIndexOf("/") + 1);

type SettingProps = { readonly port: string; readonly setting: SettingView; readonly onSaved: () => void };

function Setting({ port, setting, onSaved }: SettingProps) {
  const { title, help, path, text: before } = setting;
  const [typed, setTyped] = useState<string | null>(null);
  const { attempt, busy, refusal, clear } = useAsk();
  const notice = useNotice();
  const text = typed ?? before ?? "";
  const write = async (next: string) => {
    await ask(ROUTES.changeSetting, { path: [...path], text: next }, { port });
    onSaved();
  };
  const save = (event: FormEvent) => {
    event.preventDefault();
    attempt(async () => {
      await write(text);
      setTyped(null);
      notice({ text: `Saved ${path.join(".")} in side-twin.json.`, undo: () => write(before ?? "") });
    });
  };
  return (
    <form className={styles.setting} onSubmit={save}>
      <label htmlFor={path.join(".")}>
        {title} <span className="soft">{help}</span>
      </label>
      <InputBase
        id={path.join(".")}
        multiline
        fullWidth
        value={text}
        placeholder="not set"
        onChange={(event) => {
          setTyped(event.target.value);
          clear();
        }}
        inputProps={{ spellCheck: false, className: "mono" }}
      />
      <Button type="submit" disabled={busy || typed === null || typed === (before ?? "")}>
        Save
      </Button>
      {refusal && (
        <div className={styles.refused}>
          <Problem record={refusal} />
        </div>
      )}
    </form>
  );
}

function Remove({ port, name }: { port: string; name: string }) {
  const router = useRouter();
  const { attempt, busy, refusal } = useAsk();
  const [isAsked, setAsked] = useState(false);
  const remove = () =>
    attempt(async () => {
      await ask(ROUTES.remove, {}, { port });
      router.push("/");
    });
  return isAsked ? (
    <span className={styles.acts}>
      Its files stay as they are; what was checked is forgotten.
      <Button className="main" onClick={remove} disabled={busy}>
        Take {name} off the list
      </Button>
      <Button onClick={() => setAsked(false)}>Cancel</Button>
      {refusal && <Problem record={refusal} />}
    </span>
  ) : (
    <Button onClick={() => setAsked(true)}>Take the port off the list …</Button>
  );
}
