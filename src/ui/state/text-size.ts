/** The size of texts, and of all that goes with them, kept in a cookie that the server reads. */

/** Factors that can be chosen. */
export const TEXT_SIZES = [1, 1.15, 1.3, 1.5] as const;

export const TEXT_SIZE_COOKIE = "side-twin-text-size";

/** The factor of a cookie's value; 1 for anything else. */
export const readTextSize = (value: string | undefined): number =>
  TEXT_SIZES.find((size) => String(size) === value) ?? 1;

/** Shows it at once, and keeps it for a year. */
export function chooseTextSize(size: number): void {
  document.documentElement.style.setProperty("--zoom", String(size));
  // biome-ignore lint/suspicious/noDocumentCookie: the Cookie Store API is not in every browser; the server reads this one
  document.cookie = `${TEXT_SIZE_COOKIE}=${size}; path=/; max-age=31536000; samesite=strict`;
}
