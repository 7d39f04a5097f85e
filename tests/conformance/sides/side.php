<?php

namespace Pier;

class NegativeError extends \Exception {}
class NoRoomError extends \Exception {}

class Boat
{
    public function __construct(public string $name, public int $metres) {}
}

class Quay
{
    public function __construct(private int $room) {}

    public function moor(Boat $boat): int
    {
        if ($boat->metres > $this->room) {
            throw new NoRoomError('no room');
        }
        return $this->room -= $boat->metres;
    }

    public function larger(Quay $other): bool
    {
        return $this->room > $other->room;
    }
}

function twice(int $number): int { return $number * 2; }
function half(float $number): float { return $number / 2; }
function join(array $words, string $separator): string { return implode($separator, $words); }
function is_even(int $number): bool { return $number % 2 === 0; }
function count(array $words): array { $counts = array_count_values($words); ksort($counts); return $counts; }
function distinct(array $words): array { return array_values(array_unique($words)); }

function longest(array $boats): Boat|array|null
{
    $best = null;
    foreach ($boats as $boat) {
        $metres = is_array($boat) ? $boat['metres'] : $boat->metres;
        if ($best === null || $metres > (is_array($best) ? $best['metres'] : $best->metres)) {
            $best = $boat;
        }
    }
    return $best;
}

function fill(array &$numbers, int $value): void { $numbers = array_fill(0, \count($numbers), $value); }
function greet(string $name): void { echo "hello $name\n"; }

function refuse(int $number): int
{
    if ($number < 0) {
        throw new NegativeError('negative');
    }
    return $number;
}

function big(): int { return PHP_INT_MAX; }
function odd_number(int $which): float { return [NAN, INF, -0.0][$which]; }
function reversed_bytes(string $data): string { return strrev($data); }
function next_day(\DateTimeImmutable $day): \DateTimeImmutable { return $day->modify('+1 day'); }
function tick(): int { static $ticks = 0; return ++$ticks; }
function nested(mixed $value): mixed { return $value; }
