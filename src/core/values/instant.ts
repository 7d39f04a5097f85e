/** Times as instants, exactly: nanoseconds since 1970 as an integer, so that nothing is rounded before comparing. */

const TIME =
  /^(\d{4,})-(\d\d)-(\d\d)(?:[T ](\d\d):(\d\d)(?::(\d\d)(?:[.,](\d{1,9})\d*)?)?)?\s*(Z|[+-]\d\d:?\d\d(?::?\d\d)?)?$/i;

/** Returns the instant of an ISO 8601 text, naive ones as UTC; null if it is not such a time. */
export function toInstant(text: string): bigint | null {
  const match = TIME.exec(text.trim());
  if (!match) return null;
  const [, year, month, day, hour = "0", minute = "0", second = "0", fraction = "", zone = "Z"] = match;
  const whole = Date.UTC(Number(year), Number(month) - 1, Number(day), Number(hour), Number(minute), Number(second));
  return BigInt(whole) * 1_000_000n + BigInt(fraction.padEnd(9, "0")) - zoneSeconds(zone) * 1_000_000_000n;
}

/** The offset part of a time text, `""` for a naive one. */
export const offsetOf = (text: string): string => TIME.exec(text.trim())?.[8] ?? "";

function zoneSeconds(zone: string): bigint {
  if (zone.toUpperCase() === "Z") return 0n;
  const digits = zone.slice(1).replaceAll(":", "");
  const seconds = Number(digits.slice(0, 2)) * 3600 + Number(digits.slice(2, 4)) * 60 + Number(digits.slice(4) || "0");
  return BigInt(zone.startsWith("-") ? -seconds : seconds);
}
