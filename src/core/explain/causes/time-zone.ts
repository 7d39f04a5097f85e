import { bestOf, type Cause, type Finding, findingFrom } from "@/core/explain/cause";
import type { Facets, TimePair } from "@/core/explain/facets";
import { shared } from "@/core/explain/numbers";

const QUARTER_MS = 15 * 60_000;

export const timeZone: Cause = {
  name: "time-zone",
  title: "Another time zone",
  note: "A time without a zone is read as local on one side and as UTC on the other, or is shown in another zone. Fix: name the zone on both sides, and keep plain days as plain days.",
  inCode: {
    original: { any: /date|time|zone|utc/i },
    twin: { any: /new Date\(|get(Hours|Minutes|Date|Day|Month)\b|toISOString|toLocale\w+|zone|localtime|utc/i },
  },
  examine: (facets) => bestOf([byTime(facets), byClock(facets), byNumber(facets)]),
  fires: [
    [
      { original: { "~time": "2031-04-02T06:00:00Z" }, twin: { "~time": "2031-04-02T08:00:00Z" } },
      { original: { "~time": "2031-07-02T06:00:00Z" }, twin: { "~time": "2031-07-02T08:00:00Z" } },
    ],
    [
      { original: "at 06:10", twin: "at 08:10" },
      { original: "at 23:30", twin: "at 01:30" },
    ],
  ],
  staysQuiet: [
    [{ original: { "~time": "2031-04-02T06:00:00Z" }, twin: { "~time": "2031-04-02T06:00:07Z" } }],
    [{ original: "at 06:10", twin: "at 06:15" }],
  ],
};

function byTime({ times }: Facets): Finding | null {
  const isZone = ({ original, twin }: TimePair) => {
    const gap = Math.abs(original - twin);
    return gap > 0 && gap <= 26 * 3_600_000 && gap % QUARTER_MS === 0;
  };
  const constant = shared(times, (pair) => pair.twin - pair.original);
  const hours = constant === null ? "whole quarters of an hour" : `${constant / 3_600_000} h`;
  const days = times.some((pair) => pair.isDay);
  return findingFrom(times, isZone, {
    weight: days ? 0.78 : constant === null ? 0.85 : 0.95,
    evidence: `${hours} apart`,
  });
}

function byClock({ texts }: Facets): Finding | null {
  const minutesOf = (text: string) => {
    const found = /\b(\d{1,2}):(\d\d)\b/.exec(text);
    return found ? Number(found[1]) * 60 + Number(found[2]) : null;
  };
  const rest = (text: string) => text.replace(/\b\d{1,2}:\d\d\b/g, "#");
  const gaps = texts.map((pair) => {
    const [one, other] = [minutesOf(pair.original), minutesOf(pair.twin)];
    return one === null || other === null || rest(pair.original) !== rest(pair.twin) ? 0 : (other - one + 2880) % 1440;
  });
  const first = gaps.find((gap) => gap !== 0 && gap % 30 === 0);
  if (first === undefined) return null;
  return findingFrom(texts, (pair) => gaps[texts.indexOf(pair)] === first, {
    weight: texts.length > 1 ? 0.9 : 0.7,
    evidence: `clock times ${first / 60} h apart`,
  });
}

function byNumber({ numbers }: Facets): Finding | null {
  const isZone = (gap: number, unit: number) =>
    gap !== 0 && Math.abs(gap) <= 14 * 3600 * unit && gap % (900 * unit) === 0;
  return findingFrom(
    numbers,
    ({ original, twin }) => {
      const [size, gap] = [Math.abs(original.value), twin.value - original.value];
      return (size > 1e11 && isZone(gap, 1000)) || (size > 1e8 && size <= 1e11 && isZone(gap, 1));
    },
    { weight: 0.9, evidence: "moments whole quarters of an hour apart" },
  );
}
