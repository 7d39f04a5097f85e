/** Lines of program runs in languages whose programs are built: one program in each, with the same branches. */
import { readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { runCheckOfFile } from "@/service/check/run-check";
import { portFile, temporaryFolder, writeFiles } from "@/testing/temporary-port";

/** Comments mark lines: `all` is executable, `one` is run by the argument 1, `two` by 2. */
type Program = {
  readonly language: string;
  readonly file: string;
  readonly source: string;
  readonly prepare: readonly (readonly string[])[];
  readonly run: readonly string[];
  readonly more?: Readonly<Record<string, string>>;
};

const PROGRAMS: readonly Program[] = [
  {
    language: "c",
    file: "tide.c",
    source: `#include <stdio.h>
#include <stdlib.h>

int main(int argc, char **argv) {
    int n = atoi(argv[1]); /* all one two */
    if (n == 1) { /* all one two */
        puts("one"); /* all one */
        return 0; /* all one */
    }
    puts("more"); /* all two */
    return 3; /* all two */
}
`,
    prepare: [["make"]],
    run: ["./tide"],
    more: { Makefile: "tide: tide.c\n\t$(CC) -Wall -o $@ $<\n" },
  },
  {
    language: "cpp",
    file: "src/tide.cpp",
    source: `#include <iostream>
#include <string>

int main(int argc, char **argv) {
    std::string n = argv[1]; // all one two
    if (n == "1") { // all one two
        std::cout << "one\\n"; // all one
        return 0; // all one
    }
    std::cout << "more\\n"; // all two
    return 3; // all two
}
`,
    prepare: [["c++", "-std=c++17", "-o", "tide", "src/tide.cpp"]],
    run: ["./tide"],
  },
  {
    language: "go",
    file: "main.go",
    source: `package main

import (
	"fmt"
	"os"
	"tide/band"
)

var is = band.Is(os.Args[1])

func main() {
	if is { // all one two
		fmt.Println("one") // all one
		return // all one
	}
	fmt.Println("more") // all two
	os.Exit(3) // all two
}
`,
    prepare: [["go", "build", "-o", "tide", "."]],
    run: ["./tide"],
    more: {
      "go.mod": "module tide\n\ngo 1.21\n",
      "band/band.go": 'package band\n\nfunc Is(text string) bool {\n\treturn text == "1"\n}\n',
    },
  },
  {
    language: "rust",
    file: "src/main.rs",
    source: `fn main() {
    let n = std::env::args().nth(1).unwrap(); // all one two
    if n == "1" { // all one two
        println!("one"); // all one
        return; // all one
    }
    println!("more"); // all two
    std::process::exit(3); // all two
}
`,
    prepare: [["cargo", "build", "--offline", "--quiet"]],
    run: ["./target/debug/tide"],
    more: { "Cargo.toml": '[package]\nname = "tide"\nversion = "0.1.0"\nedition = "2021"\n' },
  },
  {
    language: "java",
    file: "src/harbour/Tide.java",
    source: `package harbour;

public class Tide {
    public static void main(String[] args) {
        String n = args[0]; // all one two
        if (n.equals("1")) { // all one two
            System.out.println("one"); // all one
            return; // all one
        }
        System.out.println("more"); // all two
        System.exit(3); // all two
    }
}
`,
    prepare: [["javac", "-d", "out", "-sourcepath", "src", "src/harbour/Tide.java"]],
    run: ["java", "-cp", "out", "harbour.Tide"],
  },
  {
    language: "php",
    file: "tide.php",
    source: `<?php
declare(strict_types=1);

namespace Harbour;

$n = $argv[1]; // all one two
if ($n === "1") { // all one two
    echo "one\\n"; // all one
    exit(0); // all one
}
echo "more\\n"; // all two
exit(3); // all two
`,
    prepare: [],
    run: ["php", "tide.php"],
  },
];

const TWIN = `const one = process.argv[2] === "1";
console.log(one ? "one" : "more");
process.exitCode = one ? 0 : 3;
`;

const marked = (source: string, word: string): number[] =>
  source.split("\n").flatMap((line, at) => (new RegExp(`(//|/\\*)[ \\w]*\\b${word}\\b`).test(line) ? [at + 1] : []));

/** A port of the program, whose cases are its arguments. */
const portOf = ({ language, file, source, prepare, run, more }: Program): string =>
  temporaryFolder({
    "side-twin.json": portFile({
      original: { root: "original", language, run, ...(prepare.length > 0 ? { prepare } : {}) },
      twins: [{ name: "js", root: "twin", language: "javascript", run: ["node", "tide.mjs"] }],
      modules: [{ name: "tide", original: [file], twins: { js: ["tide.mjs"] } }],
    }),
    [`original/${file}`]: source,
    ...Object.fromEntries(Object.entries(more ?? {}).map(([name, text]) => [`original/${name}`, text])),
    "twin/tide.mjs": TWIN,
  });

async function provenWith(folder: string, ...given: readonly string[]) {
  writeFiles(folder, { "cases/c.jsonl": given.map((one) => ({ id: one, module: "tide", run: { argv: [one] } })) });
  const { report, end } = await runCheckOfFile(folder, { answersFolder: path.join(folder, "answers") });
  expect(report.modules[0]?.totals).toMatchObject({ agree: given.length });
  return end.proven.get("js")?.get("tide");
}

describe.each(PROGRAMS)("a program in $language", (program) => {
  it("tells the lines that its runs reached, and keeps them with the answers", async () => {
    const { file, source } = program;
    const folder = portOf(program);
    const lines = (proven: readonly number[]) => ({
      executable: { [file]: marked(source, "all") },
      proven: { [file]: proven },
    });
    expect(await provenWith(folder, "1")).toEqual(lines(marked(source, "one")));
    expect(await provenWith(folder, "2")).toEqual(lines(marked(source, "two")));
    const both = [...new Set([...marked(source, "one"), ...marked(source, "two")])].sort((a, b) => a - b);
    expect(await provenWith(folder, "1", "2")).toEqual(lines(both));
    expect(readFileSync(path.join(folder, "original", file), "utf8")).toBe(source);
  });
});

/** Code in which a statement more is an error, or which a build is strict about. */
const HARD: readonly Program[] = [
  {
    language: "c",
    file: "tide.c",
    source: `#define _GNU_SOURCE
#include <fcntl.h>
#include <stdio.h>
#include <stdlib.h>
#include <unistd.h>
#include "band.h"

int main(int argc, char **argv)
{
    if (argc < 2) return 9; /* all one */
    puts(band(atoi(argv[1])) == 1 ? "one" : "more"); /* all one */
    return band(atoi(argv[1])) == 1 ? 0 : 3; /* all one */
}
`,
    prepare: [["make", "CFLAGS=-std=c99 -Wall -Wextra -Werror -pedantic -O2"]],
    run: ["./tide"],
    more: {
      Makefile: "tide: tide.c band.h\n\t$(CC) $(CFLAGS) -o $@ tide.c\n",
      "band.h": "static inline int band(int n)\n{\n    return n > 1 ? 2 : n;\n}\n",
    },
  },
  {
    language: "cpp",
    file: "tide.cpp",
    source: `#include <cstdio>
#include <string>
template <typename T> T pick(T left, T right) {
    return left < right ? left : right; // all one
}
int main(int, char **argv) {
    auto one = [&](int n) { // all one
        return n == 1; // all one
    };
    bool is = one(pick(std::stoi(argv[1]), 2)); // all one
    std::puts(is ? "one" : "more"); // all one
    return is ? 0 : 3; // all one
}
`,
    prepare: [["c++", "-std=c++17", "-Wall", "-Werror", "-o", "tide", "tide.cpp"]],
    run: ["./tide"],
  },
  {
    language: "rust",
    file: "src/main.rs",
    source: `#![deny(warnings)]
mod band;
const LIMIT: i32 = band::limit();
fn main() {
    let n: i32 = std::env::args().nth(1).unwrap().parse().unwrap(); // all one
    let is = n < LIMIT; // all one
    println!("{}", if is { "one" } else { "more" }); // all one
    std::process::exit(if is { 0 } else { 3 }); // all one
}
`,
    prepare: [["cargo", "build", "--offline", "--quiet"]],
    run: ["./target/debug/tide"],
    more: {
      "Cargo.toml": '[package]\nname = "tide"\nversion = "0.1.0"\nedition = "2021"\n',
      "src/band.rs": "pub const fn limit() -> i32 {\n    let two = 2;\n    two\n}\n",
    },
  },
  {
    language: "java",
    file: "Tide.java",
    source: `import java.util.function.IntPredicate;

public class Tide {
    static final IntPredicate ONE = n -> n == 1;
    private final int n;
    Tide(int n) {
        this.n = n; // all one
    }
    public static void main(String[] args) {
        boolean is = ONE.test(new Tide(Integer.parseInt(args[0])).n); // all one
        System.out.println(is ? "one" : "more"); // all one
        System.exit(is ? 0 : 3); // all one
    }
}
`,
    prepare: [["sh", "-c", "javac -Xlint:all -Werror -d out $(find . -name '*.java')"]],
    run: ["java", "-cp", "out", "Tide"],
  },
  {
    // A plain `javac` looks for other classes from where it is started, not where this one lies.
    language: "java",
    file: "src/Tide.java",
    source: `public class Tide {
    public static void main(String[] args) {
        boolean is = args[0].equals("1"); // all one
        System.out.println(is ? "one" : "more"); // all one
        System.exit(is ? 0 : 3); // all one
    }
}
`,
    prepare: [["javac", "-d", "out", "src/Tide.java"]],
    run: ["java", "-cp", "out", "Tide"],
  },
];

describe.each(HARD)("a program in $language that is strict", (program) => {
  it("tells the lines too", async () => {
    const found = await provenWith(portOf(program), "1");
    expect(found?.executable[program.file]).toEqual(marked(program.source, "all"));
    expect(found?.proven[program.file]).toEqual(marked(program.source, "one"));
  });
});

it("that cannot be built with probes is checked as ever, and proves nothing", async () => {
  const [c] = PROGRAMS;
  if (!c) throw new Error("no program");
  const prepare = [["sh", "-c", "grep -q side_twin tide.c && exit 1; make"]];
  expect((await provenWith(portOf({ ...c, prepare }), "1"))?.proven).toEqual({ "tide.c": [] });
});
