import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import type { NumberPair, TextPair, TimePair } from "@/core/explain/facets";

const YEAR_MS = 365.25 * 86_400_000;

export const epochUnit: Cause = {
  name: "epoch-unit",
  title: "Seconds against milliseconds since the epoch",
  note: "One platform counts the time since 1970 in seconds, the other in milliseconds. Fix: multiply or divide by 1000 where the time comes in or goes out.",
  inCode: {
    original: { any: /timestamp|epoch|time|date/i },
    twin: { any: /new Date\(|timestamp|getTime|Date\.(now|parse|UTC)|epoch/i },
  },
  examine: ({ numbers, times, texts }) => {
    const isEpoch = ({ original, twin }: NumberPair) => {
      const [small, large] = [Math.abs(original.value), Math.abs(twin.value)].sort((one, other) => one - other);
      if (!small || !large || large < 1e10) return false;
      return [1e3, 1e6, 1e9].some((factor) => Math.abs(large / factor - small) <= Math.max(1, small * 1e-9));
    };
    const isNear1970 = ({ original, twin }: TimePair) => {
      const [near, far] = [Math.abs(original), Math.abs(twin)].sort((one, other) => one - other);
      return (near ?? 0) < 1.2 * YEAR_MS && (far ?? 0) > 10 * YEAR_MS;
    };
    const isYear = ({ original, twin }: NumberPair) => {
      const [early, late] = [original.value, twin.value].sort((one, other) => one - other);
      return early === 1970 && Number.isInteger(late) && (late ?? 0) > 1980 && (late ?? 0) < 2300;
    };
    return bestOf([
      findingFrom(numbers, isYear, { weight: 0.93, evidence: "one side is in the year 1970" }),
      findingFrom(numbers, isEpoch, { weight: 0.98, evidence: "the same moment in another unit" }),
      findingFrom(texts, hasDaysNear1970, { weight: 0.93, evidence: "a date in the text is in 1970 on one side" }),
      findingFrom(times, isNear1970, { weight: 0.94, evidence: "one side is in 1970, a thousandth of the other" }),
    ]);
  },
  fires: [
    [{ original: 1932883200, twin: 1932883200000 }],
    [{ original: { "~time": "2031-04-02T00:00:00Z" }, twin: { "~time": "1970-01-23T08:54:43Z" } }],
  ],
  staysQuiet: [
    [{ original: 1970, twin: 1972 }],
    [{ original: 2, twin: 2000 }],
    [{ original: 1932883200, twin: 1932883300 }],
  ],
};

/** Both texts are the same but for a date, which one side has in the first weeks of 1970. */
function hasDaysNear1970({ original, twin }: TextPair): boolean {
  const date = /\b(\d{4})-\d\d(-\d\d)?/g;
  const years = (text: string) => [...text.matchAll(date)].map(([, year]) => Number(year));
  const [one, other] = [years(original), years(twin)];
  return (
    one.length === other.length &&
    one.some((year, index) => {
      const [early, late] = [year, other[index] ?? year].sort((a, b) => a - b);
      return early === 1970 && (late ?? 0) > 1980;
    })
  );
}
