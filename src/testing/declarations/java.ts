import type { Declarations } from "@/testing/declarations/declarations";

export const java: Declarations = {
  language: "java",
  source: `package harbour.fares;
import java.util.*;
import java.util.function.Function;
import static java.lang.Math.sqrt;
import static harbour.money.Coins.*;
/** Doc */
@Deprecated
public abstract class Fare<T extends Comparable<T>> extends Base implements Priced {
    public static final int LIMIT = 3, OTHER = 4;
    private final Map<String, List<Integer>> seen = new HashMap<>();
    static { System.out.println("x"); }
    public Fare(int max) { this.max = max; }
    @Override public int price(final int n, String... rest) throws Exception {
        if (n > 0 && n < 9 || n == 11) return (int) sqrt(n);
        for (String r : rest) { if (r == null) continue; }
        do { n--; } while (n > 0);
        try { Files.readString(null); } catch (IOException | RuntimeException e) { throw e; } finally { }
        Function<Integer, Integer> f = x -> x > 1 ? x : 2;
        Runnable r = new Runnable() { public void run() { } };
        switch (n) { case 1: case 2: return 1; default: }
        return switch (n) { case 1, 2 -> 1; case 3 -> { yield 2; } default -> java.time.LocalDate.now().getYear(); };
    }
    abstract void later();
    <U> U generic(U u) { return u; }
    enum Tier { LOW(1) { int v() { return 1; } }, HIGH(2); Tier(int x) { } int v() { return 2; } }
    record Point(int x, int y) { Point { if (x < 0) throw new IllegalArgumentException(); } double dist() { return sqrt(x); } }
    interface Deep { default int d() { return 1; } int LIM = 2; }
    @interface Marks { int value() default 1; }
}
class Second { int go() { return 0; } }
`,
  sections: [
    "class Fare 7-29 () 16",
    "constant Fare.LIMIT 9-9 () 1",
    "constant Fare.OTHER 9-9 () 1",
    "method Fare.Fare 12-12 (max) 1",
    "method Fare.price 13-22 (n, rest) 15",
    "method Fare.later 23-23 () 1",
    "method Fare.generic 24-24 (u) 1",
    "class Fare.Tier 25-25 () 1",
    "method Fare.Tier.Tier 25-25 (x) 1",
    "method Fare.Tier.v 25-25 () 1",
    "class Fare.Point 26-26 () 2",
    "method Fare.Point.Point 26-26 () 2",
    "method Fare.Point.dist 26-26 () 2",
    "class Fare.Deep 27-27 () 1",
    "method Fare.Deep.d 27-27 () 1",
    "constant Fare.Deep.LIM 27-27 () 1",
    "class Fare.Marks 28-28 () 1",
    "class Second 30-30 () 1",
    "method Second.go 30-30 () 1",
  ],
  imports: [
    "2 java.util [*]",
    "3 java.util.function [Function] Function=java.util.function Function",
    "4 java.lang.Math [sqrt] sqrt=java.lang.Math sqrt",
    "5 harbour.money.Coins [*]",
  ],
  uses: [
    "10 Integer",
    "11 System.out.println",
    "14 sqrt",
    "18 Function",
    "18 Integer",
    "18 Integer",
    "19 Runnable",
    "19 Runnable",
    "26 sqrt",
  ],
};
