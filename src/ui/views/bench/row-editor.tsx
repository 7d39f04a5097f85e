"use client";
import { defaultKeymap, history, historyKeymap, indentWithTab } from "@codemirror/commands";
import { HighlightStyle, indentOnInput, syntaxHighlighting } from "@codemirror/language";
import { EditorState } from "@codemirror/state";
import { EditorView, keymap, lineNumbers } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import Button from "@mui/material/Button";
import { useEffect, useRef, useState } from "react";
import type { ChangedSection, SourceView } from "@/api/making-views";
import { ROUTES } from "@/api/routes";
import { ask } from "@/ui/api";
import { Problem } from "@/ui/frame/problem";
import { useAsk } from "@/ui/state/use-ask";
import { editorLanguage } from "@/ui/views/bench/editor-languages";
import styles from "@/ui/views/bench/row-editor.module.css";

type Props = {
  readonly port: string;
  readonly twin: string;
  readonly module: string;
  readonly section: string;
  readonly file: string;
  readonly language: string | null;
  /** Lines of the row; null where the section is not ported yet: it is put at the end. */
  readonly lines: { readonly from: number; readonly to: number } | null;
  /** With the snapshot that undoes it. */
  readonly onSaved: (snapshot: string | null, changed: readonly ChangedSection[]) => void;
  readonly onClose: () => void;
};

/** A row of the twin, or its whole file, in an editor. Saving changes these lines alone. */
export function RowEditor(props: Props) {
  const { port, twin, module, section, file, language, lines, onSaved, onClose } = props;
  const { attempt, busy, refusal } = useAsk();
  const [source, setSource] = useState<SourceView | null>(null);
  const [isWhole, setWhole] = useState(false);
  /** The newer text on disk, if the file changed while it was edited. */
  const [theirs, setTheirs] = useState<{ readonly text: string; readonly hash: string } | null>(null);
  const [isDirty, setDirty] = useState(false);
  const box = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const save = useRef<() => void>(() => undefined);
  const leave = useRef<() => void>(() => undefined);

  // biome-ignore lint/correctness/useExhaustiveDependencies: loaded once; another row is another editor
  useEffect(() => {
    attempt(async () => setSource(await ask(ROUTES.source, { twin, file, module, section }, { port })));
  }, []);
  const all = source?.text.split("\n") ?? [];
  const from = isWhole ? 1 : (lines?.from ?? endOf(all));
  const to = isWhole ? all.length : (lines?.to ?? from - 1);
  // biome-ignore lint/correctness/useExhaustiveDependencies: made again for another text or extent
  useEffect(() => {
    if (!source || !box.current) return;
    const parent = box.current;
    const start = isWhole
      ? source.text
      : lines
        ? all.slice(from - 1, to).join("\n")
        : `${all.length > 1 ? "\n" : ""}${source.stub}`;
    let isGone = false;
    void editorLanguage(language).then((support) => {
      if (isGone) return;
      view.current = new EditorView({
        parent,
        state: EditorState.create({
          doc: start,
          extensions: [
            // The page allows styles with its own mark alone.
            EditorView.cspNonce.of(document.querySelector("style")?.nonce ?? ""),
            lineNumbers({ formatNumber: (number) => String(number + from - 1) }),
            history(),
            indentOnInput(),
            syntaxHighlighting(COLOURS),
            EditorView.lineWrapping,
            EditorView.contentAttributes.of({ "aria-label": `${section || file}, twin` }),
            EditorView.updateListener.of(
              (update) => update.docChanged && setDirty(update.state.doc.toString() !== start),
            ),
            keymap.of([
              { key: "Mod-s", preventDefault: true, run: () => run(save.current) },
              { key: "Mod-Enter", preventDefault: true, run: () => run(save.current) },
              { key: "Escape", run: () => run(leave.current) },
              ...defaultKeymap,
              ...historyKeymap,
              indentWithTab,
            ]),
            ...(support ? [support] : []),
          ],
        }),
      });
      view.current.focus();
    });
    return () => {
      isGone = true;
      view.current?.destroy();
      view.current = null;
    };
  }, [source, isWhole]);

  save.current = () => {
    if (!source || busy) return;
    const text = view.current?.state.doc.toString() ?? "";
    attempt(async () => {
      const saved = await ask(ROUTES.saveSource, { twin, file, from, to, text, hash: source.hash }, { port });
      if (saved.state === "changed") setTheirs(saved.now);
      else {
        onSaved(saved.snapshot, saved.changed);
        onClose();
      }
    });
  };
  leave.current = () => {
    // Typing is not lost by one key.
    if (!isDirty) onClose();
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: keys that are typed here are not keys of the view
    <div className={styles.editor} onKeyDown={(event) => event.stopPropagation()}>
      <div ref={box} className={styles.text} />
      {theirs && (
        <section className={styles.theirs} aria-label="Changed on disk">
          <h3>{file} was changed by somebody else meanwhile. Nothing is written yet; on disk it is now:</h3>
          <pre>
            {theirs.text
              .split("\n")
              .slice(from - 1, Math.max(to, from + 20))
              .join("\n")}
          </pre>
          <Button
            onClick={() => {
              setTheirs(null);
              setSource((before) => before && { ...before, hash: theirs.hash });
            }}
          >
            Put mine into these lines
          </Button>
          <Button
            onClick={() => {
              setTheirs(null);
              setDirty(false);
              setSource((before) => before && { ...before, ...theirs });
            }}
          >
            Take theirs
          </Button>
        </section>
      )}
      {refusal && <Problem record={refusal} />}
      <div className={styles.acts}>
        <Button className="main" onClick={() => save.current()} disabled={busy || !source}>
          Save <kbd>Ctrl S</kbd>
        </Button>
        <Button onClick={onClose}>{isDirty ? "Discard" : "Close"}</Button>
        <Button onClick={() => setWhole(!isWhole)} disabled={isDirty}>
          {isWhole ? "Only the row" : "Whole file"}
        </Button>
        <span className="soft mono">
          {file}:{from}
        </span>
      </div>
    </div>
  );
}

/** Those of the pages. */
const COLOURS = HighlightStyle.define([
  { tag: [tags.keyword, tags.modifier, tags.controlKeyword], fontWeight: "650" },
  { tag: tags.comment, fontStyle: "italic", color: "var(--soft)" },
  { tag: [tags.string, tags.special(tags.string), tags.regexp], color: "var(--moss)" },
  { tag: [tags.number, tags.bool, tags.null], color: "var(--steel)" },
  { tag: [tags.typeName, tags.className], color: "color-mix(in srgb, var(--ink) 55%, var(--copper))" },
]);

/** Behind the last line that has text. */
function endOf(lines: readonly string[]): number {
  return lines.length > 0 && lines.at(-1) === "" ? lines.length : lines.length + 1;
}

function run(work: () => void): boolean {
  work();
  return true;
}
