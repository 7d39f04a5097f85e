"use client";
import InputBase from "@mui/material/InputBase";
import { useRouter } from "next/navigation";
import { type ReactNode, type Ref, useDeferredValue, useState } from "react";
import { ROUTES } from "@/api/routes";
import type { SearchView } from "@/api/views";
import { benchHref, placeHref } from "@/ui/api";
import styles from "@/ui/frame/strip.module.css";
import { useView } from "@/ui/state/use-view";

type Props = {
  readonly ref: Ref<HTMLInputElement>;
  readonly id: string;
  readonly modules: readonly string[];
  readonly twin: string | null;
};

/** Modules that are listed without a text, and above the lines that hold a text. */
const MAX_MODULES = 30;
const MAX_MODULES_ABOVE_LINES = 8;
/** Shorter words are in nearly every line. */
const MIN_WORDS = 2;

type Target = { readonly key: string; readonly href: string; readonly shown: ReactNode };

/** A box to jump to a module by a few letters of its name, or to a line of either side by what is in it. */
export function Jump({ ref, id, modules, twin }: Props) {
  const router = useRouter();
  const [text, setText] = useState("");
  const [open, setOpen] = useState(false);
  const [at, setAt] = useState(0);
  const words = useDeferredValue(text.trim());
  const isSearching = open && words.length >= MIN_WORDS;
  const { data, loading } = useView(ROUTES.search, isSearching ? { words, twin } : null, id);
  const wanted = text.trim().toLowerCase();
  const found = modules
    .filter((name) => name.toLowerCase().includes(wanted))
    .slice(0, isSearching ? MAX_MODULES_ABOVE_LINES : MAX_MODULES);
  const targets: Target[] = [
    ...found.map((name) => ({ key: `module ${name}`, href: benchHref(id, name, twin), shown: name })),
    ...(isSearching ? (data?.hits ?? []) : []).map((hit) => ({
      key: `${hit.side} ${hit.module} ${hit.file} ${hit.line}`,
      href: placeHref(id, hit.module, twin, hit),
      shown: <Line hit={hit} />,
    })),
  ];
  const go = (target: Target | undefined) => {
    if (target === undefined) return;
    setOpen(false);
    setText("");
    router.push(target.href);
  };
  const choose = (step: number) => {
    const next = Math.max(0, Math.min(targets.length - 1, at + step));
    setAt(next);
    document.getElementById(`jump-${next}`)?.scrollIntoView({ block: "nearest" });
  };
  return (
    <div className={styles.jump}>
      <InputBase
        inputRef={ref}
        value={text}
        placeholder="Find"
        endAdornment={<kbd>/</kbd>}
        fullWidth
        inputProps={{
          role: "combobox",
          "aria-label": "Find a module, or text in both sources",
          "aria-expanded": open,
          "aria-controls": "jump-list",
          "aria-activedescendant": open && targets[at] ? `jump-${at}` : undefined,
        }}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
          setOpen(true);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") choose(1);
          else if (event.key === "ArrowUp") choose(-1);
          else if (event.key === "Enter") go(targets[at]);
          else if (event.key === "Escape") (event.target as HTMLElement).blur();
          else return;
          event.preventDefault();
        }}
      />
      {open && (
        <div className={isSearching ? styles.lines : styles.list}>
          <div id="jump-list" {...(targets.length > 0 ? { role: "listbox", "aria-label": "Modules and lines" } : {})}>
            {targets.map(({ key, shown }, index) => (
              // biome-ignore lint/a11y/useKeyWithClickEvents: the box above has the keyboard, as a combobox does
              // biome-ignore lint/a11y/useFocusableInteractive: the active option is named by aria-activedescendant
              <div
                key={key}
                id={`jump-${index}`}
                role="option"
                aria-selected={index === at}
                onMouseDown={(event) => event.preventDefault()}
                onClick={() => go(targets[index])}
              >
                {shown}
              </div>
            ))}
          </div>
          {targets.length === 0 && (
            <p className="soft">
              {isSearching && (loading || !data)
                ? "Searching…"
                : `No module has "${text.trim()}" in its name${isSearching ? ", and no line has it" : ""}.`}
            </p>
          )}
          {isSearching && data?.isCut && <p className="soft">The first {data.hits.length} lines; there are more.</p>}
        </div>
      )}
    </div>
  );
}

/** One line of either side, with where it is. */
const Line = ({ hit: { side, file, line, text } }: { hit: SearchView["hits"][number] }) => (
  <>
    <span className={side === "original" ? "steel" : "copper"}>
      {side} {file}:{line}
    </span>
    <code>{text}</code>
  </>
);
