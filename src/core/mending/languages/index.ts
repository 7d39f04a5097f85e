/** The languages whose twins can be mended, one line each. */
import { javascript } from "@/core/mending/languages/javascript";
import { python } from "@/core/mending/languages/python";
import type { MendLanguage } from "@/core/mending/site";

const ALL: readonly MendLanguage[] = [javascript, { ...javascript, language: "typescript" }, python];

/** Language → how its changes are made. */
export const MEND_LANGUAGES: ReadonlyMap<string, MendLanguage> = new Map(ALL.map((entry) => [entry.language, entry]));
