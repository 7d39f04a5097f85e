import type { ModuleView } from "@/api/views";

/** A module's state as the screens write it. */
export const STATE_WORDS: Readonly<Record<ModuleView["state"], string>> = {
  "left-out": "excluded",
  waiting: "waits",
  ready: "ready",
  "under-way": "under way",
  agrees: "agrees",
  proven: "proven",
};
