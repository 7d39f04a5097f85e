/**
 * Loads ported modules so that every case can have fresh ones.
 *
 * A file is read and compiled once, TypeScript and ES modules through esbuild into a CommonJS function; a new world
 * runs these functions again, which takes microseconds and lets the old world be collected (the platform's own ES
 * module cache can never be emptied). Packages in node_modules are loaded once by Node.js itself and are not fresh.
 */
import fs from "node:fs";
import { builtinModules, createRequire } from "node:module";
import path from "node:path";
import { pathToFileURL } from "node:url";
import vm from "node:vm";
import { createPieces } from "./pieces.mjs";
import { MARKS, withProbes } from "./probes.mjs";
import { createWatch, readTop } from "./watch.mjs";

const EXTENSIONS = [".ts", ".tsx", ".mts", ".cts", ".js", ".mjs", ".cjs", ".jsx", ".json"];
const LOADERS = {
  ".ts": "ts",
  ".mts": "ts",
  ".cts": "ts",
  ".tsx": "tsx",
  ".jsx": "jsx",
  ".js": "js",
  ".mjs": "js",
  ".cjs": "js",
};
/** Extensions that TypeScript sources may import under another one. */
const WRITTEN_AS = { ".js": [".ts", ".tsx"], ".mjs": [".mts"], ".cjs": [".cts"], ".jsx": [".tsx"] };
const PARAMETERS = [
  "exports",
  "require",
  "module",
  "__filename",
  "__dirname",
  "__side_twin_url",
  "__side_twin_peek",
  MARKS,
];
/** Functions that print without the driver's stream. */
const CAN_PRINT = /^(node:)?(fs|fs\/promises|child_process|worker_threads|cluster|tty|net|vm|inspector|repl|module)$/;
/** After this many cases that changed their modules, checking before each costs more than it saves. */
const PATIENCE = 3;
const BUILT_IN = new Set(builtinModules);

const ownRequire = createRequire(import.meta.url);
let esbuild;

/**
 * With `withMaps`, compiled files keep their code and source map for line coverage. `loading` is called before and
 * after modules run for a case. `observed`: file, relative to the root → the text with probes loaded in its place. With
 * `marks` (probes.mjs), the code marks the lines it runs.
 */
export function createLoader(root, withMaps, loading, observed = {}, marks = null) {
  let inPlace = observed;
  const compiled = new Map();
  // The text on disk of each file that others are tried in place of.
  const bases = new Map();
  const resolved = new Map();
  // Requested file name → its real path, resolved once.
  const entries = new Map();
  // Requested files → a world they were loaded in and its watch, until a case changes something there.
  const clean = new Map();
  const state = { canPrint: false, isCompiling: false, hasCompiled: false, hasForgotten: false };

  function compile(file) {
    const known = compiled.get(file);
    if (known) return known;
    // The time limit interrupts without running `finally`: the flag then stays set.
    state.isCompiling = true;
    try {
      const source = inPlace[path.relative(root, file)] ?? fs.readFileSync(file, "utf8");
      const made =
        path.extname(file) === ".json"
          ? { json: source }
          : {
              ...(compileChanged(file, source) ?? compileSource(file, source, withMaps || marks !== null)),
              folder: path.dirname(file),
              url: pathToFileURL(file).href,
            };
      if (marks && "code" in made) putMarks(file, made);
      compiled.set(file, made);
      state.hasCompiled = true;
      return made;
    } finally {
      state.isCompiling = false;
    }
  }

  /** Null where the text is to be compiled whole: so is all that is on disk, as lines would be those of the base. */
  function compileChanged(file, source) {
    if (!(path.relative(root, file) in inPlace)) {
      bases.delete(file);
      return null;
    }
    if (withMaps || marks || isPlain(file)) return null;
    if (!bases.has(file)) bases.set(file, fs.existsSync(file) ? fs.readFileSync(file, "utf8") : source);
    const code = compilePieces(file, bases.get(file), source);
    return code === null ? null : { run: toFunction(file, code), code, map: null };
  }

  function putMarks(file, made) {
    const name = path.relative(root, file).split(path.sep).join("/");
    const probed = withProbes(made.code, made.map ? JSON.parse(made.map).mappings : null);
    marks.forget(name);
    if (!probed) return;
    made.ran = marks.of(name, probed.lines);
    made.probed = probed.code;
    made.run = toFunction(file, probed.code);
  }

  function resolve(specifier, from) {
    const key = `${specifier}\0${path.dirname(from)}`;
    let found = resolved.get(key);
    if (found === undefined) {
      found = resolveFile(specifier, from);
      resolved.set(key, found);
    }
    return found;
  }

  /** A world in which no case left anything: the one of the case before if its modules are as they were loaded. */
  function freshWorld(key, asked) {
    const known = clean.get(key);
    if (known?.world?.isUnchanged()) return known.world;
    if (!known && state.hasForgotten) {
      // A change that is tried mostly ends with its first case: the watch, which costs more than running it, can wait.
      clean.set(key, { world: null, changes: -1 });
      return newWorld(asked);
    }
    if (known) {
      known.world = null;
      known.changes++;
      if (known.changes > PATIENCE) return newWorld(asked);
    }
    const world = newWorld(asked, true);
    clean.set(key, { world, changes: known?.changes ?? 0 });
    return world;
  }

  /** `asked`: the files of the request that the world is for. */
  function newWorld(asked, watched = false) {
    const modules = new Map();
    const foreign = new Set();
    let watch = null;
    let watchedModules = 0;
    const noted = [];
    /** Modules from outside are loaded once and not refreshed: names taken from them are not checked. */
    const fromOutside = (exports) => {
      if (!watched || foreign.has(exports)) return exports;
      foreign.add(exports);
      for (const key of Reflect.ownKeys(Object(exports))) {
        const { value } = Object.getOwnPropertyDescriptor(exports, key);
        if (typeof value === "function" || typeof value === "object") foreign.add(value);
      }
      return exports;
    };
    const requireFrom = (from) => {
      const require = (specifier) => {
        if (specifier.startsWith("node:") || BUILT_IN.has(specifier)) {
          if (CAN_PRINT.test(specifier)) state.canPrint = true;
          return fromOutside(ownRequire(specifier));
        }
        const file = resolve(specifier, from);
        if (isOwn(file, root)) return run(file);
        state.canPrint = true;
        return fromOutside(ownRequire(file));
      };
      require.resolve = (specifier) => resolve(specifier, from);
      require.cache = Object.create(null);
      return require;
    };
    const run = (file) => {
      const known = modules.get(file);
      if (known) return known.exports;
      const made = compile(file);
      const { run: body, json, folder, url } = made;
      if (json !== undefined) {
        const data = { exports: JSON.parse(json) };
        modules.set(file, data);
        noted.push({ module: data, peek: () => [], top: NOTHING });
        return data.exports;
      }
      let peek = null;
      if (watched && !made.watchable) Object.assign(made, watchable(file, made));
      const module = { exports: {}, id: file, filename: file, loaded: false, children: [] };
      modules.set(file, module);
      const require = requireFrom(file);
      Object.assign(require, { main: module });
      try {
        const takePeek = (given) => {
          peek = given;
        };
        const start = watched ? made.watchable : body;
        Reflect.apply(start, module.exports, [module.exports, require, module, file, folder, url, takePeek, made.ran]);
        if (watched) noted.push({ module, peek, top: made.top });
      } catch (error) {
        modules.delete(file);
        throw error;
      }
      module.loaded = true;
      return module.exports;
    };
    const enter = (file) => {
      const isKnown = modules.has(file);
      if (!isKnown) loading.before();
      const exports = run(file);
      if (!isKnown) loading.after(asked);
      if (watched && noted.length !== watchedModules) {
        watchedModules = noted.length;
        watch = createWatch(noted, foreign);
      }
      return exports;
    };
    return {
      /** Lookups in these modules, valid while they stay loaded. */
      found: watched ? new Map() : null,
      isUnchanged: () => watch !== null && !watch.blind && noted.length === watchedModules && watch.unchanged(),
      load(file) {
        const known = entries.get(file);
        if (known !== undefined) return enter(known);
        const full = path.join(root, file);
        if (!fs.existsSync(full))
          throw Object.assign(new Error(`there is no file ${file}`), { code: "SIDE_TWIN_NO_FILE", file });
        const real = fs.realpathSync(full);
        entries.set(file, real);
        return enter(real);
      },
    };
  }

  /**
   * Files, relative to the root, that changed: they are compiled again, from `texts` or from disk, and no world keeps
   * them. Texts given before are dropped.
   */
  function forget(files, texts = {}) {
    const changed = new Set([...files, ...Object.keys(texts), ...Object.keys(inPlace)]);
    inPlace = { ...observed, ...texts };
    for (const file of changed) compiled.delete(fs.realpathSync(path.join(root, file)));
    dropWorlds();
  }

  /** The next case gets freshly run modules. */
  function dropWorlds() {
    clean.clear();
    state.hasForgotten = true;
  }

  return { newWorld, freshWorld, forget, dropWorlds, compiled, state };
}

const NOTHING = { open: new Set(), closed: new Set(), hidden: new Set() };

/** The same code with a last line that hands out a look at its top bindings; without, where they cannot be read. */
function watchable(file, { run, code, probed = code }) {
  const top = readTop(code);
  if (!top) return { watchable: run, top };
  const peek = `\n;__side_twin_peek(() => [${[...top.names].join(", ")}]);`;
  return { watchable: toFunction(file, probed + peek), top };
}

const isOwn = (file, root) =>
  file.startsWith(root + path.sep) &&
  !file.includes(`${path.sep}node_modules${path.sep}`) &&
  path.extname(file) !== ".node";

/** Whether a file is a script as it is. */
function isPlain(file) {
  const extension = path.extname(file);
  return extension === ".cjs" || (extension === ".js" && !isModulePackage(file));
}

function compileSource(file, source, withMaps) {
  if (isPlain(file)) {
    try {
      const code = source.startsWith("#!") ? `//${source.slice(2)}` : source;
      return { run: toFunction(file, code), code, map: null };
    } catch (error) {
      // An ES module in a package without `"type"`: Node.js detects it by syntax, and so do we.
      if (!(error instanceof SyntaxError) || !/^\s*(import|export)\b/m.test(source)) throw error;
    }
  }
  const { code, map } = transform(file, source, { format: "cjs", sourcemap: withMaps ? "external" : false });
  return { run: toFunction(file, code), code, map };
}

function transform(file, source, options) {
  esbuild ??= ownRequire("esbuild");
  return esbuild.transformSync(source, {
    loader: LOADERS[path.extname(file)] ?? "js",
    target: "node20",
    sourcefile: file,
    supported: { "dynamic-import": false },
    define: {
      "import.meta.url": "__side_twin_url",
      "import.meta.filename": "__filename",
      "import.meta.dirname": "__dirname",
    },
    tsconfigRaw: { compilerOptions: { experimentalDecorators: true } },
    logLevel: "silent",
    ...options,
  });
}

const compilePieces = createPieces({
  compileWhole: (file, source) => transform(file, source, { format: "cjs" }).code,
  compilePiece: (file, source) => (LOADERS[path.extname(file)] === "js" ? source : transform(file, source, {}).code),
});

const toFunction = (file, code) => vm.compileFunction(code, PARAMETERS, { filename: file });

function isModulePackage(file) {
  for (let folder = path.dirname(file); ; folder = path.dirname(folder)) {
    const manifest = path.join(folder, "package.json");
    if (fs.existsSync(manifest)) return JSON.parse(fs.readFileSync(manifest, "utf8")).type === "module";
    if (path.dirname(folder) === folder) return false;
  }
}

function resolveFile(specifier, from) {
  if (specifier.startsWith("file:")) return new URL(specifier).pathname;
  if (specifier.startsWith(".") || path.isAbsolute(specifier)) {
    const wanted = path.resolve(path.dirname(from), specifier);
    const found = findOnDisk(wanted);
    if (found) return fs.realpathSync(found);
    throw new Error(`Cannot find module '${specifier}' imported from ${from}`);
  }
  try {
    return createRequire(from).resolve(specifier);
  } catch (error) {
    const found = resolveImportOnly(specifier, from);
    if (found) return found;
    throw error;
  }
}

function findOnDisk(wanted) {
  const candidates = [wanted, ...EXTENSIONS.map((extension) => wanted + extension)];
  const extension = path.extname(wanted);
  for (const other of WRITTEN_AS[extension] ?? []) candidates.push(wanted.slice(0, -extension.length) + other);
  candidates.push(...EXTENSIONS.map((ending) => path.join(wanted, `index${ending}`)));
  const main = path.join(wanted, "package.json");
  if (fs.existsSync(main))
    candidates.push(path.join(wanted, JSON.parse(fs.readFileSync(main, "utf8")).main ?? "index.js"));
  return candidates.find((candidate) => fs.statSync(candidate, { throwIfNoEntry: false })?.isFile());
}

/** A package that exports nothing to `require`: its `import` condition is read instead. */
function resolveImportOnly(specifier, from) {
  const name = specifier
    .split("/")
    .slice(0, specifier.startsWith("@") ? 2 : 1)
    .join("/");
  const inside = `.${specifier.slice(name.length)}`;
  for (let folder = path.dirname(from); ; folder = path.dirname(folder)) {
    const home = path.join(folder, "node_modules", name);
    if (fs.existsSync(path.join(home, "package.json"))) {
      const { exports = {} } = JSON.parse(fs.readFileSync(path.join(home, "package.json"), "utf8"));
      const entry = typeof exports === "string" || !("." in Object(exports)) ? { [inside]: exports } : exports;
      const target = pickCondition(entry[inside]);
      return target ? path.join(home, target) : null;
    }
    if (path.dirname(folder) === folder) return null;
  }
}

function pickCondition(entry) {
  if (typeof entry === "string") return entry;
  for (const condition of ["node", "import", "default"]) {
    if (entry?.[condition]) return pickCondition(entry[condition]);
  }
  return null;
}
