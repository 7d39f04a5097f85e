import type { Declarations } from "@/testing/declarations/declarations";

export const php: Declarations = {
  language: "php",
  source: String.raw`<?php
declare(strict_types=1);
namespace Harbour\Fares;
use Harbour\Money\{Coin, Purse as Bag};
use function Harbour\Tides\height;
use const Harbour\Tides\LOW;
require_once __DIR__ . '/legacy.php';
include 'other.php';
const RATE = 3;
define('OLD', 1);
interface Fare { public function of(int $n): Coin; }
trait Counts { private int $seen = 0; protected function note(): void { $this->seen++; } }
enum Tier: string { case Low = 'l'; const X = 1; public static function of(string $s): self { return self::from($s); } }
abstract class Base implements Fare {
    use Counts;
    public const LIMIT = 9;
    public function __construct(private readonly Bag $bag, protected ?int $max = null) {}
    public function of(int $n, string ...$rest): Coin {
        if ($n > 0 && $n < 10) { return new Coin($n); }
        foreach ($rest as $one) { if (!$one) continue; }
        return match(true) { $n > 5 => Coin::zero(), default => height($n) ?? LOW };
    }
    abstract protected function name(): string;
}
function total(array $items, callable $f = null): int {
    $g = fn($x) => $x * RATE;
    $h = function ($y) use ($f) { return $f ? $f($y) : $y; };
    return array_sum(array_map($g, $items)) + \strlen(date('Y'));
}
if (!function_exists('helper')) { function helper($a) { return preg_match('/x/', $a); } }
$x = new class { public function inner() { return 1; } };
`,
  sections: [
    "constant RATE 9-9 () 1",
    "constant OLD 10-10 () 1",
    "class Fare 11-11 () 1",
    "method Fare.of 11-11 (n) 1",
    "class Counts 12-12 () 1",
    "method Counts.note 12-12 () 1",
    "class Tier 13-13 () 1",
    "constant Tier.X 13-13 () 1",
    "method Tier.of 13-13 (s) 1",
    "class Base 14-24 () 7",
    "constant Base.LIMIT 16-16 () 1",
    "method Base.__construct 17-17 (bag, max) 1",
    "method Base.of 18-22 (n, rest) 7",
    "method Base.name 23-23 () 1",
    "function total 25-29 (items, f) 2",
    "function helper 30-30 (a) 2",
  ],
  imports: [
    "4 Harbour\\Money [Coin] Coin=Harbour\\Money Coin",
    "4 Harbour\\Money [Purse] Bag=Harbour\\Money Purse",
    "5 Harbour\\Tides [height] height=Harbour\\Tides height",
    "6 Harbour\\Tides [LOW] LOW=Harbour\\Tides LOW",
    "7 ./legacy.php []",
    "8 other.php []",
  ],
  uses: ["11 Coin", "17 Bag", "18 Coin", "19 Coin", "21 Coin.zero", "21 height", "21 LOW", "28 date", "30 preg_match"],
};
