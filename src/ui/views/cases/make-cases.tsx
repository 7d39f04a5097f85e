"use client";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import InputBase from "@mui/material/InputBase";
import NativeSelect from "@mui/material/NativeSelect";
import { type FormEvent, useState } from "react";
import type { ExploreView } from "@/api/making-views";
import { ROUTES } from "@/api/routes";
import { formatCount, plural } from "@/ui/format";
import { Problem } from "@/ui/frame/problem";
import type { useMaking } from "@/ui/state/use-making";
import { useView } from "@/ui/state/use-view";
import styles from "@/ui/views/cases/make-cases.module.css";

type Props = {
  readonly port: string;
  readonly modules: readonly string[];
  /** The module to make inputs for first. */
  readonly module: string | null;
  readonly making: ReturnType<typeof useMaking>;
};

/** The forms of recording and generating, each with the figures of its last run. */
export function MakeCases({ port, modules, module, making }: Props) {
  const { made, running, seconds, problem, stop } = making;
  return (
    <div className={styles.forms}>
      <Record port={port} making={making} />
      {running === "record" && (
        <p className={styles.running}>
          {seconds} s{" "}
          <Button onClick={stop}>
            Stop <kbd>Esc</kbd>
          </Button>
        </p>
      )}
      {made?.kind === "record" && running === null && <Figures end={made.end} what="calls" />}
      <Generate modules={modules} module={module} making={making} />
      {running === "generate" && (
        <p className={styles.running}>
          {seconds} s{" "}
          <Button onClick={stop}>
            Stop and keep what is found <kbd>Esc</kbd>
          </Button>
        </p>
      )}
      {made?.kind === "generate" && running === null && <Figures end={made.end} what="inputs" />}
      {problem && <Problem record={problem} />}
    </div>
  );
}

function Record({ port, making: { running, start } }: Pick<Props, "port" | "making">) {
  const { data } = useView(ROUTES.recordCommands, {}, port);
  const proposed = data ?? [];
  const [typed, setCommand] = useState<string | null>(null);
  const command = typed ?? proposed[0] ?? "";
  const submit = (event: FormEvent) => {
    event.preventDefault();
    start({ kind: "record", command });
  };
  return (
    <form className={styles.form} onSubmit={submit} aria-label="Record from a run">
      <h2>Record from a run</h2>
      <p className="soft">
        A program of the original, or its tests, run in the original's folder: its calls become cases.
      </p>
      <div className={styles.line}>
        <InputBase
          className={styles.command}
          value={command}
          onChange={(event) => setCommand(event.target.value)}
          onFocus={(event) => {
            // The proposal is replaced by what the user types, and does not come back.
            if (typed === null && command === "") setCommand("");
            else if (typed === null) event.target.select();
          }}
          placeholder="program argument …"
          inputProps={{ "aria-label": "Command", id: "record-command" }}
        />
        <Button type="submit" disabled={command.trim() === "" || running !== null}>
          Run it
        </Button>
      </div>
      {proposed.some((line) => line !== command) && (
        <div className={styles.line}>
          {proposed.map((line) => (
            <Button key={line} aria-pressed={line === command} onClick={() => setCommand(line)}>
              {line}
            </Button>
          ))}
        </div>
      )}
    </form>
  );
}

const EVERY = "";

function Generate({ modules, module: first, making: { running, start } }: Omit<Props, "port">) {
  const [module, setModule] = useState(first !== null && modules.includes(first) ? first : EVERY);
  const [seconds, setSeconds] = useState("30");
  const [seed, setSeed] = useState("1");
  const [twins, setTwins] = useState(false);
  const [time, number] = [Number(seconds), Number(seed)];
  const isSound = Number.isInteger(time) && time >= 1 && time <= 3600 && Number.isInteger(number) && number >= 0;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    start({ kind: "generate", modules: module === EVERY ? [] : [module], seconds: time, seed: number, twins });
  };
  return (
    <form className={styles.form} onSubmit={submit} aria-label="Generate">
      <h2>Generate</h2>
      <p className="soft">Inputs that run lines and branches of the original which no case runs.</p>
      <div className={styles.line}>
        <NativeSelect
          disableUnderline
          className={styles.module}
          value={module}
          onChange={(event) => setModule(event.target.value)}
          inputProps={{ "aria-label": "Module" }}
        >
          <option value={EVERY}>every module</option>
          {modules.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </NativeSelect>
        <span>
          for{" "}
          <InputBase
            className={styles.number}
            value={seconds}
            onChange={(event) => setSeconds(event.target.value)}
            inputProps={{ inputMode: "numeric", "aria-label": "Seconds" }}
          />{" "}
          s
        </span>
        <span>
          seed{" "}
          <InputBase
            className={styles.number}
            value={seed}
            onChange={(event) => setSeed(event.target.value)}
            inputProps={{ inputMode: "numeric", "aria-label": "Seed" }}
          />
        </span>
      </div>
      <div className={styles.line}>
        <FormControlLabel
          className={styles.twins ?? ""}
          control={<Checkbox size="small" checked={twins} onChange={(event) => setTwins(event.target.checked)} />}
          label="keep inputs on which a twin differs, too"
        />
        <Button type="submit" disabled={running !== null || !isSound}>
          Look for inputs
        </Button>
      </div>
    </form>
  );
}

function Figures({ end, what }: { end: ExploreView; what: string }) {
  const { seen, kept, leftOut, lines, seconds, program } = end;
  return (
    <section className={styles.figures} aria-label="Figures" aria-live="polite">
      <dl>
        <dt>{what === "calls" ? "Calls seen" : "Inputs tried"}</dt>
        <dd>{formatCount(seen)}</dd>
        <dt>Kept as cases</dt>
        <dd>{formatCount(kept)}</dd>
        {leftOut.map(({ why, count }) => (
          <LeftOut key={why} why={why} count={count} />
        ))}
      </dl>
      <p>
        {plural(lines.after, "line")} of {formatCount(lines.of)} run by cases, {formatCount(lines.before)} before;{" "}
        {seconds.toFixed(1)} s
      </p>
      {program && (
        <details>
          <summary>The program: {program.end}</summary>
          <pre>{program.printed === "" ? "It printed nothing." : program.printed}</pre>
        </details>
      )}
    </section>
  );
}

const LeftOut = ({ why, count }: { why: string; count: number }) => (
  <>
    <dt className="soft">left out: {why}</dt>
    <dd className="soft">{formatCount(count)}</dd>
  </>
);
