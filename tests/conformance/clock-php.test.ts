/** A fixed clock in PHP: the interpreter asks a preloaded library for the time. */
import { afterAll, describe, expect, it } from "vitest";
import { startSide } from "./side";

const FILES = {
  "tide.php": `<?php
namespace Harbour;

function unix(): int { return time(); }
function exact(): float { return microtime(true); }
function day(): string { return date("Y-m-d"); }
function moment(): string { return (new \\DateTimeImmutable())->format(DATE_ATOM); }
function tomorrow(): string { return date("Y-m-d", strtotime("tomorrow")); }
function asked(): int { return $_SERVER["REQUEST_TIME"]; }
function elapsed(): bool { $since = hrtime(true); usleep(1000); return hrtime(true) > $since; }
`,
};
const AT = Date.UTC(2031, 3, 2, 20) / 1000;

describe("a fixed clock", () => {
  const fixed = startSide("php", FILES, { port: { now: "2031-04-02T22:00:00.5+02:00" } });
  afterAll(async () => (await fixed).close());

  it.each([
    ["unix", AT],
    ["exact", AT + 0.5],
    ["day", "2031-04-02"],
    ["moment", "2031-04-02T20:00:00+00:00"],
    ["tomorrow", "2031-04-03"],
    ["asked", AT],
    ["elapsed", true],
  ])("is what %s returns", async (name, expected) => {
    expect(await (await fixed).call(name)).toMatchObject({ value: expected });
  });
});

it("the clock is the real one where none is asked for", async () => {
  const free = await startSide("php", FILES);
  const { value } = (await free.call("unix")) as { value: number };
  expect(Math.abs(value - Date.now() / 1000)).toBeLessThan(60);
  free.close();
});
