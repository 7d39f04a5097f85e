import { type Block, documentOf } from "@/core/handover/document";
import type { Handover } from "@/core/handover/handover";

/** Markdown with tables, as code hosts show it. Text of the port cannot become markup. */
export const writeMarkdown = (handover: Handover): string => `${documentOf(handover).map(write).join("\n\n")}\n`;

function write(block: Block): string {
  switch (block.kind) {
    case "title":
      return `# ${inline(block.text)}`;
    case "heading":
      return `## ${inline(block.text)}`;
    case "text":
      return inline(block.text);
    case "list":
      return block.items.map((item) => `- ${inline(item)}`).join("\n");
    case "table":
      return [block.head, block.head.map(() => "---"), ...block.rows]
        .map((cells, index) => `| ${cells.map((cell) => (index === 1 ? cell : inline(cell))).join(" | ")} |`)
        .join("\n");
  }
}

/** One line, with every character that could begin markup escaped. */
export const inline = (text: string): string =>
  text
    .replace(/\s*\n\s*/g, " ")
    .replace(/[\\`*[\]<>|#~&]|(?<![\p{L}\p{N}])_|_(?![\p{L}\p{N}])/gu, "\\$&")
    .trim();
