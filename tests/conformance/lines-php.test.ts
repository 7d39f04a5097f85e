import { runsLines } from "./lines";

const SOURCE = `<?php
declare(strict_types=1);

namespace Tide;

function more(int $n): int
{
    return $n * 10; // all one two
}

function choose(int $n): int
{
    $extra = 0; // all one two
    if ($n === 1) // all one two
        return more($n); // all one
    elseif ($n === 3) {
        $found = 1; // all
    } else
        $found = 2; // all two
    switch ($n) { // all two
        case 2:
            for ($at = 0; $at < 2; $at++) $extra++; // all two
            break; // all two
        default:
            $extra = 5; // all
    }
    return more($found) + $extra; // all two
}
`;

runsLines("php", "choose.php", SOURCE);
