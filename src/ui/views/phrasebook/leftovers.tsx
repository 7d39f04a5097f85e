import type { PhrasebookView as Book } from "@/api/making-views";
import { plural } from "@/ui/format";
import styles from "@/ui/views/phrasebook/phrasebook.module.css";

const KINDS = [
  ["code", "Code"],
  ["comment", "Comments"],
  ["string", "Texts"],
  ["config", "Other files"],
] as const;

const MAX_SHOWN = 30;

/** Mentions of the old way that no phrase covers, by the kind of place, and modules that have both ways. */
export function Leftovers({ book }: { book: Book }) {
  const { leftovers, mixed, lapsed, unsound } = book;
  return (
    <section className={styles.leftovers} aria-label="Left of the old way">
      <h2>
        {leftovers.length === 0
          ? "Nothing else mentions the old way"
          : `${plural(leftovers.length, "mention")} of the old way that no phrase covers`}
      </h2>
      <div className={styles.kinds}>
        {KINDS.map(([kind, title]) => {
          const own = leftovers.filter((left) => left.in === kind);
          return (
            own.length > 0 && (
              <div key={kind}>
                <h3>
                  {title} <span className="soft">{own.length}</span>
                </h3>
                <ul>
                  {own.slice(0, MAX_SHOWN).map((left) => (
                    <li key={`${left.phrase} ${left.file}:${left.line}`}>
                      <span className="mono">
                        {left.file}:{left.line}
                      </span>
                      <code className="mono soft">{left.text}</code>
                    </li>
                  ))}
                </ul>
                {own.length > MAX_SHOWN && <p className="soft">and {own.length - MAX_SHOWN} more</p>}
              </div>
            )
          );
        })}
        {mixed.length > 0 && (
          <div>
            <h3>Modules with both ways</h3>
            <ul>
              {mixed.map(({ module, old, new: fresh }) => (
                <li key={module}>
                  {module}: {old} old, {fresh} new
                </li>
              ))}
            </ul>
          </div>
        )}
      </div>
      {lapsed.map(({ phrase, file, text }) => (
        <p key={`${phrase} ${file} ${text}`} className="soft">
          The exception of {phrase} in {file} matches nothing any more{text ? `: ${text}` : ""}.
        </p>
      ))}
      {unsound.map((file) => (
        <p key={file} className="soft">
          {file} has a syntax error: phrases of code and names leave it alone.
        </p>
      ))}
    </section>
  );
}
