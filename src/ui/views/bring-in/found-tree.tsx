import type { ReactNode } from "react";
import type { FoundView } from "@/api/bring-in-views";
import { formatCount, plural } from "@/ui/format";
import { Mark } from "@/ui/marks/mark";
import styles from "@/ui/views/bring-in/bring-in.module.css";

/** Findings in the source: languages, modules, tests, toolchains, platform-bound items. */
export function FoundTree({ found }: { found: FoundView }) {
  const { languages, tests, tools, outside, snags, problems, links } = found;
  const lines = languages.reduce((sum, entry) => sum + entry.lines, 0);
  return (
    <section className={styles.found} aria-label="What is there">
      <h1>What is there</h1>
      <p className={`mono soft ${styles.crumb}`}>{found.from}</p>
      <p>
        {plural(found.modules, "module")} in {plural(found.layers, "layer")}
        {found.knots > 0 ? `, ${plural(found.knots, "knot")} among them` : ""}; {plural(found.sections, "section")},{" "}
        {plural(lines, "line")}.
      </p>
      <ul className={styles.languages} aria-label="Languages by lines">
        {languages.map((entry) => (
          <li key={entry.language}>
            <span>{entry.title}</span>
            <i style={{ width: `${Math.max(1, (100 * entry.lines) / Math.max(1, lines))}%` }} />
            <span className="soft">
              {plural(entry.lines, "line")}, {plural(entry.files, "file")}
            </span>
          </li>
        ))}
      </ul>
      <Part title="Toolchains">
        <ul className={styles.plain}>
          {tools.map((tool) => (
            <li key={tool.program}>
              <Mark mark={tool.path === null ? "skipped" : "agree"} />{" "}
              <span>
                {tool.path === null ? `${tool.program} is missing` : (tool.version ?? tool.program)}
                <span className="soft"> {tool.path === null ? `(${tool.get})` : tool.path}</span>
              </span>
            </li>
          ))}
        </ul>
      </Part>
      <Part
        title={
          tests.length === 0 ? "No tests of its own were found" : `${plural(tests.length, "test file")} of its own`
        }
      >
        <ul className={styles.plain}>
          {tests.slice(0, 8).map(({ file, touches }) => (
            <li key={file}>
              <span className="mono">{file}</span>
              {touches.length > 0 && <span className="soft">touches {touches.join(", ")}</span>}
            </li>
          ))}
          {tests.length > 8 && <li className="soft">and {tests.length - 8} more</li>}
        </ul>
      </Part>
      <Part title="Taken from outside, by uses">
        <Counted list={outside.map(({ package: name, uses }) => [name, uses])} />
      </Part>
      <Part title="Bound to the old platform, by uses">
        <Counted list={snags.map(({ name, uses }) => [name, uses])} />
      </Part>
      {(problems.length > 0 || links.length > 0) && (
        <Part title="Could not be read fully">
          <ul className={styles.plain}>
            {links.map((name) => (
              <li key={name}>
                <span className="mono">{name}</span> is a link and was left out
              </li>
            ))}
            {problems.map(({ file, line, message }) => (
              <li key={`${file} ${message}`}>
                <span className="mono">
                  {file}
                  {line === undefined ? "" : `:${line}`}
                </span>{" "}
                {message}
              </li>
            ))}
          </ul>
        </Part>
      )}
    </section>
  );
}

const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <div className={styles.part}>
    <h2>{title}</h2>
    {children}
  </div>
);

function Counted({ list }: { list: readonly (readonly [string, number])[] }) {
  if (list.length === 0) return <p className="soft">Nothing.</p>;
  return (
    <p className={styles.counted}>
      {list.slice(0, 14).map(([name, uses]) => (
        <span key={name}>
          {name} <b>{formatCount(uses)}</b>
        </span>
      ))}
      {list.length > 14 && <span className="soft">and {list.length - 14} more</span>}
    </p>
  );
}
