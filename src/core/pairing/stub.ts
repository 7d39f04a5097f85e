/** The beginning of a section that is not ported yet, in the twin's language. */
import type { Names } from "@/core/formats/port-file";
import { convertName } from "@/core/pairing/naming";

type Stub = (name: string, params: readonly string[]) => string;

const typed: Stub = (name, params) =>
  `export function ${name}(${params.map((param) => `${param}: unknown`).join(", ")}) {\n  throw new Error("not ported yet");\n}\n`;

/** Language → how a function begins there. */
const STUBS: Readonly<Record<string, Stub>> = {
  typescript: typed,
  javascript: (name, params) =>
    `export function ${name}(${params.join(", ")}) {\n  throw new Error("not ported yet");\n}\n`,
  python: (name, params) => `def ${name}(${params.join(", ")}):\n    raise NotImplementedError("not ported yet")\n`,
  ruby: (name, params) => `def ${name}(${params.join(", ")})\n  raise NotImplementedError, "not ported yet"\nend\n`,
  php: (name, params) =>
    `function ${name}(${params.map((param) => `$${param}`).join(", ")})\n{\n    throw new \\Exception('not ported yet');\n}\n`,
  go: (name, params) =>
    `func ${name}(${params.map((param) => `${param} any`).join(", ")}) any {\n\tpanic("not ported yet")\n}\n`,
};

/** The text for a section of the original, its name and parameters in the twin's spelling; empty for a language without one. */
export function stubOf(
  section: { readonly name: string; readonly params: readonly string[] },
  language: string,
  names: Names,
): string {
  const stub = STUBS[language];
  if (!stub || section.name.includes(".")) return "";
  const spelled = (name: string) => convertName(name.replace(/^[*.&]+/, ""), names.functions, names.keep);
  return stub(spelled(section.name), section.params.map(spelled));
}
