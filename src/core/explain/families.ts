/**
 * Divergences with the same face, over all cases: what one fault did is one family, and two faults in one section are two.
 *
 * Divergences are first grouped by the shape of their path and their kind. Groups that the same cause explains are one
 * family; a group that nothing explains well joins one in whose cases it always occurs, as its consequence; and a family
 * of which a cause explains only a part is split when another cause explains the rest.
 */
import type { Cause } from "@/core/explain/cause";
import { CAUSES } from "@/core/explain/causes/index";
import { type CodePlace, readSigns, type SectionCode } from "@/core/explain/code";
import { type CaseFacts, facetsOf, inputOf } from "@/core/explain/facets";
import type { SharedCase } from "@/core/formats/case-line";
import type { Divergence } from "@/core/formats/report";
import { groupBy } from "@/core/values/group-by";
import { splitPath } from "@/core/values/path";

/** A cause with its score from 0 to 1, and the evidence in words. */
export type Suspect = {
  readonly cause: string;
  readonly score: number;
  readonly evidence: string;
  /** Where the twin's code has what brings it about. */
  readonly place?: CodePlace;
};

/** Evidence for suspects beside the differing cases: agreeing cases, and the section's code. */
export type Beside = { readonly controls: readonly CaseFacts[]; readonly code?: SectionCode | undefined };

/** Cases that differ in the same way, with suspects, best first. */
export type Family = {
  readonly at: string;
  readonly kind: string;
  /** In the order of the cases. */
  readonly cases: readonly string[];
  /** The case with the shortest input. */
  readonly simplest: string;
  /** Describes the difference in a sentence. */
  readonly sentence: string;
  /** Likely causes, the best first; none where nothing fits. */
  readonly suspects: readonly Suspect[];
};

/** A cause that explains this much is a fault of its own, even in cases that also show another. */
const SURE = 0.8;
/** Causes below this do not separate groups. */
const LIKELY = 0.5;
const MIN_SCORE = 0.15;
/** The code counts for a cause that the answers support so far by themselves. */
const MIN_STRENGTH = 0.3;
const MAX_SUSPECTS = 5;
/** Maximum number of cases of a family that is split by the cause of each case, if no cause explains them all. */
const MAX_ALONE = 12;
/** Maximum number of cases of a section that are examined closely; the others join groups by appearance. */
const LOOKED_AT = 300;

/** The families of one section, those with the most cases first. Cost grows with the cases looked at and their answers. */
export function findFamilies(
  cases: readonly CaseFacts[],
  controls: readonly CaseFacts[],
  code?: SectionCode,
): Family[] {
  const beside: Beside = { controls, code };
  const groups = groupByFace(cases);
  const clusters = joinGroups(groups, beside);
  return clusters
    .flatMap((cluster) => splitByCause(cluster, beside))
    .map((cluster) => toFamily(cluster, beside))
    .sort((one, other) => other.cases.length - one.cases.length);
}

/** Divergences that go together, by case. */
type Cluster = {
  readonly at: string;
  readonly kind: string;
  readonly parts: ReadonlyMap<CaseFacts, readonly Divergence[]>;
};

function groupByFace(cases: readonly CaseFacts[]): Cluster[] {
  const groups = new Map<string, { at: string; kind: string; parts: Map<CaseFacts, Divergence[]> }>();
  for (const facts of cases) {
    for (const divergence of facts.divergences) {
      if (divergence.allowance !== undefined) continue;
      const face = faceOf(divergence);
      // Steps of the same name are the same call of the code, whatever their place among the others.
      const key = namedStep(face.key, divergence.at, facts.item);
      const group = groups.get(key) ?? { at: face.at, kind: divergence.kind, parts: new Map() };
      if (group.at !== face.at) group.at = group.at.replace(/^steps\.\d+/, "steps.*");
      groups.set(key, group);
      const part = group.parts.get(facts);
      if (part) part.push(divergence);
      else group.parts.set(facts, [divergence]);
    }
  }
  return [...groups.values()];
}

/** The key of a face with the step's name in place of its number. */
function namedStep(key: string, at: string, item: SharedCase): string {
  const number = /^steps\.(\d+)/.exec(at)?.[1];
  const step = number !== undefined && "steps" in item ? item.steps[Number(number)] : undefined;
  if (!step) return key;
  const name = "new" in step ? step.new : "call" in step ? step.call : "get" in step ? step.get : step.set;
  return key.replace(`steps.${number}`, `steps.${name}`);
}

/** A list that differs has one face, whether in its length, in lost items or in those at other places. */
function faceOf({ at, kind }: Divergence): { key: string; at: string } {
  const shape = pathShape(at);
  const parts = splitPath(shape);
  const last = parts.at(-1);
  if (last === "length" || last === "*") {
    const list = parts.slice(0, -1).join(".");
    return { key: `list ${list}`, at: `${list}.*` };
  }
  if (parts.at(-2) === "thrown") return { key: `thrown ${parts.slice(0, -1).join(".")}`, at: shape };
  const isKey = kind === "missing" || kind === "extra";
  // A key that is lost and one that is added beside it are one renaming.
  return isKey ? { key: `keys ${parts.slice(0, -1).join(".")}`, at: shape } : { key: `${kind} ${shape}`, at: shape };
}

/**
 * The path with every index, line number, pixel and row of a table as `*`; the numbers of arguments and steps stay, as they
 * name something.
 */
export function pathShape(at: string): string {
  const parts = splitPath(at);
  const isNamed = (index: number) => index === 1 && (parts[0] === "args" || parts[0] === "steps");
  const isRow = (part: string, index: number) =>
    parts[0] === "files" && /^[ct]sv$/i.test(parts[index - 1] ?? "") && !/^(header|length|\*)$/.test(part);
  return parts
    .map((part, index) => (/^\d+(,\d+)?$/.test(part) || isRow(part, index) ? (isNamed(index) ? part : "*") : part))
    .join(".");
}

const factsOf = ({ parts }: Cluster): CaseFacts[] =>
  [...parts].slice(0, LOOKED_AT).map(([facts, divergences]) => ({ ...facts, divergences }));

/** Evaluates every cause for these cases, best first. */
export function findSuspects(
  cases: readonly CaseFacts[],
  beside: Beside,
): (Suspect & { explained: ReadonlySet<string> })[] {
  const facets = facetsOf(cases, beside.controls);
  return CAUSES.flatMap((cause) => scored(cause, facets, beside.code))
    .filter((suspect) => suspect.score >= MIN_SCORE)
    .sort((one, other) => other.score - one.score);
}

function scored(
  cause: Cause,
  facets: ReturnType<typeof facetsOf>,
  code: SectionCode | undefined,
): (Suspect & { explained: ReadonlySet<string> })[] {
  const finding = cause.examine(facets, code);
  if (!finding || finding.cases.size === 0) return [];
  const covered = finding.cases.size / facets.cases.length;
  const spoken = finding.cases.size / (finding.cases.size + (finding.contradicted ?? 0));
  const strength = finding.weight * covered * (0.55 + 0.45 * finding.fit) * spoken;
  const read = readSigns(cause.inCode, code);
  // Code that could bring a fault about is not a sign of it where the answers hardly are.
  const weight = strength >= MIN_STRENGTH || (read?.weight ?? 0) < 0 ? (read?.weight ?? 0) : 0;
  const score = Math.round((weight > 0 ? strength + (1 - strength) * weight : strength * (1 + weight)) * 1000) / 1000;
  return [
    {
      cause: cause.name,
      score,
      evidence: read?.evidence ? `${finding.evidence}; ${read.evidence}` : finding.evidence,
      ...(read?.place ? { place: read.place } : {}),
      explained: new Set([...finding.cases].map(({ id }) => id)),
    },
  ];
}

function joinGroups(groups: readonly Cluster[], beside: Beside): Cluster[] {
  const rated = groups
    .map((group) => ({ group, best: findSuspects(factsOf(group), beside)[0] }))
    .sort(
      (one, other) =>
        (other.best?.score ?? 0) - (one.best?.score ?? 0) || other.group.parts.size - one.group.parts.size,
    );
  const joined: { cluster: Cluster; cause: string | null; score: number }[] = [];
  for (const { group, best } of rated) {
    const cause = best && best.score >= LIKELY ? best.cause : null;
    const home = joined.find(
      (entry) =>
        (cause !== null && entry.cause === cause) ||
        ((best?.score ?? 0) < SURE && isWithin(group, entry.cluster)) ||
        ((best?.score ?? 0) < LIKELY && entry.score < LIKELY && overlaps(group, entry.cluster)),
    );
    if (home) home.cluster = merge(home.cluster, group);
    else joined.push({ cluster: group, cause, score: best?.score ?? 0 });
  }
  return joined.map(({ cluster }) => cluster);
}

const isWithin = (inner: Cluster, outer: Cluster): boolean =>
  [...inner.parts.keys()].every((facts) => outer.parts.has(facts));
const overlaps = (one: Cluster, other: Cluster): boolean =>
  [...one.parts.keys()].some((facts) => other.parts.has(facts));

function merge(home: Cluster, group: Cluster): Cluster {
  const parts = new Map(home.parts);
  for (const [facts, divergences] of group.parts) parts.set(facts, [...(parts.get(facts) ?? []), ...divergences]);
  return { ...home, parts };
}

/** In two when one cause explains a part well and another one, which does not explain that part, the rest. */
function splitByCause(cluster: Cluster, beside: Beside): Cluster[] {
  const facts = factsOf(cluster);
  if (facts.length < 2 || cluster.parts.size > LOOKED_AT) return [cluster];
  const suspects = findSuspects(facts, beside);
  const [best] = suspects;
  if (best && best.explained.size === facts.length) return [cluster];
  if ((best?.score ?? 0) < LIKELY && facts.length <= MAX_ALONE) return splitByCase(cluster, facts, beside);
  for (const { explained } of suspects) {
    if (explained.size === facts.length) continue;
    const rest = facts.filter(({ id }) => !explained.has(id));
    const part = facts.filter(({ id }) => explained.has(id));
    const [own, other] = [findSuspects(part, beside)[0], findSuspects(rest, beside)[0]];
    const isApart = own && other && own.cause !== other.cause && own.score >= SURE && other.score >= SURE;
    if (isApart && ![...other.explained].some((id) => explained.has(id)))
      return [only(cluster, explained), only(cluster, new Set(rest.map(({ id }) => id)))];
  }
  return [cluster];
}

/** Cases that share no cause, by the cause of each; in one piece unless each has one. */
function splitByCase(cluster: Cluster, facts: readonly CaseFacts[], beside: Beside): Cluster[] {
  const causeOf = ({ id }: CaseFacts) => {
    const [best] = findSuspects(
      facts.filter((one) => one.id === id),
      beside,
    );
    return best && best.score >= SURE ? best.cause : "";
  };
  const parts = groupBy(facts, causeOf);
  if (parts.size < 2 || parts.has("")) return [cluster];
  return [...parts.values()].map((part) => only(cluster, new Set(part.map(({ id }) => id))));
}

const only = (cluster: Cluster, ids: ReadonlySet<string>): Cluster => ({
  ...cluster,
  parts: new Map([...cluster.parts].filter(([facts]) => ids.has(facts.id))),
});

function toFamily(cluster: Cluster, beside: Beside): Family {
  const all = [...cluster.parts.keys()];
  const suspects = findSuspects(factsOf(cluster), beside).slice(0, MAX_SUSPECTS);
  const size = (facts: CaseFacts) => JSON.stringify(inputOf(facts.item)).length;
  const simplest = all.reduce((least, facts) => (size(facts) < size(least) ? facts : least), all[0] as CaseFacts); // a cluster has a case
  const title = CAUSES.find((cause) => cause.name === suspects[0]?.cause)?.title;
  return {
    at: cluster.at,
    kind: cluster.kind,
    cases: all.map((facts) => facts.id),
    simplest: simplest.id,
    sentence:
      title && (suspects[0]?.score ?? 0) >= LIKELY
        ? title
        : `${KIND_SENTENCES[cluster.kind] ?? "The answers differ"} at ${cluster.at}`,
    suspects: suspects.map(({ explained: _explained, ...suspect }) => suspect),
  };
}

const KIND_SENTENCES: Readonly<Record<string, string>> = {
  number: "Another number",
  text: "Texts differ",
  boolean: "True against false",
  type: "Another type",
  null: "A value on one side, nothing on the other,",
  missing: "Something that only the original has",
  extra: "Something that only the twin has",
  length: "Another number of items",
  thrown: "One side throws",
  exit: "Another exit status",
  opaque: "What cannot be compared",
  image: "Other colours",
  "image-size": "A picture of another size",
  bytes: "Other bytes",
  interval: "Another time between lines",
  order: "Another order",
};
