"use client";
import Button from "@mui/material/Button";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useRef, useState } from "react";
import type { PortCard } from "@/api/views";
import { formatError } from "@/core/errors";
import { languageTitle } from "@/core/source/language-of";
import { percentProven } from "@/ui/format";
import { Jump } from "@/ui/frame/jump";
import { KeysHelp } from "@/ui/frame/keys-help";
import styles from "@/ui/frame/strip.module.css";
import { VIEWS, type ViewName, viewHref } from "@/ui/frame/views";
import { describeCheck } from "@/ui/state/running-check";
import { type Key, useKeys } from "@/ui/state/use-keys";
import type { PortEvents } from "@/ui/state/use-port-events";
import { TwinBar } from "@/ui/twin-bar/twin-bar";

type Props = {
  readonly port: PortCard | null;
  readonly view: ViewName;
  /** The module that the Bench is opened for. */
  readonly module?: string | null;
  readonly modules?: readonly string[];
  readonly twin?: string | null;
  readonly events?: PortEvents;
  readonly keys: readonly Key[];
};

/** The one strip on top of every view, with the keys that hold everywhere. */
export function Strip({ port, view, module = null, modules = [], twin = null, events, keys }: Props) {
  const router = useRouter();
  const [help, setHelp] = useState(false);
  const jump = useRef<HTMLInputElement>(null);
  const at = { port: port?.id ?? null, twin, module: module ?? port?.next?.module ?? modules[0] ?? null };
  const views = VIEWS.flatMap((entry) => {
    const href = viewHref(entry, at);
    return href === null ? [] : [{ ...entry, href }];
  });
  const everywhere: Key[] = [
    ...views.map(({ key, title, href }): Key => ({ key, does: `go to ${title}`, run: () => router.push(href) })),
    { key: "/", does: "jump to a module", run: () => jump.current?.focus() },
    { key: "?", does: "show these keys", run: () => setHelp(true) },
    { key: "d", does: "switch between light and dark", run: switchScheme },
  ];
  const all = [...keys, ...everywhere.filter(({ key }) => port !== null || key !== "/")];
  useKeys(all);
  const running = events ? describeCheck(events) : null;
  const notice = events?.refusal ?? (events?.problem ? formatError(events.problem) : null);
  return (
    <>
      <header className={styles.strip}>
        <Link href="/" className={styles.sign} aria-label="Side Twin: all ports">
          <svg width={20} height={20} aria-hidden="true">
            <rect x={3} y={2} width={5} height={16} fill="var(--steel)" />
            <rect x={11} y={2} width={5} height={16} fill="var(--copper)" />
          </svg>
        </Link>
        {port ? (
          <>
            <span className={styles.name}>{port.name}</span>
            <span className="soft">
              <span className="steel">{languageTitle(port.original)}</span> to{" "}
              <span className="copper">
                {[...new Set(port.twins.map((entry) => languageTitle(entry.language)))].join(", ")}
              </span>
            </span>
            <TwinBar segments={port.bar} width={150} label={`${port.name}: ${percentProven(port)}`} />
            <span className="soft">{percentProven(port)}</span>
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
          <span className={styles.watch} role="status">
            <i className={events.connected ? styles.on : styles.off} />
            {running ?? (events.connected ? "watching" : "no connection")}
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
      {notice && (
        <p className={styles.notice} role="alert">
          {notice}
        </p>
      )}
      <KeysHelp open={help} keys={all} onClose={() => setHelp(false)} />
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
