<?php

namespace SideTwin;

/** Called by each statement of a program's probed copy: writes a byte at the probe's offset the first time. */
function hit(int $probe): void
{
    static $seen = [];
    static $file = null;
    if (isset($seen[$probe])) {
        return;
    }
    $seen[$probe] = true;
    $file ??= @fopen((string) getenv('SIDE_TWIN_PROBES'), 'c');
    if ($file !== false) {
        fseek($file, $probe);
        fwrite($file, "\1");
    }
}
