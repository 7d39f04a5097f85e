<?php

declare(strict_types=1);

namespace SideTwin;

/** Called by each statement of a probed copy: marks it as reached. */
function hit(int $number): void
{
    Lines::$hits[$number] = true;
}

/** Which lines a case ran, by the probes in the copies of the sources. */
final class Lines
{
    /** @var array<int, true> */
    public static array $hits = [];
    /** @var list<array{string, int}> file and line of each probe */
    private static array $probes = [];

    /** Reads the probe table; from now on copies are loaded in place of the files. */
    public static function start(string $index): void
    {
        $known = json_decode(file_get_contents($index), true);
        self::$probes = $known['probes'];
        ProbedFiles::$copies = $known['copies'];
    }

    public static function forget(): void
    {
        self::$hits = [];
    }

    /** @return array<string, list<int>>|null what ran since the last time; null where there are no probes */
    public static function take(): ?array
    {
        if (self::$probes === []) {
            return null;
        }
        $lines = [];
        foreach (array_keys(self::$hits) as $number) {
            [$file, $line] = self::$probes[$number];
            $lines[$file][$line] = true;
        }
        self::$hits = [];
        ksort($lines);
        foreach ($lines as $file => $own) {
            ksort($own);
            $lines[$file] = array_keys($own);
        }
        return $lines;
    }
}

/** Files as they are, but for those of which there is a copy: it is loaded under the name of the original. */
final class ProbedFiles
{
    /** @var array<string, string> */
    public static array $copies = [];
    /** @var resource|null */
    public $context;
    /** @var resource */
    private $handle;

    /** Calls while the copies are loaded. */
    public static function within(callable $work): void
    {
        if (self::$copies === []) {
            $work();
            return;
        }
        self::on();
        try {
            $work();
        } finally {
            self::off();
        }
    }

    private static function on(): void
    {
        stream_wrapper_unregister('file');
        stream_wrapper_register('file', self::class);
    }

    private static function off(): void
    {
        stream_wrapper_restore('file');
    }

    private static function plainly(callable $work): mixed
    {
        self::off();
        try {
            return $work();
        } finally {
            self::on();
        }
    }

    public function stream_open(string $path, string $mode, int $options, ?string &$opened): bool
    {
        $real = realpath($path);
        $target = ($mode === 'rb' || $mode === 'r') && $real !== false ? self::$copies[$real] ?? $path : $path;
        $this->handle = self::plainly(fn () => @fopen($target, $mode));
        $opened = $path;
        return $this->handle !== false;
    }

    public function stream_read(int $count): string|false
    {
        return fread($this->handle, $count);
    }

    public function stream_write(string $data): int|false
    {
        return fwrite($this->handle, $data);
    }

    public function stream_eof(): bool
    {
        return feof($this->handle);
    }

    public function stream_close(): void
    {
        fclose($this->handle);
    }

    public function stream_flush(): bool
    {
        return fflush($this->handle);
    }

    public function stream_stat(): array|false
    {
        return fstat($this->handle);
    }

    public function stream_seek(int $offset, int $whence): bool
    {
        return fseek($this->handle, $offset, $whence) === 0;
    }

    public function stream_tell(): int|false
    {
        return ftell($this->handle);
    }

    public function stream_lock(int $operation): bool
    {
        return $operation === 0 || flock($this->handle, $operation);
    }

    public function stream_truncate(int $size): bool
    {
        return ftruncate($this->handle, $size);
    }

    public function stream_set_option(int $option, int $first, ?int $second): bool
    {
        return false;
    }

    public function url_stat(string $path, int $flags): array|false
    {
        return self::plainly(fn () => $flags & STREAM_URL_STAT_LINK ? @lstat($path) : @stat($path));
    }

    public function unlink(string $path): bool
    {
        return self::plainly(fn () => unlink($path));
    }

    public function rename(string $from, string $to): bool
    {
        return self::plainly(fn () => rename($from, $to));
    }

    public function mkdir(string $path, int $mode, int $options): bool
    {
        return self::plainly(fn () => mkdir($path, $mode, (bool) ($options & STREAM_MKDIR_RECURSIVE)));
    }

    public function rmdir(string $path): bool
    {
        return self::plainly(fn () => rmdir($path));
    }

    public function dir_opendir(string $path): bool
    {
        $this->handle = self::plainly(fn () => opendir($path));
        return $this->handle !== false;
    }

    public function dir_readdir(): string|false
    {
        return readdir($this->handle);
    }

    public function dir_rewinddir(): bool
    {
        rewinddir($this->handle);
        return true;
    }

    public function dir_closedir(): bool
    {
        closedir($this->handle);
        return true;
    }
}
