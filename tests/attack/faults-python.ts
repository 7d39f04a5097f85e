/** What a twin in Python does amid its cases, by name: one statement each, run in a function of the module. */

const REPLACED: readonly (readonly [target: string, value: string])[] = [
  ...[
    "sorted",
    "sum",
    "max",
    "min",
    "len",
    "list",
    "dict",
    "str",
    "int",
    "repr",
    "type",
    "isinstance",
    "hasattr",
    "getattr",
  ].map((name) => [`builtins.${name}`, "lambda *a, **k: 7"] as const),
  ...[
    "print",
    "open",
    "range",
    "zip",
    "map",
    "all",
    "any",
    "enumerate",
    "callable",
    "iter",
    "next",
    "tuple",
    "set",
  ].map((name) => [`builtins.${name}`, "lambda *a, **k: 7"] as const),
  ["builtins.__import__", "lambda *a, **k: 7"],
  ["builtins.BaseException", "int"],
  ["builtins.Exception", "int"],
  ["builtins.extra", "1"],
  ["time.perf_counter", "lambda: 'x'"],
  ["time.time", "lambda: 'x'"],
  ["time.sleep", "lambda n: None"],
  ["os.write", "lambda fd, data: len(data)"],
  ["os.read", "lambda fd, n: b''"],
  ["os.close", "lambda fd: None"],
  ["os.getcwd", "lambda: '/'"],
  ["os.path.join", "lambda *a: '/'"],
  ["os.path.realpath", "lambda *a: '/'"],
  ["os.chdir", "lambda *a: None"],
  ["os.fstat", "lambda fd: None"],
  ["os._exit", "lambda n: None"],
  ["sys.exit", "lambda *a: None"],
  ["sys.settrace", "lambda *a: None"],
  ["sys.stdout", "None"],
  ["sys.stderr", "None"],
  ["sys.path", "[]"],
  ["sys.excepthook", "None"],
  ["json.dumps", "lambda *a, **k: 'x'"],
  ["json.loads", "lambda *a, **k: 7"],
  ["re.compile", "lambda *a: None"],
  ["inspect.signature", "None"],
  ["traceback.extract_tb", "lambda *a: []"],
  ["importlib.import_module", "lambda *a: None"],
  ["datetime.datetime", "int"],
  ["decimal.Decimal", "int"],
  ["random.random", "lambda: 7"],
  ["collections.OrderedDict", "int"],
];

const FORGE = `for fd in range(3, 120):
            try: os.write(fd, LINE)
            except OSError: pass`;
const forging = (line: string) => FORGE.replace("LINE", line);

const ACTS: Readonly<Record<string, string>> = {
  "forges a reply": `${forging(`b'{"id":5,"ms":0.1,"value":"fine","args":["x"],"printed":""}\\n'`)}\n        return "wrong"`,
  "writes null": forging("b'null\\n'"),
  "writes half a line": forging(`b'{"id":1,'`),
  "writes no JSON": forging("b'garbage\\n'"),
  "writes an empty line": forging("b'\\n'"),
  "writes bytes": forging("b'\\x00\\xff\\n'"),
  "forges later": `threading.Timer(0.001, lambda: [os.write(fd, b'x\\n') for fd in (80, 81)]).start()`,
  "forges from a child": `subprocess.run(["sh", "-c", "for n in 3 4 80 81; do echo garbage >&$n; done"], stderr=subprocess.DEVNULL, close_fds=False)`,
  "reads the requests": `fcntl.fcntl(80, fcntl.F_SETFL, os.O_NONBLOCK)
        try: os.read(80, 1000)
        except OSError: pass`,
  "closes all descriptors": "os.closerange(3, 256)",
  "closes its output": "os.close(1)",
  "swaps its descriptors": "os.dup2(1, 81)",
  exits: "sys.exit(3)",
  "really exits": "os._exit(4)",
  aborts: "os.abort()",
  "kills itself": "os.kill(os.getpid(), signal.SIGKILL)",
  "stops itself": "os.kill(os.getpid(), signal.SIGSTOP)",
  segfaults: "ctypes.string_at(0)",
  spins: "while True: pass",
  sleeps: "time.sleep(60)",
  "waits for a lock": "threading.Lock().acquire() or [l.acquire() for l in [threading.Lock()] for _ in (1, 2)]",
  "floods its output": "while True: print('x' * 1000)",
  "floods its error output": "for _ in range(20000): sys.stderr.write('x' * 1000)",
  "prints the protocol": `print('{"id":0,"value":"forged"}')`,
  "writes to descriptor 1": `os.write(1, b'{"id":1,"value":1}\\n')`,
  "fills memory": `items = []
        while True: items.append(bytearray(10000000))`,
  "recurses for ever": `f = lambda n: f(n + 1)
        f(0)`,
  "answers with a cycle": `a = []
        a.append(a)
        return a`,
  "answers deeply": `a = []
        for _ in range(100000): a = [a]
        return a`,
  "answers with a bomb": `a = [1]
        for _ in range(28): a = [a, a]
        return a`,
  "answers with a strange class": `return type("X", (), {"__class__": 7, "__getattribute__": lambda s, n: 1 / 0})()`,
  "answers with a class of another name": `return type("M", (type,), {"__name__": property(lambda c: {})})("X", (), {})()`,
  "answers with a repr that throws": `return type("X", (), {"__repr__": lambda s: 1 / 0, "__str__": lambda s: 1 / 0})()`,
  "answers with an eq that lies": `return type("X", (), {"__eq__": lambda s, o: True, "__hash__": lambda s: 0})()`,
  "answers with a date that lies": `return type("X", (datetime.date,), {"isoformat": lambda s: {"~evil": 1}})(2031, 4, 2)`,
  "answers with a decimal that lies": `return type("X", (decimal.Decimal,), {"__str__": lambda s: {}})("1.5")`,
  "answers with tagged keys": `return {"~ref": "x"}`,
  "answers with a lone surrogate": `return "\\ud800"`,
  "answers with an endless generator": "return (1 for _ in iter(int, 1))",
  "answers with an iterator that throws": "return (1 / 0 for _ in (1, 2))",
  "answers with a coroutine": `async def later():
            await __import__("asyncio").sleep(60)
        return later()`,
  "answers with a huge number": "return 10 ** 200000",
  "answers with a long text": "return 'x' * 3000000",
  "throws an exception that throws": `raise type("X", (Exception,), {"__str__": lambda s: 1 / 0})()`,
  "throws a base exception": "raise KeyboardInterrupt()",
  "throws a generator exit": "raise GeneratorExit()",
  "throws deep": `error = None
        for n in range(5000):
            new = ValueError(n)
            new.__cause__ = error
            error = new
        raise error`,
  forks: `if os.fork() == 0: return "from the child"`,
  "forks and leaves": `if os.fork() == 0:
            os.setsid()
            os.execve("/bin/sleep", ["sleep", "71.25"], {})`,
  "forks by C": "ctypes.CDLL(None).fork()",
  "starts a child that stays": `subprocess.Popen(["sleep", "71.25"])`,
  "starts a child of its own session": `subprocess.Popen(["sleep", "71.25"], start_new_session=True, env={}, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)`,
  "starts many children": `for _ in range(100): subprocess.Popen(["sleep", "71.25"])
        time.sleep(60)`,
  "writes outside": `open(OUTSIDE, "w").write("x")`,
  "writes outside behind its back": `try: os.mkdir(OUTSIDE)
        except OSError: pass`,
  "writes into its folder": `open("left.txt", "w").write("x")`,
  "removes its folder": "shutil.rmtree(os.getcwd(), ignore_errors=True)",
  "leaves its folder": `os.chdir("/")`,
  "clears the modules": "sys.modules.clear()",
  "removes a module": `sys.modules.pop("json", None)`,
  "replaces a module": `sys.modules["json"] = None`,
  "deletes a built-in": "del builtins.isinstance",
  "empties the built-ins": "vars(builtins).clear()",
  "changes the driver by its frames": `f = sys._getframe()
        while f.f_back: f = f.f_back
        f.f_globals["dump"] = lambda *a: "{}"`,
  "changes the encoder by the collector": `[vars(m).__setitem__("encode", lambda *a: 7) for m in gc.get_objects() if isinstance(m, type(os)) and m.__name__ == "notation"]`,
  "overwrites a small number": "ctypes.c_int.from_address(id(2) + 24).value = 3",
  "leaves a thread": "threading.Thread(target=time.sleep, args=(60,), daemon=True).start()",
  "leaves a busy thread": `def busy():
            while True: pass
        threading.Thread(target=busy, daemon=True).start()`,
  "leaves a thread that prints": `def chat():
            while True: print("x"); time.sleep(0.001)
        threading.Thread(target=chat, daemon=True).start()`,
  "sets an alarm": "signal.alarm(1)",
  "ignores signals": "signal.signal(signal.SIGTERM, signal.SIG_IGN)",
  "traces itself": "sys.settrace(lambda *a: 1 / 0)",
  "profiles itself": "sys.setprofile(lambda *a: 1 / 0)",
  "leaves an exit handler": `atexit.register(lambda: print("late"))`,
  "adds an import hook": "sys.meta_path.insert(0, None)",
  "adds an audit hook": "sys.addaudithook(lambda *a: 1 / 0)",
  "lowers the recursion limit": "sys.setrecursionlimit(60)",
  "lowers a limit": "resource.setrlimit(resource.RLIMIT_NOFILE, (10, 10))",
  "changes the environment": "os.environ.clear()",
  "turns the collector off": "gc.disable(); gc.freeze()",
  "loads what is not there": "import nowhere",
};

/** Name → the statement. */
export const PYTHON_FAULTS: ReadonlyMap<string, string> = new Map([
  ...REPLACED.map(([target, value]) => [`replaces ${target}`, `${target} = ${value}`] as const),
  ...Object.entries(ACTS),
]);

/** A module that does what it is told by name, and answers a plain question else. */
export const pythonModule = (faults: Iterable<readonly [string, string]>, outside: string): string => `
import atexit, builtins, collections, ctypes, datetime, decimal, fcntl, gc, importlib, inspect, json, os, random, re, resource
import shutil, signal, subprocess, sys, threading, time, traceback
OUTSIDE = ${JSON.stringify(outside)}
def act(word):
${[...faults].map(([name, act]) => `    if word == ${JSON.stringify(name)}:\n        ${act}\n        return "fine"`).join("\n")}
    seen = {"b": 2, "a": 1}
    return {"word": word, "numbers": sorted([n * 2 for n in (3, 1, 2)]), "text": "-".join("a,b".split(",")), "seen": seen.get("a")}
`;
