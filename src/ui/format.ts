/** Numbers and times as the screens write them. */

const whole = new Intl.NumberFormat("en");

/** `1,234`. */
export const formatCount = (count: number): string => whole.format(count);

/** `1 case`, `2 cases`. */
export const plural = (count: number, word: string, many = `${word}s`): string =>
  `${formatCount(count)} ${count === 1 ? word : many}`;

/** Rounded down, so that 100 % means that nothing is left. */
export function percentProven({ lines, provenLines }: { lines: number; provenLines: number | null }): string {
  if (provenLines === null) return "not measured yet";
  return `${lines === 0 ? 0 : Math.floor((100 * provenLines) / lines)} % proven`;
}

/** How long ago, in the words of a person. `now` in milliseconds. */
export function formatAgo(iso: string, now: number): string {
  const seconds = Math.max(0, Math.round((now - Date.parse(iso)) / 1000));
  if (seconds < 60) return `${seconds} s ago`;
  if (seconds < 3600) return `${Math.floor(seconds / 60)} min ago`;
  if (seconds < 86_400) return `${Math.floor(seconds / 3600)} h ago`;
  return `${Math.floor(seconds / 86_400)} d ago`;
}

const two = (value: number): string => String(value).padStart(2, "0");

/** `2026-03-01`, in the person's own time zone. */
export function localDay(iso: string): string {
  const at = new Date(iso);
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`;
}

/** `09:05`, in the person's own time zone. */
export function localTime(iso: string): string {
  const at = new Date(iso);
  return `${two(at.getHours())}:${two(at.getMinutes())}`;
}

/** Describes a module's drift in a few words. */
export function driftWords(drift: {
  readonly sections: readonly string[];
  readonly through: readonly string[];
}): string {
  const { sections, through } = drift;
  if (sections.length > 0)
    return `drifted: ${sections.length === 1 ? sections[0] : plural(sections.length, "section")}`;
  return `rests on ${through.join(", ")}, which drifted`;
}
