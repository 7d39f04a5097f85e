"use client";
import Button from "@mui/material/Button";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { ROUTES } from "@/api/routes";
import type { PortCard, PortListing } from "@/api/views";
import { languageTitle } from "@/core/source/language-of";
import { ask, benchHref } from "@/ui/api";
import { formatAgo, formatCount, percentProven, plural } from "@/ui/format";
import { useNotice } from "@/ui/frame/notices";
import { Problem } from "@/ui/frame/problem";
import { Strip } from "@/ui/frame/strip";
import { Mark } from "@/ui/marks/mark";
import { describeCheck } from "@/ui/state/running-check";
import { useAsk } from "@/ui/state/use-ask";
import type { Key } from "@/ui/state/use-keys";
import { type PortEvents, usePortEvents } from "@/ui/state/use-port-events";
import { useView } from "@/ui/state/use-view";
import { TwinBar } from "@/ui/twin-bar/twin-bar";
import styles from "@/ui/views/ports/ports.module.css";

/** All ports, the first view. */
export function PortsView() {
  const router = useRouter();
  const { data, error, reload } = useView(ROUTES.ports, {});
  const [at, setAt] = useState(0);
  const ports = data ?? [];
  const here = ports[at];
  // One connection, for the port that is pointed at: a browser has few to give.
  const events = usePortEvents(here && !("problem" in here) ? here.id : null);
  const move = (step: number) => setAt((before) => Math.max(0, Math.min(ports.length - 1, before + step)));
  const keys: Key[] = [
    { key: "ArrowDown", shows: "↓", does: "next port", run: () => move(1) },
    { key: "ArrowUp", shows: "↑", does: "port before", run: () => move(-1) },
    { key: "Enter", does: "open the port", run: () => ports[at] && router.push(`/port/${ports[at].id}/order`) },
    { key: "c", does: "check the port", run: () => events.start() },
    { key: "x", does: "stop the check", run: events.stop },
    { key: "N", does: "add a port", run: () => router.push("/bring-in") },
  ];
  return (
    <>
      <Strip port={null} view="ports" keys={keys} events={here ? events : undefined} />
      <main className={styles.page}>
        <div className={styles.head}>
          <h1>Ports</h1>
          <Button className="main" onClick={() => router.push("/bring-in")}>
            Add a port
          </Button>
        </div>
        {error && <Problem record={error} />}
        {data?.length === 0 && (
          <p className="soft">
            No ports yet. Press N to add a folder, a zip or a git repository with the code that is to be ported.
          </p>
        )}
        <ul className={styles.list}>
          {ports.map((port, index) => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the arrow keys of the view choose a port, too
            <li key={port.id} className={index === at ? styles.here : undefined} onClick={() => setAt(index)}>
              {"problem" in port ? (
                <BrokenPort port={port} onRemoved={reload} />
              ) : (
                <PortRow
                  port={port}
                  running={index === at ? describeCheck(events) : null}
                  onCheck={index === at ? events.start : null}
                />
              )}
            </li>
          ))}
        </ul>
      </main>
    </>
  );
}

type Listed = Exclude<PortListing, { problem: unknown }>;

type RowProps = {
  readonly port: Listed;
  readonly running: string | null;
  readonly onCheck: PortEvents["start"] | null;
};

function PortRow({ port, running, onCheck }: RowProps) {
  return (
    <div className={styles.row}>
      <div className={styles.what}>
        <Link href={`/port/${port.id}/order`} className={styles.title}>
          {port.name}
        </Link>
        <span>
          <span className="steel">{languageTitle(port.original)}</span> to{" "}
          <span className="copper">{port.twins.map((twin) => languageTitle(twin.language)).join(", ")}</span>
        </span>
        <span className={`mono soft ${styles.path}`}>{port.file}</span>
      </div>
      <div className={styles.bar}>
        <TwinBar segments={port.bar} width={560} height={28} label={`${port.name}: ${percentProven(port)}`} />
        <span className="soft">
          {port.provenLines === null
            ? "not checked yet"
            : `${percentProven(port)}: ${formatCount(port.provenLines)} of ${plural(port.lines, "line")}`}
          ; {port.modulesDone} of {plural(port.modules, "module")} done
          {port.modulesDrifted > 0 && <span className={styles.drifted}>, {port.modulesDrifted} drifted</span>}
        </span>
        <History points={port.history} />
        {port.others.map((other) => (
          <OtherTwin key={other.twin} port={other} />
        ))}
      </div>
      <div className={styles.facts}>
        <Counts port={port} />
        <span className={styles.last}>
          <span className="soft">{running ?? describeLast(port)}</span>
          {onCheck && (
            <Button onClick={() => onCheck()} disabled={running !== null}>
              Check <kbd>c</kbd>
            </Button>
          )}
        </span>
        {onCheck && port.lastCheck?.state === "interrupted" && running === null && (
          <span>
            <Button onClick={() => onCheck(port.lastCheck?.scope)}>Resume the interrupted check</Button>
          </span>
        )}
        <Link href={`/port/${port.id}/baseline`} className={styles.link}>
          {describeBaseline(port.baseline)}
        </Link>
        <Changes port={port} />
        {port.next && (
          <span>
            Next:{" "}
            <Link href={benchHref(port.id, port.next.module)} className={styles.link}>
              {port.next.module}
            </Link>
            <span className="soft">, {port.next.reason}</span>
          </span>
        )}
      </div>
    </div>
  );
}

const LINE = { width: 560, height: 26 };

/** The share of proven lines over the last checks, as a small line; nothing before there are two. */
function History({ points }: { points: Listed["history"] }) {
  const [first, last] = [points[0], points.at(-1)];
  if (!first || !last || points.length < 2) return null;
  const place = (proven: number, index: number) =>
    `${(index / (points.length - 1)) * LINE.width},${LINE.height - 2 - proven * (LINE.height - 4)}`;
  const words = `Proven over the last ${points.length} checks: from ${Math.round(100 * first.proven)} to ${Math.round(100 * last.proven)} %`;
  return (
    <svg width={LINE.width} height={LINE.height} role="img" aria-label={words}>
      <title>{words}</title>
      <polyline
        points={points.map(({ proven }, index) => place(proven, index)).join(" ")}
        fill="none"
        stroke="var(--steel)"
        strokeWidth={1.5}
      />
    </svg>
  );
}

/** Changes by the last check, and the command that repeats it elsewhere. */
function Changes({ port }: { port: Listed }) {
  const notice = useNotice();
  const { mended = null, worsened = null } = port.lastCheck ?? {};
  const line = `npx side-twin check ${port.file} --junit report.xml`;
  const copy = () =>
    navigator.clipboard.writeText(line).then(
      () => notice({ text: `Copied: ${line}` }),
      () => notice({ text: line }),
    );
  return (
    <>
      {mended !== null && worsened !== null && mended + worsened > 0 && (
        <span>
          {mended} mended, {worsened} newly {worsened === 1 ? "differs" : "differ"} in the last check
        </span>
      )}
      <span className={styles.last}>
        <Button onClick={copy} title={line}>
          Copy the line for CI
        </Button>
        <Link href={`/port/${port.id}/settings`} className={styles.link}>
          Settings
        </Link>
      </span>
    </>
  );
}

/** Another twin of the same original, at a glance. */
function OtherTwin({ port }: { port: PortCard }) {
  const language = port.twins.find(({ name }) => name === port.twin)?.language ?? "";
  return (
    <Link href={`/port/${port.id}/order?twin=${encodeURIComponent(port.twin)}`} className={styles.other}>
      <span>
        <b>{port.twin}</b>, <span className="copper">{languageTitle(language)}</span>
      </span>
      <TwinBar segments={port.bar} width={300} height={18} label={`${port.twin}: ${percentProven(port)}`} />
      <span className="soft">
        {percentProven(port)}, {port.modulesDone} of {port.modules} done
      </span>
    </Link>
  );
}

function describeBaseline(seen: Listed["baseline"]): string {
  if (!seen) return "Run the original once";
  if (seen.state === "failed") return "The original could not be run";
  const wrong = [
    seen.unsteady > 0 ? `${seen.unsteady} not steady` : "",
    seen.broken > 0 ? `${seen.broken} without an answer` : "",
  ].filter(Boolean);
  return `The original runs${wrong.length > 0 ? `: ${wrong.join(", ")}` : ""}`;
}

function Counts({ port }: { port: PortCard }) {
  const shown = (["agree", "allowed", "differ", "broken", "unsteady", "skipped"] as const).filter(
    (name) => port.totals[name] > 0,
  );
  return (
    <span className={styles.counts}>
      {shown.map((name) => (
        <span key={name}>
          <Mark mark={name} /> {formatCount(port.totals[name])}
        </span>
      ))}
      {shown.length === 0 && <span className="soft">{plural(port.totals.cases, "case")} wait for the first check</span>}
    </span>
  );
}

function describeLast({ lastCheck }: PortCard): string {
  if (!lastCheck) return "never checked";
  const what = lastCheck.module ? `${lastCheck.module} checked` : "checked";
  const when = formatAgo(lastCheck.startedAt, Date.now());
  const took = lastCheck.seconds === null ? "" : `, took ${lastCheck.seconds.toFixed(1)} s`;
  if (lastCheck.state === "running") return "a check is running";
  if (lastCheck.state === "complete") return `${what} ${when}${took}`;
  const words = { stopped: "was stopped", interrupted: "was interrupted", failed: "could not run" }[lastCheck.state];
  return `the last check, ${when}, ${words}${lastCheck.problem ? `: ${lastCheck.problem.what}` : ""}`;
}

function BrokenPort({ port, onRemoved }: { port: Exclude<PortListing, PortCard>; onRemoved: () => void }) {
  const { attempt, busy, refusal } = useAsk();
  const remove = () =>
    attempt(async () => {
      await ask(ROUTES.remove, {}, { port: port.id });
      onRemoved();
    });
  return (
    <div className={styles.row}>
      <div className={styles.what}>
        <span className={styles.title}>{port.name}</span>
        <span className={`mono soft ${styles.path}`}>{port.file}</span>
      </div>
      <Problem record={refusal ?? port.problem} />
      <div>
        <Button disabled={busy} onClick={remove}>
          Take it off the list
        </Button>
      </div>
    </div>
  );
}
