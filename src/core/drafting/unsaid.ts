/** What a draft could not say, with the original's line. */
export type Unsaid = { readonly line: number; readonly text: string; readonly why: string };
