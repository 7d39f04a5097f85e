"use client";
import InputBase from "@mui/material/InputBase";
import Select from "@mui/material/Select";
import { useRouter } from "next/navigation";
import { useRef, useState } from "react";
import { ROUTES } from "@/api/routes";
import type { SurveyView as Survey } from "@/api/views";
import { languageTitle } from "@/core/source/language-of";
import { benchHref } from "@/ui/api";
import { formatCount, plural } from "@/ui/format";
import { PortFrame } from "@/ui/frame/port-frame";
import { ROW_ORDERS, type RowOrder, surveyTable } from "@/ui/state/survey-rows";
import { useAddress } from "@/ui/state/use-address";
import type { Key } from "@/ui/state/use-keys";
import { usePortEvents } from "@/ui/state/use-port-events";
import { useView } from "@/ui/state/use-view";
import styles from "@/ui/views/survey/survey.module.css";
import { SurveySide } from "@/ui/views/survey/survey-side";
import { type Chosen, UsesTable } from "@/ui/views/survey/uses-table";

type SurveyProps = {
  readonly id: string;
  readonly twin: string | null;
  readonly initialName: string | null;
  readonly initialModule: string | null;
};

const ORDER_WORDS: Readonly<Record<RowOrder, string>> = {
  layer: "what the others use first",
  name: "name",
  lines: "lines",
  complexity: "branches",
  uses: "uses of the chosen column",
};

/** The Survey: modules down, what they use across. */
export function SurveyView({ id, twin, initialName, initialModule }: SurveyProps) {
  const events = usePortEvents(id);
  const router = useRouter();
  const { data, error, reload } = useView(ROUTES.survey, { twin }, id);
  const [chosen, setChosen] = useState<Chosen>({ name: initialName, module: initialModule });
  const [words, setWords] = useState("");
  const [order, setOrder] = useState<RowOrder>("layer");
  const [box, setBox] = useState<HTMLElement | null>(null);
  const filter = useRef<HTMLInputElement>(null);
  const table = data && surveyTable(data, { words, order, column: chosen.name });
  const columns = table?.columns ?? [];
  const at = Math.max(
    0,
    columns.findIndex((entry) => entry.name === chosen.name),
  );
  const column = columns[at];
  const row = table?.rows.find(({ module }) => module === chosen.module);
  useAddress(chosen);
  const move = (step: number) => {
    const next = columns[Math.max(0, Math.min(columns.length - 1, at + step))];
    setChosen({ ...chosen, name: next?.name ?? null });
  };
  // Above the first row are all modules together.
  const moveRow = (step: number) => {
    const modules = table?.rows.map(({ module }) => module) ?? [];
    const next = Math.max(-1, Math.min(modules.length - 1, modules.indexOf(chosen.module ?? "") + step));
    setChosen({ name: column?.name ?? null, module: modules[next] ?? null });
  };
  const keys: Key[] = [
    { key: "ArrowRight", shows: "→", does: "next library or snag", run: () => move(1) },
    { key: "ArrowLeft", shows: "←", does: "previous", run: () => move(-1) },
    { key: "ArrowDown", shows: "↓", does: "next module", run: () => moveRow(1) },
    { key: "ArrowUp", shows: "↑", does: "previous module, or all", run: () => moveRow(-1) },
    {
      key: "Enter",
      does: "open the module on the Bench",
      run: () => row && router.push(benchHref(id, row.module, twin)),
    },
    { key: "f", does: "filter modules and libraries", run: () => filter.current?.focus() },
    { key: "1", shows: "1 … 6", does: "choose a plan" },
    { key: "w", does: "write a note on it" },
    { key: "N", does: "add a platform-bound item" },
    { key: "c", does: "check the whole port", run: () => events.start(twin ? { twin } : {}) },
  ];
  return (
    <PortFrame
      port={data?.port ?? null}
      view="survey"
      modules={data?.rows.map((entry) => entry.module) ?? []}
      twin={twin}
      events={events}
      keys={keys}
      error={error}
    >
      {data && table && (
        <div className={styles.body}>
          <main className={styles.map} ref={setBox} aria-label="Modules and what they use">
            <div className={styles.top}>
              <p>{summaryOf(data)}</p>
              <InputBase
                inputRef={filter}
                value={words}
                onChange={(event) => setWords(event.target.value)}
                onKeyDown={(event) => event.key === "Escape" && filter.current?.blur()}
                placeholder="filter: module or library"
                inputProps={{ "aria-label": "Filter modules and libraries" }}
              />
              <Select
                native
                input={<InputBase />}
                value={order}
                onChange={(event) => setOrder(ROW_ORDERS.find((name) => name === event.target.value) ?? "layer")}
                inputProps={{ "aria-label": "Order of the modules" }}
              >
                {ROW_ORDERS.map((name) => (
                  <option key={name} value={name}>
                    by {ORDER_WORDS[name]}
                  </option>
                ))}
              </Select>
            </div>
            <UsesTable
              rows={table.rows}
              columns={columns}
              cells={data.grid.cells}
              chosen={{ name: column?.name ?? null, module: row?.module ?? null }}
              onChoose={setChosen}
              onClear={() => setWords("")}
              box={box}
            />
            <Footnotes survey={data} />
          </main>
          {column ? (
            <SurveySide
              key={column.name}
              id={id}
              column={column}
              row={row ?? null}
              onAllModules={() => setChosen({ name: column.name, module: null })}
              onChanged={reload}
            />
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
  return `${plural(rows.length, "module")} in ${written}, ${plural(lines, "line")}, ${plural(sections, "section")}. ${formatCount(snags)} of ${plural(grid.columns.length, "dependency", "dependencies")} ${snags === 1 ? "is" : "are"} platform-bound.`;
}

/** Further findings: import cycles, tests, mentions in other files, files that could not be read fully. */
function Footnotes({ survey: { knots, tests, mentions, problems } }: { survey: Survey }) {
  return (
    <dl className={styles.notes}>
      {knots.map(({ members, untie }) => (
        <div key={members.join()}>
          <dt>Import cycle</dt>
          <dd>
            {members.join(", ")} import each other; removing{" "}
            {untie.imports.map(({ from, to }) => `the import of ${to} in ${from}`).join(" and ")} ends the cycle
            {untie.isLeast ? "" : " (a smaller set may exist)"}
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
