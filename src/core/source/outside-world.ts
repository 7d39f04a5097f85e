/**
 * Detects whether code can depend on anything but its own text and input; only then may its answers be reused while the
 * text is unchanged. Anything not known to be pure counts as impure.
 */
import { findLanguage } from "@/core/source/languages/index";

type OutsideWorld = {
  /** Modules of the platform that answer from their arguments alone. */
  readonly pure: ReadonlySet<string>;
  /** Modules that also read files and the command line, which a program run is given. */
  readonly local: ReadonlySet<string>;
  /** Words through which code reaches non-repeatable sources: clock, random numbers, network, other processes. */
  readonly varies: RegExp;
  /** Words through which code reaches files, its surroundings, or code whose name is not written down. */
  readonly reads: RegExp;
};

const words = (text: string): ReadonlySet<string> => new Set(text.trim().split(/\s+/));

const python: OutsideWorld = {
  pure: words(`
    __future__ abc array ast base64 bisect binascii calendar cmath codecs collections collections.abc colorsys contextlib
    copy csv dataclasses datetime decimal difflib enum fractions functools graphlib hashlib heapq hmac html html.parser io
    itertools json json.decoder json.encoder keyword math numbers operator quopri re reprlib statistics string stringprep
    struct textwrap token tokenize types typing typing_extensions unicodedata urllib.parse warnings xml.etree.ElementTree
    zlib asyncio`),
  local: words("argparse fileinput fnmatch getopt glob logging os os.path pathlib shlex shutil sys tempfile traceback"),
  varies:
    /\b(input|id|breakpoint)\s*\(|\.(now|today|utcnow|run_in_executor|open_connection|subprocess|create_subprocess\w*)\b|\b(environ|getenv|urandom|getpid|system|popen|fork|mkdtemp|mkstemp)\b/,
  reads:
    /\b(open|exec|eval|compile|__import__|globals|vars)\s*\(|\.(read_text|read_bytes|write_text|write_bytes|FileIO)\b|\b(importlib|os|sys|__file__)\b/,
};

const javascript: OutsideWorld = {
  pure: words(
    "node:assert assert node:util util node:path path node:url url node:string_decoder string_decoder node:buffer buffer node:querystring querystring node:punycode punycode node:events events node:zlib zlib",
  ),
  local: words(
    "node:fs fs node:fs/promises fs/promises node:process process node:readline readline node:stream stream",
  ),
  varies:
    /\bDate\.now\b|\bnew\s+Date\s*(\(\s*\)|[^\s(])|\bDate\s*\(\s*\)|\bMath\.random\b|\b(performance|fetch|XMLHttpRequest|WebSocket|crypto|hrtime|uptime|getuid|pid|env|mkdtemp\w*)\b/,
  reads:
    /\b(process|globalThis|global|eval|setTimeout|setInterval|setImmediate|navigator|__dirname|__filename)\b|\bnew\s+Function\b|\bimport\.meta\b|\b(require|import)\s*\(\s*[^"'`\s]/,
};

const WORLDS: Readonly<Record<string, OutsideWorld>> = { python, javascript, typescript: javascript, tsx: javascript };

/** How far the answers of code may rest on more than its text: not at all, on the files beside it, or on anything. */
export type Reach = "nothing" | "files" | "anything";

/** The reach of one imported module of the platform. */
export function reachOfModule(language: string, specifier: string): Reach {
  const world = WORLDS[language];
  if (world?.pure.has(specifier)) return "nothing";
  return world?.local.has(specifier) ? "files" : "anything";
}

/** The reach of a file's own text, its imports aside; `anything` for a language that is not known. */
export function reachOfText(language: string, text: string): Reach {
  const world = WORLDS[language];
  if (!world) return "anything";
  const code = withoutComments(language, text);
  if (world.varies.test(code)) return "anything";
  return world.reads.test(code) ? "files" : "nothing";
}

/** The further of two. */
export function furtherReach(one: Reach, other: Reach): Reach {
  if (one === "anything" || other === "anything") return "anything";
  return one === "files" || other === "files" ? "files" : "nothing";
}

/** Comments out of the way, roughly: a text in quotes that looks like one only makes us more careful. */
function withoutComments(language: string, text: string): string {
  if (findLanguage(language)?.comments.some(([start]) => start === "#")) return text.replace(/^\s*#.*$/gm, "");
  return text.replace(/\/\*[\s\S]*?\*\//g, "").replace(/^\s*\/\/.*$/gm, "");
}
