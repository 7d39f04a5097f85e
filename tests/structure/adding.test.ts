/** "To add …" of docs/architecture.md, tried: made-up entries are added in a copy, which must type-check and pass its contracts. */
import { execFileSync, spawnSync } from "node:child_process";
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { packageRoot } from "@/engine/package-root";

const root = packageRoot();
let copy = "";

const edit = (file: string, change: (text: string) => string) => {
  const target = path.join(copy, file);
  const before = readFileSync(target, "utf8");
  const after = change(before);
  if (after === before) throw new Error(`nothing was changed in ${file}`);
  writeFileSync(target, after);
};

/** An import and a line of a list: all that a registry asks for. */
const register = (file: string, name: string, from: string, list: RegExp) =>
  edit(file, (text) => `import { ${name} } from "${from}";\n${text.replace(list, `$&${name}, `)}`);

beforeAll(() => {
  copy = mkdtempSync(path.join(tmpdir(), "side-twin-adding-"));
  for (const name of ["src", "package.json", "tsconfig.json", "vitest.config.ts", "next-env.d.ts"])
    cpSync(path.join(root, name), path.join(copy, name), { recursive: true });
  symlinkSync(path.join(root, "node_modules"), path.join(copy, "node_modules"));
});

afterAll(() => rmSync(copy, { recursive: true, force: true }));

const passes = (...tests: string[]): string => {
  const run = spawnSync(process.execPath, ["node_modules/vitest/vitest.mjs", "run", "--reporter=dot", ...tests], {
    cwd: copy,
    encoding: "utf8",
    env: { ...process.env, SIDE_TWIN_HOME: copy },
  });
  return run.status === 0 ? "passed" : `${run.stdout}\n${run.stderr}`;
};

describe("adding", () => {
  it("a language, a driver, a comparer, a kind of allowance, a cause and a view takes the files that are named", () => {
    const write = (file: string, text: string) => {
      mkdirSync(path.dirname(path.join(copy, file)), { recursive: true });
      writeFileSync(path.join(copy, file), text);
    };
    write(
      "src/core/source/languages/quill.ts",
      'import type { SourceLanguage } from "@/core/source/section";\nimport { python } from "@/core/source/languages/python";\n\nexport const quill: SourceLanguage = { ...python, name: "quill", title: "Quill", endings: ["quill"] };\n',
    );
    register("src/core/source/languages/index.ts", "quill", "@/core/source/languages/quill", /LANGUAGES[^=]*= \[\s*/);
    write(
      "src/engine/drivers/quill/quill.ts",
      'import type { Driver } from "@/engine/drivers/driver";\nimport { python } from "@/engine/drivers/python/python";\n\nexport const quill: Driver = { ...python, title: "Quill", languages: ["quill"] };\n',
    );
    edit("src/engine/drivers/driver.contract.test.ts", (text) =>
      text.replace(
        /PROGRAMS[^=]*= \{/,
        '$&\n  quill: { file: "p.py", text: "import datetime\\nprint(datetime.datetime.now().year)\\n" },',
      ),
    );
    register("src/engine/drivers/index.ts", "quill", "@/engine/drivers/quill/quill", /ALL_DRIVERS[^=]*= \[\s*/);
    write(
      "src/core/compare/comparers/runes.ts",
      'import { comparer, pairOf } from "@/core/compare/comparers/comparer";\nimport { compareText } from "@/core/compare/text";\n\nexport const runes = comparer<string>({\n  kind: "runes",\n  title: "Runes",\n  description: "A made-up kind of document, told by its first letter.",\n  read: ({ content }) => (typeof content === "string" && content.startsWith("ᚠ") ? content : null),\n  compare: (state, at, { original, twin }) => compareText(state, at, original, twin),\n  show: () => ({}),\n  fires: [pairOf("", "ᚠ one", "ᚠ two")],\n  staysQuiet: [pairOf("", "ᚠ one", "ᚠ one")],\n});\n',
    );
    edit("src/core/formats/document-kind.ts", (text) => text.replace("z.enum([", 'z.enum(["runes", '));
    register("src/core/compare/comparers/index.ts", "runes", "@/core/compare/comparers/runes", /COMPARERS[^=]*= \[\s*/);
    write(
      "src/core/allowances/kinds/louder.ts",
      'import type { AllowanceKind } from "@/core/allowances/kinds/kind";\n\nexport const louder: AllowanceKind<"louder"> = {\n  key: "louder",\n  title: "Louder",\n  describe: () => "texts may be louder",\n  excuses: (_, { original, twin }) =>\n    original?.kind === "text" && twin?.kind === "text" && twin.value === original.value.concat("!") ? {} : null,\n  examples: [{ setting: true, excuses: [["a", "a!"]], leaves: [["a", "b"]] }],\n};\n',
    );
    edit("src/core/formats/allowance.ts", (text) =>
      text.replace("export const allowSchema = z\n  .strictObject({", "$&\n    louder: z.literal(true).optional(),"),
    );
    register("src/core/allowances/kinds/index.ts", "louder", "@/core/allowances/kinds/louder", /KINDS: \{[^=]*= \{\s*/);
    write("src/ui/views/tides/tides-view.tsx", "export const TidesView = () => <main>Tides</main>;\n");
    write(
      "src/app/port/[id]/tides/page.tsx",
      'import { TidesView } from "@/ui/views/tides/tides-view";\n\nexport default function Page() {\n  return <TidesView />;\n}\n',
    );
    edit("src/ui/frame/views.ts", (text) =>
      text
        .replace('| "settings";', '| "settings" | "tides";')
        .replace(
          "export const VIEWS: readonly ViewEntry[] = [",
          '$&\n  { name: "tides", title: "Tides", key: "T", path: "tides" },',
        ),
    );
    const compiler = path.join(root, "node_modules/typescript/bin/tsc");
    const types = spawnSync(process.execPath, [compiler, "--noEmit", "--incremental", "false"], {
      cwd: copy,
      encoding: "utf8",
    });
    expect(types.stdout).toBe("");
  });

  it("is proven by the contract tests of the registries", () => {
    expect(
      passes("src/core/compare/comparers", "src/core/allowances/kinds", "src/engine/drivers/driver.contract.test.ts"),
    ).toBe("passed");
  });

  it("fails the contract where something is missing", () => {
    edit("src/core/allowances/kinds/louder.ts", (text) => text.replace('[["a", "a!"]]', '[["a", "b"]]'));
    expect(passes("src/core/allowances/kinds")).toContain("louder");
    expect(
      execFileSync("git", ["status", "--short", "src/core/allowances/kinds"], { cwd: root, encoding: "utf8" }),
    ).not.toContain("louder");
  });
});
