/** The words of names in any style; what every language has a name of its own for (making, showing, comparing) is one word. */

/** Names of methods that languages call by themselves → the word for what they do. */
const PROTOCOLS: readonly (readonly [RegExp, string])[] = [
  [/^(__init__|initialize|__construct|constructor|new)$/, "constructor"],
  [/^(__str__|__tostring|tostring|to_s|string|fmt)$/i, "as text"],
  [/^(__repr__|inspect|\[util\.inspect\.custom\])$/, "as debug text"],
  [/^(__eq__|equals|eql\?|==|eq|operator==)$/i, "equals"],
  [/^(__hash__|hashcode|gethashcode)$/i, "hash code"],
  [/^(__iter__|\[symbol\.iterator\]|iterator|each|getenumerator|getiterator)$/i, "iterate"],
  [/^(__lt__|compareto|<=>|cmp|operator<)$/i, "compare"],
  [/^(__call__|__invoke|call|invoke)$/, "call"],
];

export function wordsOf(name: string): string[] {
  const dot = name.lastIndexOf(".");
  const [owner, last] = [name.slice(0, Math.max(0, dot)), name.slice(dot + 1)];
  const protocol = dot === -1 ? undefined : PROTOCOLS.find(([pattern]) => pattern.test(last))?.[1];
  // A constructor is named after its class in some languages.
  const isMaker = dot !== -1 && owner.slice(owner.lastIndexOf(".") + 1) === last;
  return plainWords(isMaker ? `${owner}.constructor` : protocol === undefined ? name : `${owner}.${protocol}`);
}

const plainWords = (name: string): string[] =>
  name
    .replace(/([a-z0-9])([A-Z])/g, "$1 $2")
    .replace(/([A-Z]+)([A-Z][a-z])/g, "$1 $2")
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);
