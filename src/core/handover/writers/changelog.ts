import { describeEntry } from "@/core/handover/document";
import type { Handover } from "@/core/handover/handover";
import { inline } from "@/core/handover/writers/markdown";

/** The entries of the journal in Markdown, by day, the newest first. */
export function writeChangelog({ port, changes, since }: Handover): string {
  const days = new Map<string, string[]>();
  for (const entry of changes) {
    const day = entry.at.slice(0, 10);
    const words = describeEntry(entry)
      .slice(day.length)
      .replace(/^[,:] /, "");
    days.set(day, [...(days.get(day) ?? []), `- ${entry.kind}: ${inline(words)}`]);
  }
  const body = [...days].map(([day, lines]) => `## ${day}\n\n${lines.join("\n")}`).join("\n\n");
  const none = since === null ? "The journal is empty." : `Nothing was entered since ${since.slice(0, 10)}.`;
  return `# ${inline(port)}: changes\n\n${body || none}\n`;
}
