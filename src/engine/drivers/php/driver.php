<?php

declare(strict_types=1);

/**
 * Side Twin's driver for PHP: runs sections of ported code and answers in JSON Lines (docs/formats.md, section 7).
 *
 * Requests come in on file descriptor 3, replies leave on 4; what ported code prints is caught. Files are loaded once; each case runs in
 * this process where all that it may change can be seen, which then ends after one that did, else in a child of its own where
 * processes can be forked, so that no case meets what another left. Needs PHP 8.1 or later and no extension
 * beside those that are always there.
 */

namespace SideTwin;

require __DIR__ . '/notation.php';
require __DIR__ . '/lines.php';
require __DIR__ . '/state.php';

if (isset($argv[1])) {
    Lines::start($argv[1]);
}

final class Missing extends \Exception {}
final class WouldNotLoad extends \Exception {}

final class Driver
{
    private $requests;
    private $replies;
    private ?string $secret = null;
    private int $outputLimit = 8192 * 1024;
    private string $root = '.';
    /** File → what it defines: functions and classes by their full names; or why it would not load. */
    private array $loaded = [];
    /** The request that a child answers; null once it has. */
    private ?int $due = null;
    /** The lines that the last case ran, by file. */
    private ?array $ran = null;
    private State $state;
    /** The state before the running case. */
    private ?string $before = null;
    /** Whether an end of the process is watched for. */
    private bool $isGuarded = false;

    public function __construct()
    {
        $this->state = new State();
        $this->requests = fopen('php://fd/3', 'r');
        $this->replies = fopen('php://fd/4', 'w');
    }

    public function serve(): void
    {
        while (($line = fgets($this->requests)) !== false) {
            $request = json_decode($line, true, 512, JSON_BIGINT_AS_STRING);
            if ($request['op'] === 'bye') {
                break;
            }
            if ($request['op'] === 'call' || $request['op'] === 'steps') {
                $this->answerCase($request);
            } else {
                $this->reply($request['id'], $this->guarded(fn () => $this->operate($request)));
            }
        }
    }

    private function operate(array $request): array
    {
        switch ($request['op']) {
            case 'hello':
                $this->root = realpath($request['root'] ?? '.') ?: '.';
                $this->secret = $request['secret'] ?? null;
                if (isset($request['outputKb'])) {
                    $this->outputLimit = $request['outputKb'] * 1024;
                }
                $paths = array_map(fn ($path) => $this->root . '/' . $path, $request['path'] ?? ['.']);
                set_include_path(implode(PATH_SEPARATOR, [...$paths, get_include_path()]));
                if (!empty($request['scratch'])) {
                    chdir($request['scratch']);
                }
                return ['bridge' => 1, 'language' => 'php', 'version' => PHP_VERSION];
            case 'reset':
                return [];
            case 'load':
                $names = [];
                foreach ($this->load($request['file'])['functions'] as $name) {
                    $function = new \ReflectionFunction($name);
                    $params = array_map(fn ($param) => $param->getName(), $function->getParameters());
                    $names[] = ['name' => $function->getShortName(), 'kind' => 'function', 'params' => $params];
                }
                return ['names' => $names];
        }
        return ['error' => "unknown op {$request['op']}; known: hello, load, call, steps, reset"];
    }

    // -- cases ------------------------------------------------------------------------------------------------

    private function answerCase(array $request): void
    {
        $problem = $this->guarded(function () use ($request) {
            foreach (self::filesOf($request) as $file) {
                $this->load($file);
            }
            return [];
        });
        if ($problem !== []) {
            $this->reply($request['id'], $problem);
            return;
        }
        if (($request['state'] ?? '') !== 'kept' && $this->state->isSeen($this->root)) {
            $this->answerHere($request);
            return;
        }
        if (!function_exists('pcntl_fork') || ($request['state'] ?? '') === 'kept') {
            $this->reply($request['id'], $this->runCase($request));
            return;
        }
        $child = pcntl_fork();
        if ($child === 0) {
            $this->due = $request['id'];
            $this->answerAtTheEnd();
            $reply = $this->runCase($request);
            $this->reply($request['id'], $reply);
            $this->due = null;
            exit(0);
        }
        pcntl_waitpid($child, $status);
        if (pcntl_wifsignaled($status)) {
            $this->reply($request['id'], self::broken('crashed', 'it was ended by signal ' . pcntl_wtermsig($status)));
        }
    }

    /** Answers in this process, which ends where the case changed what the next would meet. */
    private function answerHere(array $request): void
    {
        $this->answerAtTheEnd();
        $this->before ??= $this->state->take();
        $this->due = $request['id'];
        $reply = $this->runCase($request);
        $this->due = null;
        if (isset($request['seed'])) {
            mt_srand();
        }
        if (isset($request['now'])) {
            self::fixClock(null);
        }
        $after = $this->state->take();
        $isLast = $after !== $this->before;
        $this->before = $after;
        $this->reply($request['id'], $reply, $isLast);
        if ($isLast) {
            exit(0);
        }
    }

    /** Runs at the end of the process: a case that ended it still gets its answer. */
    private function answerAtTheEnd(): void
    {
        if ($this->isGuarded) {
            return;
        }
        $this->isGuarded = true;
        register_shutdown_function(function () {
            if ($this->due === null) {
                return;
            }
            $last = error_get_last();
            while (ob_get_level() > 0) {
                ob_end_clean();
            }
            $isMemory = str_contains($last['message'] ?? '', 'memory');
            $this->reply($this->due, $isMemory
                ? self::broken('over-limit', 'it ran out of memory')
                : self::broken('ended', 'it ended the process'), true);
            $this->due = null;
        });
    }

    private function runCase(array $request): array
    {
        if (isset($request['seed'])) {
            mt_srand($request['seed']);
        }
        if (isset($request['now'])) {
            if (getenv('SIDE_TWIN_CLOCK') === false) {
                return self::broken('would-not-load', 'the clock of PHP code cannot be fixed here: that needs Linux and a C compiler');
            }
            self::fixClock($request['now']);
        }
        Lines::forget();
        ob_start();
        $reply = $this->guarded(fn () => $request['op'] === 'call' ? $this->call($request) : $this->steps($request));
        $printed = '';
        while (ob_get_level() > 0) {
            $printed = ob_get_clean() . $printed;
        }
        $this->ran = Lines::take();
        if (strlen($printed) > $this->outputLimit) {
            return self::broken('over-limit', 'it printed more than ' . intdiv($this->outputLimit, 1024) . ' KB');
        }
        if (!isset($reply['broken']) && !isset($reply['missing'])) {
            $reply['printed'] = utf8($printed);
        }
        return $reply;
    }

    /** Fixes the clock, which c/fixed_run.c reads from the environment; null lets it go. */
    private static function fixClock(?string $now): void
    {
        putenv($now === null ? 'SIDE_TWIN_NOW' : "SIDE_TWIN_NOW=$now");
        $_SERVER['REQUEST_TIME_FLOAT'] = microtime(true);
        $_SERVER['REQUEST_TIME'] = time();
    }

    private function guarded(callable $work): array
    {
        try {
            return $work();
        } catch (Missing $missing) {
            return ['missing' => $missing->getMessage()];
        } catch (WouldNotLoad | Misfit $error) {
            return self::broken('would-not-load', $error->getMessage());
        } catch (\Throwable $error) {
            return ['error' => get_class($error) . ': ' . $error->getMessage()];
        }
    }

    private static function broken(string $why, string $what): array
    {
        return ['broken' => ['why' => $why, 'what' => $what, 'lastOutput' => '']];
    }

    private static function filesOf(array $request): array
    {
        return $request['files'] ?? [$request['file']];
    }

    // -- loading ----------------------------------------------------------------------------------------------

    private function load(string $file): array
    {
        $known = $this->loaded[$file] ?? null;
        if ($known instanceof WouldNotLoad) {
            throw $known;
        }
        if ($known !== null) {
            return $known;
        }
        $full = realpath($this->root . '/' . $file);
        if ($full === false) {
            throw new Missing($file);
        }
        ob_start();
        try {
            ProbedFiles::within(static function () use ($full) {
                require_once $full;
            });
        } catch (\Throwable $error) {
            $this->loaded[$file] = new WouldNotLoad(get_class($error) . ': ' . $error->getMessage());
            throw $this->loaded[$file];
        } finally {
            ob_end_clean();
        }
        $functions = array_filter(
            get_defined_functions()['user'],
            fn ($name) => (new \ReflectionFunction($name))->getFileName() === $full,
        );
        $classes = array_filter(get_declared_classes(), fn ($name) => (new \ReflectionClass($name))->getFileName() === $full);
        return $this->loaded[$file] = ['functions' => array_values($functions), 'classes' => array_values($classes)];
    }

    public static function short(string $name): string
    {
        $at = strrpos($name, '\\');
        return $at === false ? $name : substr($name, $at + 1);
    }

    // -- calls ------------------------------------------------------------------------------------------------

    private function notation(array $request, array &$objects): Notation
    {
        $classes = [];
        foreach (self::filesOf($request) as $file) {
            array_push($classes, ...$this->load($file)['classes']);
        }
        return new Notation($classes, $objects);
    }

    private function call(array $request): array
    {
        $objects = [];
        $function = $this->find(self::filesOf($request), $request['names'] ?? [$request['name']]);
        return $this->invoke($function, null, $request, $this->notation($request, $objects))[0];
    }

    private function find(array $files, array $names): \ReflectionFunctionAbstract
    {
        foreach ($names as $name) {
            foreach ($files as $file) {
                $found = $this->functionIn($this->load($file), $name, $file);
                if ($found !== null) {
                    return $found;
                }
            }
        }
        throw new Missing($names[0]);
    }

    /** At the file's top level, else in the class named like the file, else in any of its classes. */
    private function functionIn(array $loaded, string $name, string $file): ?\ReflectionFunctionAbstract
    {
        $at = strrpos($name, '.');
        $last = $at === false ? $name : substr($name, $at + 1);
        $owner = $at === false ? null : substr($name, 0, $at);
        if ($owner === null) {
            foreach ($loaded['functions'] as $own) {
                if (strcasecmp(self::short($own), $last) === 0) {
                    return new \ReflectionFunction($own);
                }
            }
        }
        $stem = strtolower(str_replace('_', '', basename($file, '.php')));
        $classes = $loaded['classes'];
        usort($classes, fn ($left, $right) => (strtolower(self::short($right)) === $stem) <=> (strtolower(self::short($left)) === $stem));
        foreach ($classes as $class) {
            if (($owner === null || self::short($class) === self::short($owner)) && method_exists($class, $last)) {
                $method = new \ReflectionMethod($class, $last);
                if ($method->isStatic()) {
                    return $method;
                }
            }
        }
        return null;
    }

    /** The reply, and the value that was answered. */
    private function invoke(\ReflectionFunctionAbstract $function, ?object $target, array $given, Notation $coder, ?\ReflectionClass $made = null): array
    {
        $raws = $given['args'] ?? [];
        $named = $given['kwargs'] ?? [];
        $params = $function->getParameters();
        $most = $function->isVariadic() ? PHP_INT_MAX : count($params);
        if (count($raws) > $most || count($raws) + count($named) < $function->getNumberOfRequiredParameters()) {
            $least = $function->getNumberOfRequiredParameters();
            throw new Misfit("{$function->getShortName()} takes " . ($least === $most ? $least : "$least or more") . ' arguments, not ' . count($raws));
        }
        $values = [];
        foreach ($raws as $at => $raw) {
            $values[$at] = $coder->fit($raw, $params[min($at, count($params) - 1)], $function->getShortName());
        }
        foreach ($named as $name => $raw) {
            $values[$name] = $coder->decode($raw);
        }
        $handed = [];
        foreach ($values as $at => $_value) {
            // By reference, so that a parameter that is one is seen after the call.
            $handed[$at] = &$values[$at];
        }
        $reply = [];
        $value = null;
        $since = hrtime(true);
        try {
            if ($made !== null) {
                $value = $made->newInstanceArgs($handed);
            } elseif ($function instanceof \ReflectionMethod) {
                $function->setAccessible(true);
                $value = $function->invokeArgs($target, $handed);
            } else {
                $value = $function->invokeArgs($handed);
            }
            if ($value instanceof \Traversable && !$value instanceof \Countable) {
                $value = Notation::items($value);
            }
            $reply['ms'] = round((hrtime(true) - $since) / 1e6, 4);
            $reply['value'] = Notation::encode($value);
        } catch (Misfit $misfit) {
            throw $misfit;
        } catch (\Throwable $error) {
            $reply['ms'] = round((hrtime(true) - $since) / 1e6, 4);
            $reply['thrown'] = ['kind' => self::short(get_class($error)), 'message' => utf8($error->getMessage()), 'trace' => utf8($error->getTraceAsString())];
        }
        $after = [];
        foreach ($raws as $at => $raw) {
            $after[] = Notation::isHandle($raw) ? $raw : Notation::encode($values[$at]);
        }
        $reply['args'] = $after;
        if ($named !== []) {
            $reply['kwargs'] = (object) array_map(fn ($name) => Notation::encode($values[$name]), array_combine(array_keys($named), array_keys($named)));
        }
        return [$reply, $value];
    }

    // -- steps ------------------------------------------------------------------------------------------------

    private function steps(array $request): array
    {
        $objects = [];
        $coder = $this->notation($request, $objects);
        $results = [];
        foreach ($request['steps'] as $step) {
            [$result, $value] = $this->step($request, $step, $objects, $coder);
            unset($result['ms']);
            if (isset($step['as']) && array_key_exists('value', $result)) {
                $objects[$step['as']] = $value;
            }
            $results[] = $result;
        }
        return ['steps' => $results];
    }

    private function step(array $request, array $step, array $objects, Notation $coder): array
    {
        $files = self::filesOf($request);
        $target = null;
        if (isset($step['on'])) {
            if (!array_key_exists($step['on'], $objects)) {
                throw new Missing($step['on']);
            }
            $target = $objects[$step['on']];
            if (!is_object($target)) {
                throw new WouldNotLoad("\"{$step['on']}\" is no object");
            }
        }
        if (isset($step['new'])) {
            return $this->make($files, $step, $coder);
        }
        if (isset($step['call'])) {
            if ($target === null) {
                return $this->invoke($this->find($files, $step['call']), null, $step, $coder);
            }
            foreach ($step['call'] as $name) {
                if (method_exists($target, $name)) {
                    return $this->invoke(new \ReflectionMethod($target, $name), $target, $step, $coder);
                }
            }
            throw new Missing($step['call'][0]);
        }
        foreach ($step['get'] ?? $step['set'] as $name) {
            $property = self::propertyOf($target, $name);
            if ($property !== null && isset($step['set'])) {
                $property->setValue($target, $coder->decode($step['value']));
                return [['value' => null], null];
            }
            if ($property !== null) {
                $value = $property->getValue($target);
                return [['value' => Notation::encode($value)], $value];
            }
            $capital = ucfirst($name);
            $accessors = isset($step['set']) ? ["set$capital"] : [$name, "get$capital", "is$capital"];
            foreach ($accessors as $accessor) {
                if (method_exists($target, $accessor)) {
                    $given = isset($step['set']) ? ['args' => [$step['value']]] : [];
                    [$reply, $value] = $this->invoke(new \ReflectionMethod($target, $accessor), $target, $given, $coder);
                    unset($reply['args']);
                    return [$reply, $value];
                }
            }
        }
        throw new Missing(($step['get'] ?? $step['set'])[0]);
    }

    private static function propertyOf(object $target, string $name): ?\ReflectionProperty
    {
        for ($class = new \ReflectionClass($target); $class; $class = $class->getParentClass()) {
            if ($class->hasProperty($name)) {
                $property = $class->getProperty($name);
                $property->setAccessible(true);
                return $property;
            }
        }
        return null;
    }

    private function make(array $files, array $step, Notation $coder): array
    {
        foreach ($step['new'] as $name) {
            foreach ($files as $file) {
                foreach ($this->load($file)['classes'] as $class) {
                    if (self::short($class) !== self::short(str_replace('.', '\\', $name))) {
                        continue;
                    }
                    $made = new \ReflectionClass($class);
                    if ($made->isAbstract()) {
                        throw new WouldNotLoad("$name is abstract: name a class that can be made");
                    }
                    $maker = $made->getConstructor();
                    if ($maker === null) {
                        return [['value' => ['~obj' => 'new', 'fields' => new \stdClass()], 'args' => []], $made->newInstance()];
                    }
                    [$reply, $value] = $this->invoke($maker, null, $step, $coder, $made);
                    if (array_key_exists('value', $reply)) {
                        $reply['value'] = ['~obj' => 'new', 'fields' => new \stdClass()];
                    }
                    return [$reply, $value];
                }
            }
        }
        throw new Missing($step['new'][0]);
    }

    // -- the pipe ---------------------------------------------------------------------------------------------

    private function reply(int $id, array $reply, bool $isLast = false): void
    {
        $head = ['id' => $id];
        if ($this->secret !== null) {
            $head['tag'] = substr(hash('sha512', $this->secret . ':' . ($id >> 4)), ($id & 15) * 8, 8);
        }
        if ($isLast) {
            $head['last'] = true;
        }
        if (isset($reply['ms'])) {
            $head['ms'] = $reply['ms'];
            unset($reply['ms']);
        }
        if (isset($this->ran)) {
            $head['lines'] = (object) $this->ran;
            $this->ran = null;
        }
        $flags = JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION;
        $text = json_encode($head + $reply, $flags);
        if ($text === false) {
            $text = json_encode($head + ['error' => 'the answer cannot be written down: ' . json_last_error_msg()], $flags);
        }
        fwrite($this->replies, $text . "\n");
        fflush($this->replies);
    }
}

(new Driver())->serve();
