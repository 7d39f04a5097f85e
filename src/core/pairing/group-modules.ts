/** Groups files into modules if none are listed: each file alone, a header with the source of the same name. */

/** The files of one module. */
export type FileGroup = { readonly name: string; readonly files: readonly string[] };

const HEADER = /\.(h|hh|hpp|hxx)$/;
const SOURCE = /\.(c|cc|cpp|cxx)$/;

/** In the order of the paths. Cost: linear, but for headers with sources of one name in several folders. */
export function groupModules(
  paths: readonly string[],
  { taken }: { readonly taken?: ReadonlySet<string> } = {},
): FileGroup[] {
  const sources = new Map<string, string[]>();
  for (const path of paths) if (SOURCE.test(path)) push(sources, stemOf(path), path);
  const joined = new Map<string, string>();
  for (const path of paths) {
    if (!HEADER.test(path)) continue;
    const source = nearest(path, sources.get(stemOf(path)) ?? []);
    if (source) joined.set(path, source);
  }
  const headersOf = new Map<string, string[]>();
  for (const [header, source] of joined) push(headersOf, source, header);
  const leaders = paths.filter((path) => !joined.has(path));
  const names = shortNames(leaders, taken);
  return leaders.map((path) => ({ name: names.get(path) ?? path, files: [path, ...(headersOf.get(path) ?? [])] }));
}

const stemOf = (path: string): string => (path.split("/").at(-1) ?? path).replace(/\.[^.]+$/, "");

/** The source that shares the most of the path. */
function nearest(header: string, sources: readonly string[]): string | undefined {
  const shared = (path: string) => {
    const [one, other] = [header.split("/"), path.split("/")];
    let count = 0;
    while (count < one.length - 1 && one[count] === other[count]) count++;
    return count;
  };
  return [...sources].sort((one, other) => shared(other) - shared(one))[0];
}

/** The file's name without folder and ending when that is unique, else with folders; a package file takes its folder's. */
export function shortNames(files: readonly string[], taken: ReadonlySet<string> = new Set()): Map<string, string> {
  const plain = (file: string): string => {
    const withoutEnding = file.replace(/\.[^./]+$/, "");
    return withoutEnding.replace(/\/(__init__|index|mod)$/, "") || withoutEnding;
  };
  const short = (file: string): string => plain(file).split("/").at(-1) ?? file;
  const counts = new Map<string, number>();
  for (const file of files) counts.set(short(file), (counts.get(short(file)) ?? 0) + 1);
  const longs = new Map<string, number>();
  for (const file of files) longs.set(plain(file), (longs.get(plain(file)) ?? 0) + 1);
  return new Map(
    files.map((file) => {
      if (counts.get(short(file)) === 1 && !taken.has(short(file))) return [file, short(file)];
      return [file, longs.get(plain(file)) === 1 ? plain(file) : file];
    }),
  );
}

function push(map: Map<string, string[]>, key: string, value: string): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}
