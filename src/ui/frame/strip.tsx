"use client";
import Button from "@mui/material/Button";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useRef, useState } from "react";
import { ROUTES } from "@/api/routes";
import type { PortCard } from "@/api/views";
import { formatError } from "@/core/errors";
import { languageTitle } from "@/core/source/language-of";
import { percentProven, plural } from "@/ui/format";
import { JournalDialog, type JournalPlace } from "@/ui/frame/journal-dialog";
import { Jump } from "@/ui/frame/jump";
import { KeysHelp } from "@/ui/frame/keys-help";
import styles from "@/ui/frame/strip.module.css";
import { VIEWS, type ViewName, viewHref } from "@/ui/frame/views";
import { describeCheck, describeOutcome } from "@/ui/state/running-check";
import { type Key, useKeys } from "@/ui/state/use-keys";
import type { PortEvents } from "@/ui/state/use-port-events";
import { useView } from "@/ui/state/use-view";
import { TwinBar } from "@/ui/twin-bar/twin-bar";

type Props = {
  readonly port: PortCard | null;
  readonly view: ViewName;
  /** For a page that is not a view of its own. */
  readonly title?: string;
  /** The module that the Bench is opened for. */
  readonly module?: string | null;
  readonly modules?: readonly string[];
  readonly twin?: string | null;
  readonly events?: PortEvents;
  readonly keys: readonly Key[];
  /** The place that a journal entry written from here is about. */
  readonly about?: JournalPlace;
};

/** The one strip on top of every view, with the keys that hold everywhere. */
export function Strip({
  port,
  view,
  title: own,
  module = null,
  modules = [],
  twin = null,
  events,
  keys,
  about,
}: Props) {
  const router = useRouter();
  const [help, setHelp] = useState(false);
  const [writing, setWriting] = useState(false);
  const [dismissed, setDismissed] = useState<string | null>(null);
  const jump = useRef<HTMLInputElement>(null);
  const at = { port: port?.id ?? null, twin, module: module ?? port?.next?.module ?? modules[0] ?? null };
  const views = VIEWS.flatMap((entry) => {
    const href = viewHref(entry, at);
    return href === null ? [] : [{ ...entry, href }];
  });
  const everywhere: Key[] = [
    ...views.map(({ key, title, href }): Key => ({ key, does: `go to ${title}`, run: () => router.push(href) })),
    { key: "/", does: "find a module, or text in both sources", run: () => jump.current?.focus() },
    { key: "j", does: "write into the journal", run: () => setWriting(true) },
    { key: "?", does: "show these keys", run: () => setHelp(true) },
    { key: "d", does: "switch between light and dark", run: switchScheme },
  ];
  const all = [...keys, ...everywhere.filter(({ key }) => port !== null || (key !== "/" && key !== "j"))];
  useKeys(all);
  const running = events ? describeCheck(events) : null;
  const outcome = events ? describeOutcome(events) : null;
  const spoken = events?.running ? "check started" : outcome;
  const title = [
    module && view === "bench" ? module : null,
    own ?? VIEWS.find(({ name }) => name === view)?.title,
    port?.name,
    "Side Twin",
  ];
  const notice = events?.refusal ?? (events?.problem ? formatError(events.problem) : null);
  return (
    <>
      <title>{title.filter(Boolean).join(" – ")}</title>
      <header className={styles.strip}>
        <Link href="/" className={styles.sign} aria-label="Side Twin: all ports">
          <svg width={20} height={20} aria-hidden="true">
            <rect x={3} y={2} width={5} height={16} fill="var(--steel)" />
            <rect x={11} y={2} width={5} height={16} fill="var(--copper)" />
          </svg>
        </Link>
        {port ? (
          <>
            <span
              className={styles.name}
              title={`${port.name}: ${languageTitle(port.original)} to ${[...new Set(port.twins.map((entry) => languageTitle(entry.language)))].join(", ")}`}
            >
              {port.name}
            </span>
            <span className="soft widest">
              <span className="steel">{languageTitle(port.original)}</span> to{" "}
              <span className="copper">
                {[...new Set(port.twins.map((entry) => languageTitle(entry.language)))].join(", ")}
              </span>
            </span>
            <span className="wide">
              <TwinBar segments={port.bar} width={120} label={`${port.name}: ${percentProven(port)}`} />
            </span>
            <span className="soft">{percentProven(port)}</span>
            <LeftToDo port={port.id} twin={port.twin} />
          </>
        ) : (
          <span className={styles.name}>Side Twin</span>
        )}
        <nav className={styles.views} aria-label="Views">
          {views.map(({ name, title, href, key }) => (
            <Link key={name} href={href} aria-current={view === name ? "page" : undefined} title={`Shift ${key}`}>
              {title}
            </Link>
          ))}
        </nav>
        {events && (
          <span
            className={styles.watch}
            data-check={events.running ? "running" : CONNECTIONS[String(events.connected)]}
          >
            <i className={events.connected ? styles.on : events.connected === null ? undefined : styles.off} />
            {/* The count is for the eye; what is spoken is the beginning and the end. */}
            <span className={styles.outcome} title={outcome ?? undefined}>
              {running ??
                (events.connected ? (outcome ?? "watching") : events.connected === null ? "" : "no connection")}
            </span>
            <span role="status" className="visually-hidden">
              {spoken}
            </span>
            {events.running && (
              <Button onClick={events.stop} className={styles.stop}>
                Stop <kbd>x</kbd>
              </Button>
            )}
          </span>
        )}
        {port && <Jump ref={jump} id={port.id} modules={modules} twin={twin} />}
        <Button onClick={() => setHelp(true)} aria-label="Keys">
          <kbd>?</kbd>
        </Button>
      </header>
      {notice && notice !== dismissed && (
        <div className={styles.notice} role="alert">
          {/* Compiler output points at columns. */}
          <span className={notice.includes("\n") ? "mono" : undefined}>{notice}</span>
          <Button onClick={() => setDismissed(notice)}>Dismiss</Button>
        </div>
      )}
      {writing && port && (
        <JournalDialog port={port.id} about={{ module: at.module, ...about }} onClose={() => setWriting(false)} />
      )}
      <KeysHelp open={help} keys={all} onClose={() => setHelp(false)} />
    </>
  );
}

/** By `connected`. */
const CONNECTIONS: Readonly<Record<string, string>> = { true: "idle", false: "lost", null: "opening" };

/** Complaints and leftovers, counted down as they go; each leads to its list. */
function LeftToDo({ port, twin }: { port: string; twin: string }) {
  const { data } = useView(ROUTES.counts, { twin }, port);
  const query = new URLSearchParams({ twin });
  const at = `/port/${encodeURIComponent(port)}`;
  return (
    <>
      {data && data.complaints !== null && (
        <Link className={styles.left} href={`${at}/order?${query}&complaints=shown`}>
          {plural(data.complaints, "complaint")}
        </Link>
      )}
      {data && data.leftovers !== null && data.leftovers > 0 && (
        <Link className={styles.left} href={`${at}/phrasebook?${query}`}>
          {plural(data.leftovers, "leftover")}
        </Link>
      )}
    </>
  );
}

function switchScheme(): void {
  const root = document.documentElement;
  const dark = root.dataset.scheme
    ? root.dataset.scheme === "dark"
    : window.matchMedia("(prefers-color-scheme: dark)").matches;
  root.dataset.scheme = dark ? "light" : "dark";
  // biome-ignore lint/suspicious/noDocumentCookie: the Cookie Store API is not in every browser; the server reads this one
  document.cookie = `side-twin-scheme=${root.dataset.scheme}; path=/; max-age=31536000; samesite=strict`;
}
