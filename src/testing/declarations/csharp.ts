import type { Declarations } from "@/testing/declarations/declarations";

export const csharp: Declarations = {
  language: "csharp",
  source: `using System;
using System.Collections.Generic;
using static System.Math;
using Json = System.Text.Json.JsonSerializer;
global using System.Linq;
namespace Harbour.Fares;
public delegate int Rate(int n);
public enum Tier { Low, High }
public record Coin(int Amount, string Unit = "c") { public int Twice => Amount * 2; }
public record struct Pt(int X);
public interface IFare { int Of(int n); string Name { get; } }
public static class Ext { public static int Add(this int a, int b) => a + b; }
public partial class Fare<T> : IFare where T : class {
    public const int Limit = 3;
    private static readonly Dictionary<string, int> Seen = new();
    public Fare(int max) : base() { Max = max; }
    ~Fare() { }
    public int Max { get; set; }
    public int this[int i] => i;
    public string Name { get { return Max > 1 ? "a" : "b"; } }
    public int Of(int n) {
        if (n > 0 && n < 9 || n == 11) return (int)Sqrt(n);
        foreach (var x in new[] { 1 }) { if (x == 1) continue; }
        try { Json.Serialize(n); } catch (Exception e) when (e.Message == "") { throw; }
        int Local(int q) => q switch { 1 => 2, _ => 3 };
        return n switch { 1 => Local(1), > 5 and < 7 => 2, _ => Console.Read() };
    }
    public static Fare<T> operator +(Fare<T> a, Fare<T> b) => a;
    class Inner { void Deep() { while (true) { } } }
    public event EventHandler Changed;
    async System.Threading.Tasks.Task<int> Later(params int[] xs) { await System.Threading.Tasks.Task.Delay(1); return xs?.Length ?? 0; }
}
`,
  sections: [
    "class Tier 8-8 () 1",
    "class Coin 9-9 () 1",
    "method Coin.Twice 9-9 () 1",
    "class Pt 10-10 () 1",
    "class IFare 11-11 () 1",
    "method IFare.Of 11-11 (n) 1",
    "class Ext 12-12 () 1",
    "method Ext.Add 12-12 (a, b) 1",
    "class Fare 13-32 () 15",
    "constant Fare.Limit 14-14 () 1",
    "constant Fare.Seen 15-15 () 1",
    "method Fare.Fare 16-16 (max) 1",
    "method Fare.~Fare 17-17 () 1",
    "method Fare.this[] 19-19 (i) 1",
    "method Fare.Name 20-20 () 2",
    "method Fare.Of 21-27 (n) 12",
    "method Fare.operator + 28-28 (a, b) 1",
    "class Fare.Inner 29-29 () 2",
    "method Fare.Inner.Deep 29-29 () 2",
    "method Fare.Later 31-31 () 2",
  ],
  imports: [
    "1 System []",
    "2 System.Collections.Generic []",
    "3 System.Math []",
    "4 System.Text.Json.JsonSerializer [] Json=System.Text.Json.JsonSerializer",
    "5 System.Linq []",
  ],
  uses: ["24 Json.Serialize", "26 Console.Read"],
};
