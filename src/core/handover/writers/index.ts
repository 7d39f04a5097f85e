/** The forms in which a port is handed over. */
import type { Handover } from "@/core/handover/handover";
import { writeChangelog } from "@/core/handover/writers/changelog";
import { writeHtml } from "@/core/handover/writers/html";
import { writeMarkdown } from "@/core/handover/writers/markdown";

/** Name, as on the command line → the text of the file. */
export const WRITERS: Readonly<Record<string, (handover: Handover) => string>> = {
  md: writeMarkdown,
  html: writeHtml,
  json: (handover) => `${JSON.stringify(handover, null, 2)}\n`,
  changelog: writeChangelog,
};
