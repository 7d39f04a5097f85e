/** An untranslated part of a draft, with the original's line. */
export type Unsaid = { readonly line: number; readonly text: string; readonly why: string };
