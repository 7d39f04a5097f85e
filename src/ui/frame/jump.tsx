"use client";
import InputBase from "@mui/material/InputBase";
import { useRouter } from "next/navigation";
import { type Ref, useState } from "react";
import { benchHref } from "@/ui/api";
import styles from "@/ui/frame/strip.module.css";

type Props = {
  readonly ref: Ref<HTMLInputElement>;
  readonly id: string;
  readonly modules: readonly string[];
  readonly twin: string | null;
};

const MOST = 30;

/** A box to jump to any module by a few letters of its name. */
export function Jump({ ref, id, modules, twin }: Props) {
  const router = useRouter();
  const [text, setText] = useState("");
  const [open, setOpen] = useState(false);
  const [at, setAt] = useState(0);
  const wanted = text.toLowerCase();
  const found = modules.filter((name) => name.toLowerCase().includes(wanted)).slice(0, MOST);
  const go = (name: string | undefined) => {
    if (name === undefined) return;
    setOpen(false);
    setText("");
    router.push(benchHref(id, name, twin));
  };
  return (
    <div className={styles.jump}>
      <InputBase
        inputRef={ref}
        value={text}
        placeholder="Jump to"
        endAdornment={<kbd>/</kbd>}
        fullWidth
        inputProps={{
          role: "combobox",
          "aria-label": "Jump to a module",
          "aria-expanded": open,
          "aria-controls": "jump-list",
          "aria-activedescendant": open && found[at] ? `jump-${at}` : undefined,
        }}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
          setOpen(true);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") setAt((before) => Math.min(found.length - 1, before + 1));
          else if (event.key === "ArrowUp") setAt((before) => Math.max(0, before - 1));
          else if (event.key === "Enter") go(found[at]);
          else if (event.key === "Escape") (event.target as HTMLElement).blur();
          else return;
          event.preventDefault();
        }}
      />
      {open && (
        <div id="jump-list" className={styles.list} role="listbox" aria-label="Modules">
          {found.map((name, index) => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the box above has the keyboard, as a combobox does
            // biome-ignore lint/a11y/useFocusableInteractive: the active option is named by aria-activedescendant
            <div
              key={name}
              id={`jump-${index}`}
              role="option"
              aria-selected={index === at}
              onMouseDown={(event) => event.preventDefault()}
              onClick={() => go(name)}
            >
              {name}
            </div>
          ))}
        </div>
      )}
    </div>
  );
}
