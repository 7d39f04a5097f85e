/** The text of a Go file that asks the driver for the time, which a case may fix, in place of the package `time`. */
import type { Node } from "web-tree-sitter";
import { childrenOf, textOf } from "@/core/source/section";

const OWN: Readonly<Record<string, string>> = {
  Now: "zz_side_twin_now",
  Since: "zz_side_twin_since",
  Until: "zz_side_twin_until",
};

/** Declarations that each package gets for it; `sidetwin` is the driver's import. */
export const OWN_CLOCK = `func zz_side_twin_now() zz_side_twin_time.Time { return sidetwin.Now() }

func zz_side_twin_since(from zz_side_twin_time.Time) zz_side_twin_time.Duration { return sidetwin.Since(from) }

func zz_side_twin_until(to zz_side_twin_time.Time) zz_side_twin_time.Duration { return sidetwin.Until(to) }
`;

/** Lines stay where they are. The same text where the file does not ask for the time. */
export function withOwnClock(root: Node, text: string): string {
  const name = importedName(root);
  if (name === null) return text;
  const found = root
    .descendantsOfType("selector_expression")
    .filter((node) => node !== null)
    .filter((node) => textOf(node, "operand") === name && textOf(node, "field") in OWN);
  if (found.length === 0) return text;
  let made = "";
  let done = 0;
  for (const node of found) {
    made += text.slice(done, node.startIndex) + (OWN[textOf(node, "field")] ?? "");
    done = node.endIndex;
  }
  // An import that is not used is an error.
  return `${made}${text.slice(done)}\nvar _ = ${name}.Now\n`;
}

/** The name under which a file imports `time`; null where it does not. */
function importedName(root: Node): string | null {
  const specs = childrenOf(root)
    .filter(({ type }) => type === "import_declaration")
    .flatMap((node) => node.descendantsOfType("import_spec"));
  const spec = specs.find((node) => node && textOf(node, "path") === '"time"');
  const name = spec ? textOf(spec, "name") || "time" : null;
  return name === "_" || name === "." ? null : name;
}
