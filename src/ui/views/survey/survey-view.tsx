"use client";
import { useState } from "react";
import { ROUTES } from "@/api/routes";
import type { SurveyView as Survey } from "@/api/views";
import { languageTitle } from "@/core/source/language-of";
import { formatCount, plural } from "@/ui/format";
import { PortFrame } from "@/ui/frame/port-frame";
import { useAddress } from "@/ui/state/use-address";
import type { Key } from "@/ui/state/use-keys";
import { usePortEvents } from "@/ui/state/use-port-events";
import { useView } from "@/ui/state/use-view";
import styles from "@/ui/views/survey/survey.module.css";
import { SurveySide } from "@/ui/views/survey/survey-side";
import { UsesGridPicture } from "@/ui/views/survey/uses-grid-picture";

type SurveyProps = { readonly id: string; readonly twin: string | null; readonly initialName: string | null };

/** The Survey: modules down, what they use across. */
export function SurveyView({ id, twin, initialName }: SurveyProps) {
  const events = usePortEvents(id);
  const { data, error, reload } = useView(ROUTES.survey, { twin }, id);
  const [name, setName] = useState<string | null>(initialName);
  const columns = data?.grid.columns ?? [];
  const at = Math.max(
    0,
    columns.findIndex((entry) => entry.name === name),
  );
  const column = columns[at];
  useAddress({ name });
  const move = (step: number) => setName(columns[Math.max(0, Math.min(columns.length - 1, at + step))]?.name ?? null);
  const keys: Key[] = [
    { key: "ArrowRight", shows: "→", does: "next library or snag", run: () => move(1) },
    { key: "ArrowLeft", shows: "←", does: "previous", run: () => move(-1) },
    { key: "1", shows: "1 … 6", does: "choose a plan" },
    { key: "w", does: "write a note on it" },
    { key: "N", does: "add a platform-bound item" },
    { key: "c", does: "check the whole port", run: () => events.start(twin ? { twin } : {}) },
  ];
  return (
    <PortFrame
      port={data?.port ?? null}
      view="survey"
      modules={data?.rows.map((row) => row.module) ?? []}
      twin={twin}
      events={events}
      keys={keys}
      error={error}
    >
      {data && (
        <div className={styles.body}>
          <main className={styles.map} aria-label="Modules and what they use">
            <p className={styles.summary}>{summaryOf(data)}</p>
            <UsesGridPicture survey={data} chosen={column?.name ?? null} onChoose={setName} />
            <Footnotes survey={data} />
          </main>
          {column ? (
            <SurveySide key={column.name} id={id} column={column} onChanged={reload} />
          ) : (
            <aside className={styles.side}>
              <p className="soft">Nothing is taken from outside.</p>
            </aside>
          )}
        </div>
      )}
    </PortFrame>
  );
}

function summaryOf({ rows, grid, languages }: Survey): string {
  const lines = rows.reduce((sum, row) => sum + row.lines, 0);
  const sections = rows.reduce((sum, row) => sum + row.sections, 0);
  const snags = grid.columns.filter(({ snag }) => snag !== null).length;
  const written = Object.keys(languages).map(languageTitle).join(", ");
  return `${plural(rows.length, "module")} in ${written}, ${plural(lines, "line")}, ${plural(sections, "section")}. ${formatCount(snags)} of ${plural(grid.columns.length, "column")} ${snags === 1 ? "is" : "are"} bound to the old platform.`;
}

/** Further findings: import cycles, tests, mentions in other files, files that could not be read fully. */
function Footnotes({ survey: { knots, tests, mentions, problems } }: { survey: Survey }) {
  return (
    <dl className={styles.notes}>
      {knots.map(({ members, untie }) => (
        <div key={members.join()}>
          <dt>Knot</dt>
          <dd>
            {members.join(", ")} need each other; without{" "}
            {untie.imports.map(({ from, to }) => `the import of ${to} in ${from}`).join(" and ")} they would not
            {untie.isLeast ? "" : ", as far as was tried"}
          </dd>
        </div>
      ))}
      {tests.length > 0 && (
        <div>
          <dt>Tests that come with it</dt>
          <dd>
            {tests
              .map(({ file, touches }) => `${file}${touches.length > 0 ? ` (${touches.join(", ")})` : ""}`)
              .join("; ")}
          </dd>
        </div>
      )}
      {mentions > 0 && (
        <div>
          <dt>In files that are not code</dt>
          <dd>{plural(mentions, "place")} name modules or libraries</dd>
        </div>
      )}
      {problems.map(({ file, line, message }) => (
        <div key={`${file} ${message}`}>
          <dt>{line === undefined ? file : `${file}:${line}`}</dt>
          <dd>{message}</dd>
        </div>
      ))}
    </dl>
  );
}
