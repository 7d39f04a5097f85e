/** A fixed clock and seed in Go: the side's sources ask the driver for the time. */
import { afterAll, describe, expect, it } from "vitest";
import { startSide } from "./side";

const FILES = {
  "tide/tide.go": `package tide

import (
	"math/rand"
	clock "time"
)

var now = clock.Now

func Unix() int64 { return clock.Now().Unix() }

func Given() int64 { return now().Unix() }

func Year() int { return clock.Now().UTC().Year() }

func Past() string { return clock.Since(clock.Date(2031, 4, 2, 19, 0, 0, 0, clock.UTC)).String() }

func Left() string { return clock.Until(clock.Date(2031, 4, 2, 21, 0, 0, 0, clock.UTC)).String() }

func Since() bool { since := clock.Now(); return clock.Since(since) >= 0 }

func Wait() string { return Long.String() }

func Dice() int { return rand.Intn(1000000) }
`,
  "tide/other.go": `package tide

import "time"

const Long = 90 * time.Second

func init() { time.Sleep(time.Millisecond) }
`,
  "go.mod": "module harbour\n\ngo 1.21\n",
};

describe("a fixed clock", () => {
  const fixed = startSide("go", FILES, { port: { now: "2031-04-02T22:00:00+02:00" } });
  afterAll(async () => (await fixed).close());

  it.each([
    ["Unix", Date.UTC(2031, 3, 2, 20) / 1000],
    ["Given", Date.UTC(2031, 3, 2, 20) / 1000],
    ["Year", 2031],
    ["Past", "1h0m0s"],
    ["Left", "1h0m0s"],
    ["Since", true],
    ["Wait", "1m30s"],
  ])("is what %s tells", async (name, expected) => {
    expect(await (await fixed).call(name)).toMatchObject({ value: expected });
  });
});

it("the clock goes where none is fixed, and a seed gives the same numbers", async () => {
  const [free, one, other] = [
    await startSide("go", FILES),
    await startSide("go", FILES, { port: { seed: 7 } }),
    await startSide("go", FILES, { port: { seed: 8 } }),
  ];
  expect((await free.call("Unix")).value).toBeGreaterThan(1.7e9);
  expect((await free.call("Given")).value).toBeGreaterThan(1.7e9);
  const { value } = await one.call("Dice");
  expect((await one.call("Dice")).value).toBe(value);
  expect((await other.call("Dice")).value).not.toBe(value);
  expect((await free.call("Dice")).value).not.toBe(value);
  for (const side of [free, one, other]) side.close();
});
