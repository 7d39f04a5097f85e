/** The words of a name in any style, a constructor as one word: `Fare.__init__`, `fareFor`, `HTTPPort`. */
export function wordsOf(name: string): string[] {
  return name
    .replace(/\.(__init__|initialize|__construct)$/, ".constructor")
    .replace(/([a-z0-9])([A-Z])/g, "$1 $2")
    .replace(/([A-Z]+)([A-Z][a-z])/g, "$1 $2")
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);
}
