import { type Block, documentOf } from "@/core/handover/document";
import type { Handover } from "@/core/handover/handover";

/** One page that needs nothing else: no script, no address. Text of the port is escaped. */
export function writeHtml(handover: Handover): string {
  const body = documentOf(handover).map(write).join("\n");
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escapeHtml(handover.port)}</title>
<style>${STYLE}</style>
</head>
<body>
${body}
</body>
</html>
`;
}

const STYLE = `
body { font: 16px/1.5 "Atkinson Hyperlegible", system-ui, sans-serif; color: #22262b; background: #fffef9; max-width: 60rem; margin: 3rem auto; padding: 0 1.5rem; }
h1 { font-size: 1.6rem; } h2 { font-size: 1.15rem; margin-top: 2.2rem; }
table { border-collapse: collapse; width: 100%; margin: 1rem 0 2rem; } th, td { text-align: left; padding: .3rem .8rem .3rem 0; border-bottom: 1px solid #d9d2c2; vertical-align: top; }
th { font-weight: 600; border-bottom: 2px solid #22262b; } td { overflow-wrap: anywhere; }
@media (prefers-color-scheme: dark) { body { color: #e9e5da; background: #1b1e22; } th { border-bottom-color: #e9e5da; } th, td { border-color: #3a3f45; } }
@media print { body { margin: 0; max-width: none; } tr { break-inside: avoid; } }
`;

function write(block: Block): string {
  switch (block.kind) {
    case "title":
      return `<h1>${escapeHtml(block.text)}</h1>`;
    case "heading":
      return `<h2>${escapeHtml(block.text)}</h2>`;
    case "text":
      return `<p>${escapeHtml(block.text)}</p>`;
    case "list":
      return `<ul>\n${block.items.map((item) => `<li>${escapeHtml(item)}</li>`).join("\n")}\n</ul>`;
    case "table":
      return `<table>\n<thead>${row(block.head, "th")}</thead>\n<tbody>\n${block.rows.map((cells) => row(cells, "td")).join("\n")}\n</tbody>\n</table>`;
  }
}

const row = (cells: readonly string[], tag: "th" | "td"): string =>
  `<tr>${cells.map((cell) => `<${tag}>${escapeHtml(cell)}</${tag}>`).join("")}</tr>`;

const escapeHtml = (text: string): string => text.replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`);
