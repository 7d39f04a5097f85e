/**
 * Which items of two sequences belong together: an edit script in hunks.
 *
 * Method: common ends are trimmed; items that occur exactly once on both sides anchor the alignment, in their longest
 * increasing order (patience sorting, Aldous and Diaconis 1999, section 1); what lies between two anchors is aligned
 * by the greedy O(ND) algorithm (Myers, "An O(ND) Difference Algorithm and Its Variations", 1986, section 4). We depart
 * from Myers in bounding D: a stretch that differs more than that is one replaced block, which keeps the whole linear.
 */

/** Half-open ranges of items that do not match; everything outside the hunks matches one to one. */
export type Hunk = {
  readonly originalFrom: number;
  readonly originalTo: number;
  readonly twinFrom: number;
  readonly twinTo: number;
};

/** Largest number of edits looked for between two anchors; memory grows with its square. */
const MAX_EDITS = 400;

/** Aligns two lists of comparable keys. Cost: linear in the items, plus edits squared within one stretch. */
export function alignItems(original: readonly string[], twin: readonly string[]): Hunk[] {
  const numbers = new Map<string, number>();
  const intern = (items: readonly string[]) =>
    Int32Array.from(items, (item) => {
      const known = numbers.get(item);
      if (known !== undefined) return known;
      numbers.set(item, numbers.size);
      return numbers.size - 1;
    });
  const pair = { original: intern(original), twin: intern(twin), keys: 0 };
  const matched: [number, number][] = [];
  const counts = new Counts(numbers.size);
  // An explicit stack: recursion depth would otherwise grow with the input.
  const ranges: Range[] = [{ originalFrom: 0, originalTo: original.length, twinFrom: 0, twinTo: twin.length }];
  while (ranges.length > 0) {
    const range = ranges.pop();
    if (range) alignRange(pair, range, { matched, counts, ranges });
  }
  matched.sort((one, other) => one[0] - other[0]);
  return hunksBetween(matched, original.length, twin.length);
}

type Range = Hunk;
type Pair = { readonly original: Int32Array; readonly twin: Int32Array };
type Work = { readonly matched: [number, number][]; readonly counts: Counts; readonly ranges: Range[] };

function alignRange(pair: Pair, range: Range, work: Work): void {
  let { originalFrom, originalTo, twinFrom, twinTo } = range;
  while (originalFrom < originalTo && twinFrom < twinTo && pair.original[originalFrom] === pair.twin[twinFrom]) {
    work.matched.push([originalFrom++, twinFrom++]);
  }
  while (originalFrom < originalTo && twinFrom < twinTo && pair.original[originalTo - 1] === pair.twin[twinTo - 1]) {
    work.matched.push([--originalTo, --twinTo]);
  }
  if (originalFrom === originalTo || twinFrom === twinTo) return;
  const inner = { originalFrom, originalTo, twinFrom, twinTo };
  const anchors = findAnchors(pair, inner, work.counts);
  if (anchors.length === 0) {
    work.matched.push(...greedyMatches(pair, inner));
    return;
  }
  let [previousOriginal, previousTwin] = [originalFrom, twinFrom];
  for (const [originalAt, twinAt] of anchors) {
    work.matched.push([originalAt, twinAt]);
    if (originalAt > previousOriginal && twinAt > previousTwin) {
      work.ranges.push({
        originalFrom: previousOriginal,
        originalTo: originalAt,
        twinFrom: previousTwin,
        twinTo: twinAt,
      });
    }
    [previousOriginal, previousTwin] = [originalAt + 1, twinAt + 1];
  }
  if (originalTo > previousOriginal && twinTo > previousTwin) {
    work.ranges.push({ originalFrom: previousOriginal, originalTo, twinFrom: previousTwin, twinTo });
  }
}

/** Counts each key of a range on either side; reused between ranges, clearing only touched entries. */
class Counts {
  readonly inOriginal: Int32Array;
  readonly inTwin: Int32Array;
  readonly place: Int32Array;
  constructor(keys: number) {
    this.inOriginal = new Int32Array(keys);
    this.inTwin = new Int32Array(keys);
    this.place = new Int32Array(keys);
  }
}

const at = (array: Int32Array, index: number): number => array[index] ?? 0;

function findAnchors(pair: Pair, range: Range, counts: Counts): [number, number][] {
  for (let index = range.originalFrom; index < range.originalTo; index++) {
    const key = at(pair.original, index);
    counts.inOriginal[key] = at(counts.inOriginal, key) + 1;
  }
  for (let index = range.twinFrom; index < range.twinTo; index++) {
    const key = at(pair.twin, index);
    counts.inTwin[key] = at(counts.inTwin, key) + 1;
    counts.place[key] = index;
  }
  const unique: [number, number][] = [];
  for (let index = range.originalFrom; index < range.originalTo; index++) {
    const key = at(pair.original, index);
    if (at(counts.inOriginal, key) === 1 && at(counts.inTwin, key) === 1) unique.push([index, at(counts.place, key)]);
  }
  for (let index = range.originalFrom; index < range.originalTo; index++)
    counts.inOriginal[at(pair.original, index)] = 0;
  for (let index = range.twinFrom; index < range.twinTo; index++) counts.inTwin[at(pair.twin, index)] = 0;
  return longestIncreasing(unique);
}

/** The longest subsequence whose second members increase; n log n. */
function longestIncreasing(pairs: readonly [number, number][]): [number, number][] {
  const piles: number[] = [];
  const before = new Int32Array(pairs.length).fill(-1);
  for (const [index, [, value]] of pairs.entries()) {
    let low = 0;
    let high = piles.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((pairs[piles[middle] ?? 0]?.[1] ?? 0) < value) low = middle + 1;
      else high = middle;
    }
    if (low > 0) before[index] = piles[low - 1] ?? -1;
    piles[low] = index;
  }
  const chain: [number, number][] = [];
  for (let index = piles[piles.length - 1] ?? -1; index >= 0; index = at(before, index)) {
    const pair = pairs[index];
    if (pair) chain.push(pair);
  }
  return chain.reverse();
}

/** Myers' greedy algorithm with its trace, up to MAX_EDITS edits; beyond that the range is taken as unmatched. */
function greedyMatches(pair: Pair, range: Range): [number, number][] {
  const rows = range.originalTo - range.originalFrom;
  const columns = range.twinTo - range.twinFrom;
  const limit = Math.min(rows + columns, MAX_EDITS);
  const offset = limit + 1;
  const reach = new Int32Array(2 * limit + 3);
  const trace: Int32Array[] = [];
  for (let edits = 0; edits <= limit; edits++) {
    trace.push(reach.slice(offset - edits - 1, offset + edits + 2));
    for (let diagonal = -edits; diagonal <= edits; diagonal += 2) {
      const down =
        diagonal === -edits ||
        (diagonal !== edits && at(reach, offset + diagonal - 1) < at(reach, offset + diagonal + 1));
      let row = down ? at(reach, offset + diagonal + 1) : at(reach, offset + diagonal - 1) + 1;
      while (
        row < rows &&
        row - diagonal < columns &&
        pair.original[range.originalFrom + row] === pair.twin[range.twinFrom + row - diagonal]
      ) {
        row++;
      }
      reach[offset + diagonal] = row;
      if (row >= rows && row - diagonal >= columns) return walkBack(trace, { rows, columns, edits }, range);
    }
  }
  return [];
}

function walkBack(
  trace: readonly Int32Array[],
  end: { rows: number; columns: number; edits: number },
  range: Range,
): [number, number][] {
  const matches: [number, number][] = [];
  let row = end.rows;
  let column = end.columns;
  for (let edits = end.edits; edits >= 0 && (row > 0 || column > 0); edits--) {
    const reach = trace[edits];
    if (!reach) break;
    const centre = edits + 1;
    const diagonal = row - column;
    const down =
      diagonal === -edits ||
      (diagonal !== edits && at(reach, centre + diagonal - 1) < at(reach, centre + diagonal + 1));
    const previousDiagonal = down ? diagonal + 1 : diagonal - 1;
    const previousRow = edits === 0 ? 0 : at(reach, centre + previousDiagonal);
    const startRow = edits === 0 ? 0 : down ? previousRow : previousRow + 1;
    while (row > startRow) {
      row--;
      column--;
      matches.push([range.originalFrom + row, range.twinFrom + column]);
    }
    row = previousRow;
    column = previousRow - previousDiagonal;
  }
  return matches;
}

function hunksBetween(matched: readonly [number, number][], originalLength: number, twinLength: number): Hunk[] {
  const hunks: Hunk[] = [];
  let [originalAt, twinAt] = [0, 0];
  const close = (originalTo: number, twinTo: number) => {
    if (originalTo > originalAt || twinTo > twinAt) {
      hunks.push({ originalFrom: originalAt, originalTo, twinFrom: twinAt, twinTo });
    }
  };
  for (const [originalIndex, twinIndex] of matched) {
    close(originalIndex, twinIndex);
    [originalAt, twinAt] = [originalIndex + 1, twinIndex + 1];
  }
  close(originalLength, twinLength);
  return hunks;
}
