/** An allowance in words, for those who did not write it. */
import type { Allow, Allowance } from "@/core/formats/allowance";

/** What may differ, as a sentence's predicate: "numbers may differ by 0.5". */
export function describeAllow(allow: Allow): string {
  return [
    allow.ignore && "is not compared",
    allow.number && `numbers may differ by ${describeBounds(allow.number)}`,
    allow.unordered &&
      (allow.unordered === true ? "the order does not count" : `items belong together by ${allow.unordered.by}`),
    allow.text && describeText(allow.text),
    allow.errorKind && `errors may be ${pairs(allow.errorKind)}`,
    allow.errorMessage && "the message of an error does not count",
    allow.keys && `keys may be ${pairs(allow.keys)}`,
    allow.image && describeImage(allow.image),
    allow.timing && `lines may come ${allow.timing.ms} ms earlier or later`,
    allow.exactly && `exactly ${short(allow.exactly.original)} against ${short(allow.exactly.twin)}`,
  ]
    .filter(Boolean)
    .join("; ");
}

/** Of what it speaks: module, section, case and path. */
export function describeScope({ where }: Pick<Allowance, "where">): string {
  const { module = "every module", call, case: item, at } = where;
  return [
    call ? `${module}.${call}` : module,
    item !== undefined && item !== "*" && `case ${item}`,
    at !== undefined && `at ${at}`,
  ]
    .filter(Boolean)
    .join(", ");
}

function describeBounds({ abs, rel, ulps }: NonNullable<Allow["number"]>): string {
  return [
    abs !== undefined && `${abs}`,
    rel !== undefined && `${rel} of the value`,
    ulps !== undefined && `${ulps} steps of a double`,
  ]
    .filter(Boolean)
    .join(" or ");
}

function describeText(text: NonNullable<Allow["text"]>): string {
  if (text === true) return "blanks, line ends and Unicode form of texts do not count";
  const loose = [
    text.trim && "blanks at the ends",
    text.lineEndings && "line ends",
    text.case && "upper and lower case",
    text.unicode && "Unicode form",
    ...(text.replace ?? []).map(({ pattern }) => `what matches ${pattern}`),
  ].filter(Boolean);
  return loose.length > 0 ? `of texts ${loose.join(", ")} do not count` : "texts are compared by the numbers in them";
}

const describeImage = ({ channel = 0, share = 0 }: NonNullable<Allow["image"]>): string =>
  `${Number((share * 100).toPrecision(3))} % of the pixels may differ by more than ${channel} of 255`;

const pairs = (names: Readonly<Record<string, string>>): string =>
  Object.entries(names)
    .map(([from, to]) => `${to} for ${from}`)
    .join(", ");

function short(value: unknown): string {
  const text = JSON.stringify(value);
  return text.length > 60 ? `${text.slice(0, 60)}…` : text;
}
