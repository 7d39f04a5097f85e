"use client";
import Button from "@mui/material/Button";
import { useCallback, useEffect, useState } from "react";
import type { ChangedSection } from "@/api/making-views";
import { plural } from "@/ui/format";
import { PlaceLink } from "@/ui/frame/place-link";
import styles from "@/ui/views/bench/bench.module.css";

type Caller = ChangedSection["callers"][number] & { readonly section: string };

const keyOf = (port: string): string => `side-twin-callers-${port}`;

/** Callers of sections whose signature changed, until each is seen to; kept in this browser. */
export function useCallers(port: string) {
  const [list, setList] = useState<readonly Caller[]>([]);
  useEffect(() => {
    const kept = localStorage.getItem(keyOf(port));
    if (kept !== null) setList(JSON.parse(kept) as Caller[]); // as it was written below
  }, [port]);
  const keep = useCallback(
    (change: (before: readonly Caller[]) => readonly Caller[]) =>
      setList((before) => {
        const next = change(before);
        if (next.length === 0) localStorage.removeItem(keyOf(port));
        else localStorage.setItem(keyOf(port), JSON.stringify(next));
        return next;
      }),
    [port],
  );
  const add = useCallback(
    (changed: readonly ChangedSection[]) => {
      if (changed.length === 0) return;
      const anew = new Set(changed.map(({ section }) => section));
      keep((before) => [
        ...before.filter(({ section }) => !anew.has(section)),
        ...changed.flatMap(({ section, callers }) => callers.map((caller) => ({ ...caller, section }))),
      ]);
    },
    [keep],
  );
  const seen = useCallback(
    (gone: readonly Caller[]) => keep((before) => before.filter((one) => !gone.includes(one))),
    [keep],
  );
  return { list, add, seen };
}

/** Callers of sections whose parameters or result changed, counted down as each is seen to. */
export function Callers({ port, callers: { list, seen } }: { port: string; callers: ReturnType<typeof useCallers> }) {
  if (list.length === 0) return null;
  const sections = [...new Set(list.map(({ section }) => section))];
  return (
    <section className={styles.callers} aria-label="Callers to see to">
      {sections.map((section) => {
        const own = list.filter((caller) => caller.section === section);
        return (
          <details key={section} open>
            <summary>
              <b className="mono">{section}</b> has another signature: {plural(own.length, "mention")} to see to
            </summary>
            <ul>
              {own.map((caller) => (
                <li key={`${caller.side}:${caller.file}:${caller.line}`}>
                  <label>
                    <input type="checkbox" checked={false} onChange={() => seen([caller])} aria-label="Seen to" />
                  </label>
                  <PlaceLink port={port} place={caller} />
                  <span className="mono soft">{caller.text}</span>
                </li>
              ))}
            </ul>
            <Button onClick={() => seen(own)}>All are seen to</Button>
          </details>
        );
      })}
    </section>
  );
}
