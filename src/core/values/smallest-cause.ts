/** Which few of many changes cause a fault. */

/**
 * Returns a part of `all` for which `fails` holds, and for no part with one member less: delta debugging, ddmin (Zeller
 * and Hildebrandt, "Simplifying and Isolating Failure-Inducing Input", 2002). `fails` must hold for `all`. Cost: about
 * twice the binary logarithm of their number in questions where one member is the cause, its square at worst. When
 * `isOver` holds, the smallest part so far comes back.
 */
export async function smallestCause<T>(
  all: readonly T[],
  fails: (part: readonly T[]) => Promise<boolean>,
  isOver: () => boolean = () => false,
): Promise<T[]> {
  let cause = [...all];
  for (let pieces = 2; cause.length > 1 && !isOver(); ) {
    const parts = cut(cause, pieces);
    const found = await firstThat([...parts, ...(pieces > 2 ? parts.map((part) => without(cause, part)) : [])], fails);
    if (found) {
      pieces = found.length < cause.length / pieces + 1 ? 2 : Math.max(2, pieces - 1);
      cause = found;
    } else if (pieces >= cause.length) break;
    else pieces = Math.min(cause.length, pieces * 2);
  }
  return cause;
}

function cut<T>(list: readonly T[], pieces: number): T[][] {
  const parts: T[][] = [];
  for (let piece = 0; piece < pieces; piece++) {
    const [from, to] = [piece, piece + 1].map((at) => Math.round((at * list.length) / pieces));
    parts.push(list.slice(from, to));
  }
  return parts.filter((part) => part.length > 0);
}

const without = <T>(list: readonly T[], part: readonly T[]): T[] => {
  const gone = new Set(part);
  return list.filter((item) => !gone.has(item));
};

async function firstThat<T>(
  parts: readonly T[][],
  fails: (part: readonly T[]) => Promise<boolean>,
): Promise<T[] | null> {
  for (const part of parts) if (await fails(part)) return part;
  return null;
}
