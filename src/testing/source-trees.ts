/** Small source trees in every language that is read, with what a survey must find in them. Made for this. */

export type SourceTree = {
  readonly language: string;
  readonly files: Readonly<Record<string, string>>;
  /** File → sections as `kind name`. */
  readonly sections: Readonly<Record<string, readonly string[]>>;
  /** File → imports of the tree. */
  readonly imports: Readonly<Record<string, readonly string[]>>;
  /** `package: name` → `file:line` of each use. */
  readonly outside: Readonly<Record<string, readonly string[]>>;
};

export const SOURCE_TREES: readonly SourceTree[] = [
  {
    language: "python",
    files: {
      "ferry/__init__.py": "from .tides import height\n",
      "ferry/tides.py": [
        "import math as m",
        "import os.path",
        "from collections import OrderedDict as Ordered, deque",
        "try:",
        "    import numpy as np",
        "except ImportError:",
        "    np = None",
        "LEVEL = 3",
        "def height(t, *, phase=0):",
        "    if np and t > 1 or t < 0:",
        "        return np.sum(np.linalg.norm(t))",
        "    return m.cos(t + phase)",
        "def shadow(m):",
        "    m.cos = 1",
        "    return [m for m in m]",
        "class Table(Ordered):",
        "    SIZE = 2",
        "    def row(self, at): return deque([at])",
        "    @property",
        "    def path(self): return os.path.join('a', 'np.sum')",
      ].join("\n"),
      "ferry/plan.py":
        "from . import tides\nfrom ferry.tides import height as h, np\nfrom ferry import fares\nprint(h(1), tides.LEVEL, np.pi)\n",
      "ferry/fares.py": "def fare():\n    from ferry import plan\n    return plan\n",
    },
    sections: {
      "ferry/tides.py": [
        "constant np",
        "constant LEVEL",
        "function height",
        "function shadow",
        "class Table",
        "method Table.row",
        "method Table.path",
      ],
      "ferry/fares.py": ["function fare"],
    },
    imports: {
      "ferry/__init__.py": ["ferry/tides.py"],
      "ferry/tides.py": [],
      "ferry/plan.py": ["ferry/tides.py", "ferry/tides.py", "ferry/fares.py"],
      "ferry/fares.py": ["ferry/plan.py"],
    },
    outside: {
      "collections: OrderedDict": ["ferry/tides.py:16"],
      "collections: deque": ["ferry/tides.py:18"],
      "math: cos": ["ferry/tides.py:12"],
      "numpy: *": ["ferry/tides.py:10"],
      "numpy: sum": ["ferry/tides.py:11"],
      "numpy: linalg.norm": ["ferry/tides.py:11"],
      "numpy: pi": ["ferry/plan.py:4"],
      "os: path.join": ["ferry/tides.py:20"],
    },
  },
  {
    language: "typescript",
    files: {
      "tsconfig.json": '{ "compilerOptions": { "baseUrl": ".", "paths": { "@/*": ["./src/*"] } } } // with a comment',
      "src/index.ts":
        'export { price as cost } from "./fares";\nexport * from "@/tides";\nexport { chunk } from "lodash";\n',
      "src/fares.ts": [
        'import fs, { readFileSync as read } from "node:fs";',
        'import * as _ from "lodash";',
        'import type { Boat } from "./boats.js";',
        'import { chunk } from "./index";',
        "const RATE = 2;",
        "export function price(boat: Boat, { size = 1 }: { size?: number } = {}): number {",
        '  if (size > 1 && boat) return _.sum([RATE, read("a").length]);',
        '  return fs.existsSync("x") ? 1 : chunk([1]).length;',
        "}",
        "export const half = (n: number) => { const _ = n; return _; };",
        "export default class Till { open(by: string) { return by; } static of = () => new Till(); }",
      ].join("\n"),
      "src/tides.ts":
        'export const level = 1;\nexport async function load() { return (await import("./fares")).half; }\n',
      "src/boats.ts": "export interface Boat { name: string }\nexport enum Kind { Ferry }\n",
    },
    sections: {
      "src/fares.ts": [
        "constant RATE",
        "function price",
        "function half",
        "class Till",
        "method Till.open",
        "method Till.of",
      ],
      "src/boats.ts": ["class Boat", "class Kind"],
      "src/tides.ts": ["constant level", "function load"],
    },
    imports: {
      "src/index.ts": ["src/fares.ts", "src/tides.ts"],
      "src/fares.ts": ["src/boats.ts", "src/index.ts"],
      "src/tides.ts": ["src/fares.ts"],
      "src/boats.ts": [],
    },
    outside: {
      "lodash: chunk": ["src/fares.ts:8", "src/index.ts:3"],
      "lodash: sum": ["src/fares.ts:7"],
      "node:fs: existsSync": ["src/fares.ts:8"],
      "node:fs: readFileSync": ["src/fares.ts:7"],
    },
  },
  {
    language: "javascript",
    files: {
      "lib/a.js": [
        'const path = require("path");',
        'const { join: j, sep } = require("path");',
        'const helper = require("./b");',
        'const only = require("left-pad/fast").only;',
        "exports.up = function up(p) { return path.dirname(j(p, '..')) + sep; };",
        "module.exports.down = (p) => only(helper(p));",
        "function Tree(root) { this.root = root; }",
        "Tree.prototype.leaf = function (n) { return n; };",
      ].join("\n"),
      "lib/b.js": "module.exports = function (x) { const path = x; return path.y; };\n",
      "view.jsx":
        'import React, { useState } from "react";\nexport function View() { const [n] = useState(0); return <b>{n}</b>; }\n',
    },
    sections: {
      "lib/a.js": ["function up", "function down", "class Tree", "method Tree.leaf"],
      "lib/b.js": ["function default"],
      "view.jsx": ["function View"],
    },
    imports: { "lib/a.js": ["lib/b.js"], "lib/b.js": [], "view.jsx": [] },
    outside: {
      "left-pad: fast.only": ["lib/a.js:6"],
      "path: dirname": ["lib/a.js:5"],
      "path: join": ["lib/a.js:5"],
      "path: sep": ["lib/a.js:5"],
      "react: useState": ["view.jsx:2"],
    },
  },
  {
    language: "tsx",
    files: {
      "page.tsx":
        'import Button from "@mui/material/Button";\nimport { Row } from "./row";\nexport const Page = () => <Row><Button /></Row>;\n',
      "row.tsx": "export function Row(props: { children: unknown }) { return props.children; }\n",
    },
    sections: { "page.tsx": ["function Page"], "row.tsx": ["function Row"] },
    imports: { "page.tsx": ["row.tsx"], "row.tsx": [] },
    outside: { "@mui/material: Button.default": ["page.tsx:3"] },
  },
  {
    language: "java",
    files: {
      "src/main/java/org/salt/Fares.java": [
        "package org.salt;",
        "import java.util.List;",
        "import java.util.Map;",
        "import static java.lang.Math.max;",
        "import org.salt.tides.Tide;",
        "public class Fares extends Till {",
        "  static final int RATE = 3;",
        "  private final Map<String, Integer> seen;",
        "  Fares(int start) { this.seen = null; }",
        "  int price(String kind, int... ages) {",
        "    if (ages.length > 1 && kind != null) return max(RATE, List.of(1).size());",
        "    for (int a : ages) { Tide.level(a); }",
        "    return 0;",
        "  }",
        "  enum Kind { ADULT }",
        "}",
      ].join("\n"),
      "src/main/java/org/salt/Till.java": "package org.salt;\nclass Till { void open() {} }\n",
      "src/main/java/org/salt/tides/Tide.java":
        "package org.salt.tides;\npublic interface Tide { static int level(int t) { return t; } }\n",
    },
    sections: {
      "src/main/java/org/salt/Fares.java": [
        "class Fares",
        "constant Fares.RATE",
        "method Fares.Fares",
        "method Fares.price",
        "class Fares.Kind",
      ],
      "src/main/java/org/salt/tides/Tide.java": ["class Tide", "method Tide.level"],
    },
    imports: {
      "src/main/java/org/salt/Fares.java": ["src/main/java/org/salt/tides/Tide.java"],
      "src/main/java/org/salt/Till.java": [],
    },
    outside: {
      "java.lang.Math: max": ["src/main/java/org/salt/Fares.java:11"],
      "java.util: List.of.size": ["src/main/java/org/salt/Fares.java:11"],
      "java.util: Map": ["src/main/java/org/salt/Fares.java:8"],
    },
  },
  {
    language: "c",
    files: {
      "src/vent.c": [
        "#include <stdio.h>",
        '#include "vent.h"',
        "#ifdef FAST",
        "#include <math.h>",
        "#endif",
        "static int count = 0;",
        "int vent_open(int angle, const char *name)",
        "{",
        '    if (angle > LIMIT && name) printf("printf %s\\n", name);',
        "    return count++;",
        "}",
        "struct vent *vent_find(void) { return 0; }",
      ].join("\n"),
      "include/vent.h":
        "#ifndef VENT_H\n#define VENT_H\n#define LIMIT 90\nstruct vent { int angle; };\ntypedef enum { SHUT, OPEN } state;\nint vent_open(int angle, const char *name);\n#endif\n",
      "src/main.c":
        '#include "../include/vent.h"\nint main(int argc, char **argv) { return vent_open(argc, argv[0]); }\n',
    },
    sections: {
      "src/vent.c": ["constant count", "function vent_open", "function vent_find"],
      "include/vent.h": ["constant LIMIT", "class vent", "class state"],
      "src/main.c": ["function main"],
    },
    imports: { "src/vent.c": ["include/vent.h"], "src/main.c": ["include/vent.h"], "include/vent.h": [] },
    outside: { "math.h: *": ["src/vent.c:4"], "stdio.h: printf": ["src/vent.c:9"] },
  },
  {
    language: "cpp",
    files: {
      "berth.hpp":
        "#pragma once\n#include <vector>\nnamespace salt {\nclass Berth {\npublic:\n  explicit Berth(int size);\n  int free() const { return size_; }\n  static const int MOST = 4;\nprivate:\n  int size_;\n};\n}\n",
      "berth.cpp": [
        '#include "berth.hpp"',
        "#include <algorithm>",
        "using std::string;",
        "namespace salt {",
        "Berth::Berth(int size) : size_(std::max(size, 0)) {}",
        "template <typename T> T twice(T value) { return value + value; }",
        "}",
        "int total(const std::vector<int>& all) { int sum = 0; for (int one : all) { if (one > 0) sum += one; } return sum; }",
      ].join("\n"),
    },
    sections: {
      "berth.hpp": ["class Berth", "method Berth.free", "constant Berth.MOST"],
      "berth.cpp": ["method Berth.Berth", "function twice", "function total"],
    },
    imports: { "berth.cpp": ["berth.hpp"], "berth.hpp": [] },
    outside: {
      "algorithm: *": ["berth.cpp:2"],
      "std: max": ["berth.cpp:5"],
      "std: vector": ["berth.cpp:8"],
      "vector: *": ["berth.hpp:2"],
    },
  },
  {
    language: "csharp",
    files: {
      "Fares/Till.cs": [
        "using System;",
        "using Json = System.Text.Json.JsonSerializer;",
        "using Salt.Tides;",
        "namespace Salt.Fares",
        "{",
        "    public class Till : Drawer",
        "    {",
        "        const int Rate = 3;",
        "        public Till(int start) { }",
        "        public int Price(string kind, int age = 1)",
        "        {",
        '            if (age > 1 && kind != "x") return Json.Serialize(Tide.Level(age)).Length;',
        "            return Rate;",
        "        }",
        "    }",
        "}",
      ].join("\n"),
      "Fares/Drawer.cs":
        "namespace Salt.Fares { public class Drawer { public void Open() { } } public enum Coin { Penny } }\n",
      "Tides/Tide.cs": "namespace Salt.Tides;\npublic static class Tide { public static int Level(int t) => t; }\n",
    },
    sections: {
      "Fares/Till.cs": ["class Till", "constant Till.Rate", "method Till.Till", "method Till.Price"],
      "Fares/Drawer.cs": ["class Drawer", "method Drawer.Open", "class Coin"],
      "Tides/Tide.cs": ["class Tide", "method Tide.Level"],
    },
    imports: { "Fares/Till.cs": [] },
    outside: { "System: *": ["Fares/Till.cs:1"], "System.Text.Json.JsonSerializer: Serialize": ["Fares/Till.cs:12"] },
  },
  {
    language: "go",
    files: {
      "go.mod": "module salt.example/ferry\n\ngo 1.21\n",
      "main.go":
        'package main\n\nimport (\n\t"fmt"\n\tt "salt.example/ferry/tides"\n)\n\nfunc main() {\n\tfmt.Println(t.Level(1))\n\tfmt := 2\n\t_ = fmt\n}\n',
      "tides/tides.go":
        'package tides\n\nimport m "math"\n\nconst Step, Most = 1, 2\n\ntype Table struct{ rows int }\n\nfunc (t *Table) Row(at int, names ...string) int {\n\tif at > 0 && most() > 1 {\n\t\treturn int(m.Floor(1.5))\n\t}\n\treturn 0\n}\n\nfunc Level(t int) int { return t }\n',
      "tides/most.go": "package tides\n\nfunc most() int { return Most }\n",
    },
    sections: {
      "main.go": ["function main"],
      "tides/tides.go": ["constant Step", "constant Most", "class Table", "method Table.Row", "function Level"],
    },
    imports: { "main.go": ["tides/most.go"], "tides/tides.go": [] },
    outside: { "math: Floor": ["tides/tides.go:11"] },
  },
  {
    language: "rust",
    files: {
      "Cargo.toml": '[package]\nname = "salt-ferry"\nversion = "0.1.0"\n',
      "src/lib.rs": "pub mod fares;\nmod tides;\npub use tides::level;\n",
      "src/fares.rs": [
        "use std::collections::{HashMap, hash_map::Entry as Slot};",
        "use crate::tides::level;",
        "use serde::Serialize;",
        "pub const RATE: u32 = 3;",
        "pub struct Till { seen: HashMap<String, u32> }",
        "impl Till {",
        "    pub fn price(&mut self, kind: &str) -> u32 {",
        '        if level(1) > 2 && kind != "a" { return RATE; }',
        "        match self.seen.entry(kind.into()) { Slot::Occupied(_) => 1, _ => std::mem::size_of::<u8>() as u32 }",
        "    }",
        "}",
        "pub trait Fare { fn of(&self) -> u32; }",
        "fn write<T: Serialize>(_t: T) {}",
      ].join("\n"),
      "src/tides.rs": "pub fn level(t: u32) -> u32 { super::fares::RATE + t }\n",
      "tests/all.rs": "use salt_ferry::fares::Till;\n#[test]\nfn works() { let _ = Till::price; }\n",
    },
    sections: {
      "src/fares.rs": [
        "constant RATE",
        "class Till",
        "method Till.price",
        "class Fare",
        "method Fare.of",
        "function write",
      ],
      "src/tides.rs": ["function level"],
    },
    imports: {
      "src/lib.rs": ["src/fares.rs", "src/tides.rs", "src/tides.rs"],
      "src/fares.rs": ["src/tides.rs"],
      "tests/all.rs": ["src/fares.rs"],
    },
    outside: {
      "serde: Serialize": ["src/fares.rs:13"],
      "std: collections.HashMap": ["src/fares.rs:5"],
      "std: collections.hash_map.Entry.Occupied": ["src/fares.rs:9"],
      "std: mem.size_of": ["src/fares.rs:9"],
    },
  },
  {
    language: "ruby",
    files: {
      "lib/salt.rb": "require 'salt/tides'\nrequire_relative 'salt/fares'\nmodule Salt\nend\n",
      "lib/salt/tides.rb":
        "require 'json'\nrequire 'set'\nmodule Salt\n  module Tides\n    MEAN = 2.0\n    def self.level(t, phase: 0)\n      return JSON.parse('1') if t > 1 && phase\n      Set.new([t])\n    end\n  end\nend\n",
      "lib/salt/fares.rb":
        "require 'salt/tides'\nclass Fares\n  def initialize(rate)\n    @rate = rate\n  end\n  private def price(kind, *rest) = @rate\nend\ndef top(a) a end\n",
    },
    sections: {
      "lib/salt/tides.rb": ["class Salt", "class Salt.Tides", "constant Salt.Tides.MEAN", "method Salt.Tides.level"],
      "lib/salt/fares.rb": ["class Fares", "method Fares.initialize", "method Fares.price", "function top"],
    },
    imports: {
      "lib/salt.rb": ["lib/salt/tides.rb", "lib/salt/fares.rb"],
      "lib/salt/tides.rb": [],
      "lib/salt/fares.rb": ["lib/salt/tides.rb"],
    },
    outside: { "json: JSON.parse": ["lib/salt/tides.rb:7"], "set: Set.new": ["lib/salt/tides.rb:8"] },
  },
  {
    language: "php",
    files: {
      "composer.json": '{ "autoload": { "psr-4": { "Salt\\\\": "src/" } } }',
      "src/Fares/Till.php": [
        "<?php",
        "namespace Salt\\Fares;",
        "use Salt\\Tides\\Tide;",
        "use Psr\\Log\\{LoggerInterface as Log, NullLogger};",
        "const RATE = 3;",
        "class Till extends Drawer {",
        "    const MOST = 4;",
        "    public function __construct(private Log $log) {}",
        "    public function price(string $kind, int $age = 1): int {",
        "        if ($age > 1 && $kind) { return Tide::level($age); }",
        "        return count([new NullLogger()]);",
        "    }",
        "}",
        "function top($x) { return $x; }",
      ].join("\n"),
      "src/Fares/Drawer.php": "<?php\nnamespace Salt\\Fares;\nabstract class Drawer { public function open() {} }\n",
      "src/Tides/Tide.php":
        "<?php\nnamespace Salt\\Tides;\nrequire_once __DIR__ . '/../boot.php';\nfinal class Tide { public static function level(int $t): int { return $t; } }\n",
      "src/boot.php": "<?php\ndefine('BOOTED', 1);\n",
    },
    sections: {
      "src/Fares/Till.php": [
        "constant RATE",
        "class Till",
        "constant Till.MOST",
        "method Till.__construct",
        "method Till.price",
        "function top",
      ],
      "src/Tides/Tide.php": ["class Tide", "method Tide.level"],
      "src/boot.php": ["constant BOOTED"],
    },
    imports: {
      "src/Fares/Till.php": ["src/Tides/Tide.php"],
      "src/Tides/Tide.php": ["src/boot.php"],
      "src/Fares/Drawer.php": [],
    },
    outside: { "Psr: Log.LoggerInterface": ["src/Fares/Till.php:8"], "Psr: Log.NullLogger": ["src/Fares/Till.php:11"] },
  },
];
