/** The source of a pattern that matches a text to the letter. */
export const escapePattern = (text: string): string => text.replace(/[.*+?^${}()|[\]\\/]/g, "\\$&");
