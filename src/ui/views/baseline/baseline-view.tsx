"use client";
import Button from "@mui/material/Button";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { ROUTES } from "@/api/routes";
import type { BaselineView as Seen } from "@/api/views";
import { languageTitle } from "@/core/source/language-of";
import { ask } from "@/ui/api";
import { formatAgo, formatCount, plural } from "@/ui/format";
import { PortFrame } from "@/ui/frame/port-frame";
import { Problem } from "@/ui/frame/problem";
import { Mark } from "@/ui/marks/mark";
import { describeCheck } from "@/ui/state/running-check";
import { useAsk } from "@/ui/state/use-ask";
import type { Key } from "@/ui/state/use-keys";
import { usePortEvents } from "@/ui/state/use-port-events";
import { useView } from "@/ui/state/use-view";
import styles from "@/ui/views/baseline/baseline.module.css";

/** The original by itself: whether it runs, its output, its time, and which answers are not repeatable. */
export function BaselineView({ id }: { id: string }) {
  const router = useRouter();
  const events = usePortEvents(id);
  const { data, error } = useView(ROUTES.baseline, {}, id);
  const card = useView(ROUTES.card, {}, id);
  const { attempt, busy, refusal } = useAsk();
  const { running } = events;
  const canRun = data !== null && (data.cases > 0 || data.run !== null);
  const run = () => attempt(() => ask(ROUTES.startBaseline, {}, { port: id }));
  const keys: Key[] = [
    { key: "b", does: "run the original", run },
    { key: "x", does: "stop it", run: events.stop },
    { key: "Enter", does: "go on to the Order", run: () => router.push(`/port/${id}/order`) },
  ];
  return (
    <PortFrame port={card.data} view="baseline" events={events} keys={keys} error={error ?? refusal}>
      {data && (
        <main className={styles.page}>
          <div className={styles.head}>
            <h1>The original, run by itself</h1>
            <Button className="main" disabled={busy || running || !canRun} onClick={run}>
              {data.last ? "Run it again" : "Run the original"} <kbd>b</kbd>
            </Button>
            <Link href={`/port/${id}/survey`}>Survey</Link>
            <Link href={`/port/${id}/order`}>Order</Link>
          </div>
          {running && <p role="status">{describeCheck(events)} …</p>}
          {!canRun && data.last === null && <Nothing port={id} canMake={data.canMake} />}
          {data.last ? (
            <Last seen={data.last} port={id} language={languageTitle(data.language)} />
          ) : (
            canRun && !running && <Never seen={data} />
          )}
        </main>
      )}
    </PortFrame>
  );
}

/** The next thing where there is neither a case nor a program. */
function Nothing({ port, canMake }: { port: string; canMake: boolean }) {
  return (
    <p>
      There is nothing to run yet: no shared case calls it, and no command starts it.{" "}
      <Link href={`/port/${port}/cases?tab=${canMake ? "make" : "all"}`}>
        {canMake ? "Record or generate cases" : "Add a case"}
      </Link>
      , or write its command under <Link href={`/port/${port}/settings`}>Settings</Link>.
    </p>
  );
}

function Never({ seen }: { seen: Seen }) {
  return (
    <p>
      It has not been run yet. {languageTitle(seen.language)} runs twice:{" "}
      {seen.cases > 0
        ? `once over ${plural(seen.cases, "shared case")}, and once more under another hash seed, time zone, locale and, where it can be set, clock.`
        : `there is no shared case yet, so it is started plain, as ${seen.run?.join(" ")}.`}
    </p>
  );
}

type LastProps = { readonly seen: NonNullable<Seen["last"]>; readonly port: string; readonly language: string };

function Last({ seen, port, language }: LastProps) {
  const { cases, answered, threw, brokenCount, unsteadyCount, seconds } = seen;
  return (
    <>
      <p>
        {formatAgo(seen.startedAt, Date.now())}
        {seen.state === "stopped" ? ", stopped before its end" : ""}, {seen.total.toFixed(1)} s in all
        {seen.toolchain ? `, with ${language} ${seen.toolchain.version} (${seen.toolchain.path})` : ""}.
        {seen.isStale && <b className="copper"> The original has changed since; what is here is of its older text.</b>}
      </p>
      {seen.problem && (
        <div className={styles.problem}>
          <Problem record={seen.problem} />
        </div>
      )}
      <ul className={styles.counts}>
        <li>
          <Mark mark="agree" /> {seen.isPlain ? "started with nothing, as there is no case yet: " : ""}
          {formatCount(answered)} of {plural(cases, seen.isPlain ? "run" : "case")} answered
          {threw > 0 ? `, ${formatCount(threw)} of them with an error, which counts as an answer` : ""}
        </li>
        <li>
          <Mark mark="unsteady" /> {formatCount(unsteadyCount)} not repeatable
        </li>
        <li>
          <Mark mark="broken" /> {formatCount(brokenCount)} without an answer
        </li>
        <li>
          {seconds.first.toFixed(2)} s the first time, {seconds.second.toFixed(2)} s the second
        </li>
      </ul>
      {seen.unsteady.length > 0 && (
        <section>
          <h2>Does not agree with itself: no twin can agree with these as they are</h2>
          <table className={styles.table}>
            <thead>
              <tr>
                <th scope="col">case</th>
                <th scope="col">first</th>
                <th scope="col">in another hash seed, time zone, locale and clock</th>
              </tr>
            </thead>
            <tbody>
              {seen.unsteady.map(({ id, module, first, second }) => (
                <tr key={id}>
                  <th scope="row">
                    {module ? <Link href={`/port/${port}/cases?case=${encodeURIComponent(id)}`}>{id}</Link> : id}
                  </th>
                  <td className="mono">{first}</td>
                  <td className="mono">{second}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {seen.broken.length > 0 && (
        <section>
          <h2>Gave no answer</h2>
          {seen.broken.map(({ id, what, lastOutput }) => (
            <div key={id} className={styles.ran}>
              <b>{id}</b> {what}
              {lastOutput && <pre>{lastOutput}</pre>}
            </div>
          ))}
        </section>
      )}
      {seen.prepared.length > 0 && (
        <section>
          <h2>Built by</h2>
          {seen.prepared.map(({ command, seconds: took, printed }) => (
            <div key={command.join(" ")} className={styles.ran}>
              <code>{command.join(" ")}</code> <span className="soft">{took.toFixed(2)} s</span>
              {printed && <pre>{printed}</pre>}
            </div>
          ))}
        </section>
      )}
      {seen.runs.length > 0 && (
        <section>
          <h2>What it printed</h2>
          {seen.runs.map(({ id, argv, exit, stdout, stderr, files, ms }) => (
            <div key={id} className={styles.ran}>
              <b>{id}</b> <code>{argv.join(" ")}</code>{" "}
              <span className="soft">
                {exit === null ? "did not end by itself" : `exit ${exit}`}
                {ms === null ? "" : `, ${formatCount(Math.round(ms))} ms`}
                {files.length > 0 ? `, wrote ${files.join(", ")}` : ""}
              </span>
              {stdout && <pre>{stdout}</pre>}
              {stderr && <pre className="madder">{stderr}</pre>}
            </div>
          ))}
        </section>
      )}
      {seen.printed.length > 0 && (
        <section>
          <h2>What calls printed</h2>
          {seen.printed.map(({ id, text }) => (
            <div key={id} className={styles.ran}>
              <b>{id}</b>
              <pre>{text}</pre>
            </div>
          ))}
        </section>
      )}
      {seen.slowest.length > 0 && (
        <section>
          <h2>Slowest</h2>
          <ul className={styles.counts}>
            {seen.slowest.map(({ id, ms }) => (
              <li key={id}>
                {id} <span className="soft">{ms < 10 ? ms.toFixed(2) : formatCount(Math.round(ms))} ms</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
