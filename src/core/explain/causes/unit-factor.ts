import { type Cause, findingFrom } from "@/core/explain/cause";
import { sameNumber, shared } from "@/core/explain/numbers";

/** Factors between units that programs mix up, with what they are between. */
const KNOWN: readonly (readonly [number, string])[] = [
  [60, "minutes and seconds, or hours and minutes"],
  [3600, "hours and seconds"],
  [24, "days and hours"],
  [1440, "days and minutes"],
  [86400, "days and seconds"],
  [7, "weeks and days"],
  [12, "years and months"],
  [10, "a power of ten"],
  [100, "whole and hundredths"],
  [1000, "whole and thousandths"],
  [1e6, "whole and millionths"],
  [1e9, "whole and billionths"],
  [1024, "binary thousands"],
  [1048576, "binary millions"],
  [8, "bytes and bits"],
  [0.3048, "feet and metres"],
  [2.54, "inches and centimetres"],
  [1.609344, "miles and kilometres"],
  [1.852, "sea miles and kilometres"],
  [0.45359237, "pounds and kilograms"],
  [3.6, "metres a second and kilometres an hour"],
  [Math.PI / 180, "degrees and radians"],
  [4.184, "calories and joules"],
  [3.785411784, "gallons and litres"],
];

export const unitFactor: Cause = {
  name: "unit-factor",
  title: "Another unit",
  note: "The two sides count in different units: seconds and milliseconds, pence and pounds, degrees and radians. Fix: convert once, where the value comes in or goes out.",
  inCode: { numbers: true, strength: "slight" },
  examine: ({ numbers }) => {
    const pairs = numbers.filter((pair) => pair.original.value !== 0 && pair.twin.value !== 0);
    const ratio = shared(pairs, (pair) => pair.twin.value / pair.original.value);
    if (ratio === null || ratio === 1 || ratio === -1) return null;
    const known = KNOWN.find(([factor]) => sameNumber(ratio, factor) || sameNumber(ratio, 1 / factor));
    const several = new Set(pairs.map((pair) => pair.original.value)).size > 1;
    if (!known) return null;
    const shown = ratio < 1 ? `1/${Number((1 / ratio).toPrecision(10))}` : `${Number(ratio.toPrecision(10))}`;
    return findingFrom(
      numbers,
      (pair) => pair.original.value !== 0 && sameNumber(pair.twin.value / pair.original.value, ratio),
      { weight: several ? 0.95 : 0.6, evidence: `constant factor ${shown}: ${known[1]}` },
    );
  },
  fires: [
    [
      { original: 1.5, twin: 1500 },
      { original: 2, twin: 2000 },
    ],
    [
      { original: 0.3048, twin: 1 },
      { original: 3.048, twin: 10 },
    ],
  ],
  staysQuiet: [
    [
      { original: 1, twin: 2 },
      { original: 3, twin: 9 },
    ],
    [{ original: 3, twin: 9 }],
  ],
};
