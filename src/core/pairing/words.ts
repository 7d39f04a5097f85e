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

/** Splits a name into lower-case words, in any naming style. */
export function wordsOf(name: string): string[] {
  const dot = name.lastIndexOf(".");
  const [owner, last] = [name.slice(0, Math.max(0, dot)), name.slice(dot + 1)];
  const protocol = dot === -1 ? undefined : PROTOCOLS.find(([pattern]) => pattern.test(last))?.[1];
  // A constructor is named after its class in some languages.
  const isMaker = dot !== -1 && owner.slice(owner.lastIndexOf(".") + 1) === last;
  return plainWords(isMaker ? `${owner}.constructor` : protocol === undefined ? name : `${owner}.${protocol}`);
}

/** Words that people cut short, in whole, and what languages call one thing by several words. */
const SHORT: Readonly<Record<string, string>> = {
  fmt: "format",
  calc: "calculate",
  init: "initialize",
  str: "string",
  num: "number",
  idx: "index",
  msg: "message",
  err: "error",
  cfg: "config",
  ctl: "controller",
  ctrl: "controller",
  ctx: "context",
  val: "value",
  pos: "position",
  prev: "previous",
  cur: "current",
  curr: "current",
  del: "delete",
  rm: "remove",
  buf: "buffer",
  ptr: "pointer",
  tmp: "temporary",
  dest: "destination",
  src: "source",
  dir: "directory",
  arg: "argument",
  args: "arguments",
  param: "parameter",
  params: "parameters",
  addr: "address",
  elem: "element",
  info: "information",
  array: "list",
  arr: "list",
  vec: "list",
  util: "utility",
  utils: "utilities",
};

const plainWords = (name: string): string[] =>
  name
    // C's custom for a type.
    .replace(/([a-z])_t$/, "$1")
    .replace(/([a-z0-9])([A-Z])/g, "$1 $2")
    .replace(/([A-Z]+)([A-Z][a-z])/g, "$1 $2")
    .replace(/(\p{L})(\p{N}{2,})/gu, "$1 $2")
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
    .map((word) => (Object.hasOwn(SHORT, word) ? (SHORT[word] ?? word) : word));
