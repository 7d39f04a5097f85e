/** A fixed clock and seed in Java: the side's classes meet them in place of the platform's. */
import { afterAll, describe, expect, it } from "vitest";
import { startSide } from "./side";

const SOURCE = `package harbour;

import java.time.*;
import java.util.*;
import java.util.function.LongSupplier;

public class Tide {
    private static final long LOADED = System.currentTimeMillis();

    public static long millis() { return System.currentTimeMillis(); }
    public static long loaded() { return LOADED; }
    public static long byReference() { LongSupplier now = System::currentTimeMillis; return now.getAsLong(); }
    public static long instant() { return Instant.now().toEpochMilli(); }
    public static long clock() { return Clock.systemUTC().millis(); }
    public static String date() { return LocalDate.now(ZoneId.of("Asia/Tokyo")).toString(); }
    public static String dateTime() { return ZonedDateTime.now(ZoneOffset.UTC).toLocalDateTime().toString(); }
    public static int year() { return Year.now().getValue(); }
    public static long dated() { return new Date().getTime(); }
    public static long given() { return new Date(5L).getTime(); }
    public static long calendar() { return Calendar.getInstance().getTimeInMillis(); }
    public static long gregorian() { return new GregorianCalendar().getTimeInMillis(); }
    public static boolean elapsed() { long since = System.nanoTime(); return System.nanoTime() >= since; }
    public static double random() { return Math.random(); }
    public static int dice() { return new Random().nextInt(1000000); }
    public static int seeded() { return new Random(7).nextInt(1000000); }
    public static String id() { return UUID.randomUUID().toString(); }
    public static List<Integer> shuffled() {
        List<Integer> list = new ArrayList<>(List.of(1, 2, 3, 4, 5, 6, 7, 8, 9));
        Collections.shuffle(list);
        return list;
    }
}
`;
const FILES = { "harbour/Tide.java": SOURCE };
const AT = Date.UTC(2031, 3, 2, 20);

describe("a fixed clock", () => {
  const fixed = startSide("java", FILES, { port: { now: "2031-04-02T22:00:00+02:00" } });
  afterAll(async () => (await fixed).close());

  it.each([
    ["millis", AT],
    ["loaded", AT],
    ["byReference", AT],
    ["instant", AT],
    ["clock", AT],
    ["date", "2031-04-03"],
    ["dateTime", "2031-04-02T20:00"],
    ["year", 2031],
    ["dated", AT],
    ["given", 5],
    ["calendar", AT],
    ["gregorian", AT],
    ["elapsed", true],
  ])("is what %s tells", async (name, expected) => {
    expect(await (await fixed).call(name)).toMatchObject({ value: expected });
  });

  it("is the real one where none is asked for", async () => {
    const side = await startSide("java", FILES);
    for (const name of ["millis", "loaded", "dated", "calendar"])
      expect((await side.call(name)).value).toBeGreaterThan(1.7e12);
    side.close();
  });
});

it("random numbers are the same for a seed, and others without", async () => {
  const [one, other, free] = [
    await startSide("java", FILES, { port: { seed: 7 } }),
    await startSide("java", FILES, { port: { seed: 8 } }),
    await startSide("java", FILES),
  ];
  for (const name of ["random", "dice", "id", "shuffled"]) {
    const { value } = await one.call(name);
    expect((await one.call(name)).value).toEqual(value);
    expect((await other.call(name)).value).not.toEqual(value);
    expect((await free.call(name)).value).not.toEqual(value);
  }
  expect((await one.call("seeded")).value).toBe((await free.call("seeded")).value);
  expect((await one.call("id")).value).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  for (const side of [one, other, free]) side.close();
});
