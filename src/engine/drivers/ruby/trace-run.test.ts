/** Lines of Ruby programs: of all their processes, and nothing where they were ended. */
import path from "node:path";
import { expect, it } from "vitest";
import { driversFolder } from "@/engine/drivers/index";
import { ruby } from "@/engine/drivers/ruby/ruby";
import { environmentFor } from "@/engine/process/environment";
import { runToEnd } from "@/engine/process/run";
import { findRuntime } from "@/engine/toolchains/toolchains";
import { temporaryFolder } from "@/testing/temporary-port";

it("are those that the program, what it loads and its own processes ran", async () => {
  const root = temporaryFolder({
    "main.rb":
      'require_relative "tide"\nif ARGV[0] == "up"\n  puts rise(1)\nelse\n  system("ruby", "#{__dir__}/main.rb", "up")\nend\nabort if ARGV[0] == "stop"\n',
    "tide.rb": "def rise(n)\n  return 0 if n > 3\n  n + 1\nend\n",
  });
  const out = path.join(temporaryFolder(), "lines");
  const plain = [...(await findRuntime("ruby")), "main.rb", "stop"];
  expect(ruby.tracing?.canTrace(plain)).toBe(true);
  expect(ruby.tracing?.canTrace(["bash", "main.rb"])).toBe(false);
  const started = ruby.tracing?.start(plain, { home: driversFolder(), out, cache: root, root });
  const { stdout, end } = await runToEnd(started?.command ?? [], {
    cwd: root,
    env: { ...environmentFor(), ...started?.environment },
    limits: { timeMs: 20_000, outputKb: 64 },
  });
  expect([stdout.toString("utf8"), end]).toEqual(["2\n", { kind: "exited", code: 1 }]);
  expect(await ruby.tracing?.read(out, root)).toEqual({ "main.rb": [1, 2, 3, 5, 7], "tide.rb": [1, 2, 3] });
  expect(await ruby.tracing?.read(out, root)).toEqual({});
});
