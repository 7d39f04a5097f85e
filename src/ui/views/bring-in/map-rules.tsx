"use client";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import type { EffectView } from "@/api/bring-in-views";
import type { Draft } from "@/core/bring-in/draft";
import { plural } from "@/ui/format";
import styles from "@/ui/views/bring-in/bring-in.module.css";
import type { DraftState } from "@/ui/views/bring-in/use-draft";

type Props = {
  readonly draft: Draft;
  readonly effect: EffectView | null;
  readonly change: DraftState["change"];
};

/** Where in the twin each file has its place: the rules, what each covers, and what none does. */
export function MapRules({ draft, effect, change }: Props) {
  const { moduleMap } = draft;
  const set = (index: number, part: Partial<(typeof moduleMap)[number]>) =>
    change({ moduleMap: moduleMap.map((rule, at) => (at === index ? { ...rule, ...part } : rule)) });
  return (
    <>
      <h2>Where its files go in the twin</h2>
      {moduleMap.map((rule, index) => {
        const covered = effect?.rules[index];
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name while they are typed
          <div key={index}>
            <div className={styles.line}>
              <InputBase
                value={rule.original}
                onChange={(event) => set(index, { original: event.target.value })}
                inputProps={{ "aria-label": "Files of the original", className: "mono steel", spellCheck: false }}
                fullWidth
              />
              <span aria-hidden>→</span>
              <InputBase
                value={rule.twin}
                onChange={(event) => set(index, { twin: event.target.value })}
                inputProps={{ "aria-label": "Files of the twin", className: "mono copper", spellCheck: false }}
                fullWidth
              />
              <Button onClick={() => change({ moduleMap: moduleMap.filter((_one, at) => at !== index) })}>Drop</Button>
            </div>
            {covered && (
              <details className={styles.covers}>
                <summary>
                  covers {plural(covered.count, "file")}
                  {covered.there > 0 ? `, ${covered.there} of them there` : ", none there yet"}
                </summary>
                <ul className="mono">
                  {covered.covers.map(({ original, twin, isThere }) => (
                    <li key={original}>
                      <span className="steel">{original}</span> → <span className="copper">{twin}</span>
                      {isThere ? "" : <span className="soft"> not there yet</span>}
                    </li>
                  ))}
                </ul>
              </details>
            )}
          </div>
        );
      })}
      <div className={styles.line}>
        <Button onClick={() => change({ moduleMap: [...moduleMap, { original: "", twin: "" }] })}>Add a rule</Button>
        {effect && effect.missedCount > 0 && (
          <span className="soft" title={effect.missed.join("\n")}>
            no rule matches {plural(effect.missedCount, "file")}: {effect.missed.slice(0, 3).join(", ")}
            {effect.missedCount > 3 ? ", …" : ""}; their place is found by name
          </span>
        )}
      </div>
      {effect && effect.leftTwin.length > 0 && (
        <p className="soft" title={effect.leftTwin.join("\n")}>
          In the twin, {plural(effect.leftTwin.length, "file")} stand for nothing by these rules:{" "}
          {effect.leftTwin.slice(0, 3).join(", ")}
          {effect.leftTwin.length > 3 ? ", …" : ""}
        </p>
      )}
    </>
  );
}
