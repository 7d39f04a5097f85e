/** Shapes of arguments in languages other than C and C++: lengths, outs, and bytes. */
import { describe, expect, it } from "vitest";
import { startSide } from "./side";

type Side = { readonly files: Readonly<Record<string, string>>; readonly scale: string; readonly divide: string };

/** `scale` multiplies a list whose length is given; `divide` fills the rest of a division. */
const SIDES: Readonly<Record<string, Side>> = {
  python: {
    files: {
      "yard.py":
        "def scale(values, count, factor):\n    return [values[at] * factor for at in range(count)]\n\n\ndef divide(total, by, rest):\n    rest.append(total % by)\n    return total // by\n",
    },
    scale: "scale",
    divide: "divide",
  },
  javascript: {
    files: {
      "yard.mjs":
        "export const scale = (values, count, factor) => values.slice(0, count).map((value) => value * factor);\nexport function divide(total, by, rest) {\n  rest.push(total % by);\n  return Math.floor(total / by);\n}\n",
    },
    scale: "scale",
    divide: "divide",
  },
  php: {
    files: {
      "yard.php":
        "<?php\nfunction scale($values, $count, $factor) {\n    return array_map(fn ($value) => $value * $factor, array_slice($values, 0, $count));\n}\nfunction divide($total, $by, &$rest) {\n    $rest[] = $total % $by;\n    return intdiv($total, $by);\n}\n",
    },
    scale: "scale",
    divide: "divide",
  },
  ruby: {
    files: {
      "yard.rb":
        "def scale(values, count, factor)\n  values.first(count).map { |value| value * factor }\nend\n\ndef divide(total, by, rest)\n  rest << total % by\n  total / by\nend\n",
    },
    scale: "scale",
    divide: "divide",
  },
  go: {
    files: {
      "yard.go":
        "package yard\n\nfunc Scale(values []int, count int, factor int) []int {\n\tscaled := []int{}\n\tfor _, value := range values[:count] {\n\t\tscaled = append(scaled, value*factor)\n\t}\n\treturn scaled\n}\n\nfunc Divide(total int, by int, rest []int) int {\n\trest[0] = total % by\n\treturn total / by\n}\n",
    },
    scale: "Scale",
    divide: "Divide",
  },
  java: {
    files: {
      "Yard.java":
        "public class Yard {\n    public static int[] scale(int[] values, int count, int factor) {\n        int[] scaled = new int[count];\n        for (int at = 0; at < count; at++) scaled[at] = values[at] * factor;\n        return scaled;\n    }\n\n    public static int divide(int total, int by, int[] rest) {\n        rest[0] = total % by;\n        return total / by;\n    }\n}\n",
    },
    scale: "scale",
    divide: "divide",
  },
  rust: {
    files: {
      "yard.rs":
        "pub fn scale(values: &[i64], count: usize, factor: i64) -> Vec<i64> {\n    values[..count].iter().map(|value| value * factor).collect()\n}\n\npub fn divide(total: i64, by: i64, rest: &mut i64) -> i64 {\n    *rest = total % by;\n    total / by\n}\n",
    },
    scale: "scale",
    divide: "divide",
  },
};

/** Where the out is a list, its items are the answer. */
const isList = (language: string): boolean => language !== "rust";
const isFixed = (language: string): boolean => ["go", "java"].includes(language);

describe.each(Object.entries(SIDES))("shapes in %s", (language, { files, scale, divide }) => {
  it("leave lengths and outs out of the arguments, and put outs behind the result", async () => {
    const [file = ""] = Object.keys(files);
    const module = file.split(".")[0] ?? "";
    const side = await startSide(language, files, {
      port: {
        shapes: {
          [`${module}.${scale}`]: { count: "length of values", values: "in" },
          [`${module}.${divide}`]: { rest: isFixed(language) ? "out, room 1" : "out" },
        },
      },
    });
    expect(await side.call(scale, [1, 2, 3], 4)).toMatchObject({ value: [4, 8, 12], args: [[1, 2, 3], 4] });
    const rest = isList(language) ? [3] : 3;
    expect(await side.call(divide, 23, 5)).toMatchObject({ value: { "~tuple": [4, rest] }, args: [23, 5] });
    side.close();
  });
});

it("hold for the methods of steps", async () => {
  const files = {
    "yard.py":
      "class Gauge:\n    def __init__(self, level):\n        self.level = level\n\n    def read(self, found):\n        found.append(self.level)\n",
  };
  const side = await startSide("python", files, { port: { shapes: { "yard.Gauge.read": { found: "out" } } } });
  const steps = [
    { new: "Gauge", args: [7], as: "g" },
    { call: "read", on: "g" },
  ];
  expect(await side.steps(steps)).toMatchObject({ steps: [{}, { value: [7], args: [] }] });
  side.close();
});

it("text that a shape calls bytes is bytes, and an unknown word is refused", async () => {
  const files = { "yard.php": "<?php\nfunction pack_it($text) {\n    return strrev($text);\n}\n" };
  const side = await startSide("php", files, { port: { shapes: { "yard.pack_it": { return: "bytes" } } } });
  expect(await side.call("pack_it", "ab")).toMatchObject({ value: { "~bytes": btoa("ba") } });
  side.close();
  const wrong = await startSide("php", files, { port: { shapes: { "yard.pack_it": { text: "octets" } } } });
  await expect(wrong.call("pack_it", "ab")).rejects.toMatchObject({
    code: "bad-input",
    what: 'pack_it: its shape has an unknown word "octets"',
  });
  wrong.close();
});
