/** Calls a second through the driver of each language, beside a bare process of it that reads each line and writes it back. */
import { spawn } from "node:child_process";
import { mkdirSync, writeFileSync } from "node:fs";
import path from "node:path";
import { DRIVERS } from "@/engine/drivers/index";
import { environmentFor } from "@/engine/process/environment";
import { runToEnd } from "@/engine/process/run";
import { startPool } from "@/service/check/sides";
import { openPort } from "@/service/port/open-port";

type Sample = {
  readonly file: string;
  readonly code: string;
  readonly name?: string;
  /** A program that echoes lines: its file, its text, how it is built and run in its folder. */
  readonly echo: {
    readonly file: string;
    readonly text: string;
    readonly build?: readonly string[];
    readonly run: readonly string[];
  };
};

const C_ECHO =
  "#include <stdio.h>\nint main(void) { char line[65536]; while (fgets(line, sizeof line, stdin)) fputs(line, stdout); return 0; }\n";

const SAMPLES: Readonly<Record<string, Sample>> = {
  c: {
    file: "m.c",
    code: "double add(int a, int b) { return a + b / 2.0; }\n",
    echo: { file: "echo.c", text: C_ECHO, build: ["cc", "-O2", "-o", "echo", "echo.c"], run: ["./echo"] },
  },
  cpp: {
    file: "m.cpp",
    code: "double add(int a, int b) { return a + b / 2.0; }\n",
    echo: { file: "echo.c", text: C_ECHO, build: ["cc", "-O2", "-o", "echo", "echo.c"], run: ["./echo"] },
  },
  rust: {
    file: "m.rs",
    code: "pub fn add(a: i32, b: i32) -> f64 { a as f64 + b as f64 / 2.0 }\n",
    echo: {
      file: "echo.rs",
      text: 'use std::io::*;\nfn main() { let out = stdout(); let mut out = BufWriter::new(out.lock()); for line in stdin().lock().lines() { writeln!(out, "{}", line.unwrap()).unwrap(); } }\n',
      build: ["rustc", "-O", "echo.rs"],
      run: ["./echo"],
    },
  },
  go: {
    file: "m.go",
    code: "package m\n\nfunc add(a, b int) float64 { return float64(a) + float64(b)/2 }\n",
    echo: {
      file: "echo.go",
      text: 'package main\n\nimport (\n\t"bufio"\n\t"encoding/json"\n\t"os"\n)\n\nfunc main() {\n\tin, out := bufio.NewScanner(os.Stdin), bufio.NewWriter(os.Stdout)\n\tfor in.Scan() {\n\t\tvar value map[string]any\n\t\tjson.Unmarshal(in.Bytes(), &value)\n\t\tline, _ := json.Marshal(value)\n\t\tout.Write(line)\n\t\tout.WriteByte(10)\n\t}\n\tout.Flush()\n}\n',
      build: ["go", "build", "-o", "echo", "echo.go"],
      run: ["./echo"],
    },
  },
  java: {
    file: "M.java",
    code: "class M { static double add(int a, int b) { return a + b / 2.0; } }\n",
    echo: {
      file: "Echo.java",
      text: "import java.io.*;\nclass Echo { public static void main(String[] a) throws IOException { BufferedReader in = new BufferedReader(new InputStreamReader(System.in)); PrintWriter out = new PrintWriter(new BufferedWriter(new OutputStreamWriter(System.out))); for (String line; (line = in.readLine()) != null; ) out.println(line); out.flush(); } }\n",
      build: ["javac", "Echo.java"],
      run: ["java", "-XX:TieredStopAtLevel=1", "Echo"],
    },
  },
  ruby: {
    file: "m.rb",
    code: "def add(a, b)\n  a + b / 2.0\nend\n",
    echo: {
      file: "echo.rb",
      text: 'require "json"\n$stdin.each_line { |line| puts JSON.generate(JSON.parse(line)) }\n',
      run: ["ruby", "echo.rb"],
    },
  },
  php: {
    file: "m.php",
    code: "<?php\nfunction add(int $a, int $b): float { return $a + $b / 2.0; }\n",
    echo: {
      file: "echo.php",
      text: '<?php\nwhile (($line = fgets(STDIN)) !== false) fwrite(STDOUT, json_encode(json_decode($line)) . "\\n");\n',
      run: ["php", "echo.php"],
    },
  },
};

const requestLine = (id: number) => JSON.stringify({ id, op: "call", file: "m", name: "add", args: [id, 2] });

async function timeEcho(folder: string, { echo }: Sample, count: number): Promise<number> {
  const [program = "", ...args] = echo.run;
  const child = spawn(program, args, { cwd: folder, stdio: ["pipe", "pipe", "inherit"] });
  let seen = 0;
  // The time until the first line is the program's start.
  let started = 0;
  await new Promise<void>((resolve, reject) => {
    child.on("error", reject);
    child.stdout.on("data", (chunk: Buffer) => {
      for (let at = chunk.indexOf(10); at !== -1; at = chunk.indexOf(10, at + 1)) seen++;
      if (seen >= count) resolve();
    });
    started = performance.now();
    child.stdin.end(`${Array.from({ length: count }, (_, id) => requestLine(id)).join("\n")}\n`);
  });
  child.kill();
  return (performance.now() - started) / 1000;
}

/** One line a language: calls and echoes a second, and their ratio. */
export async function benchLanguages(work: string, count: number, say: (line: string) => void): Promise<void> {
  for (const [language, sample] of Object.entries(SAMPLES)) {
    const folder = path.join(work, language);
    mkdirSync(path.join(folder, "original"), { recursive: true });
    mkdirSync(path.join(folder, "twin"), { recursive: true });
    writeFileSync(path.join(folder, "original", sample.file), sample.code);
    writeFileSync(path.join(folder, sample.echo.file), sample.echo.text);
    writeFileSync(
      path.join(folder, "side-twin.json"),
      JSON.stringify({
        format: "side-twin/port",
        version: 1,
        name: language,
        original: { root: "original", language },
        twins: [{ name: "t", root: "twin", language }],
      }),
    );
    const terms = { cwd: folder, env: environmentFor(), limits: { timeMs: 120_000, outputKb: 64 } };
    if (sample.echo.build) await runToEnd(sample.echo.build, terms);
    const echo = await timeEcho(folder, sample, count);
    const open = await openPort(folder);
    const pool = await startPool(open, open.original, { jobs: 1 });
    const run = async (calls: number) => {
      let answered = 0;
      pool.add(
        Array.from({ length: calls }, (_, id) => ({
          request: { op: "call", file: sample.file, name: "add", args: [id, 2] },
          tries: 0,
          done: ({ result }) => {
            if (result.kind === "call") answered++;
          },
        })),
      );
      await pool.drained();
      if (answered !== calls) throw new Error(`${language}: ${calls - answered} calls were not answered`);
    };
    await run(100);
    const started = performance.now();
    await run(count);
    const seconds = (performance.now() - started) / 1000;
    pool.stop();
    const title = DRIVERS[language]?.title ?? language;
    const [calls, echoes] = [Math.round(count / seconds), Math.round(count / echo)];
    say(
      `bridge, ${title}: ${calls} calls/s against ${echoes} echoes/s: ratio ${(calls / echoes).toFixed(2)} (reach: 0.5)`,
    );
  }
}
