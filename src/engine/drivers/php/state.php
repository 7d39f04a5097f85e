<?php

declare(strict_types=1);

namespace SideTwin;

/** State that outlives a call: static variables of functions, static properties of classes, global variables. */
final class State
{
    /** Functions of PHP that change what no comparison of values shows, or end the process. */
    private const UNSEEN = '/\\b(ini_set|ini_alter|set_include_path|setlocale|date_default_timezone_set|define|putenv|set_error_handler|set_exception_handler|'
        . 'restore_error_handler|register_shutdown_function|spl_autoload_register|class_alias|error_reporting|chdir|umask|mb_internal_encoding|mb_substitute_character|'
        . 'bcscale|libxml_\\w+|stream_wrapper_\\w+|header|headers_sent|http_response_code|session_\\w+|ob_\\w+|exit|die|eval|include|include_once|require|require_once|'
        . 'gc_\\w+|error_clear_last|trigger_error|mb_language|mb_detect_order|mb_regex_\\w+|mb_http_\\w+|iconv_set_encoding|gmp_random_seed|setDefault|assert_options|srand|mt_srand|pcntl_\\w+|set_time_limit|ignore_user_abort|apcu_\\w+|opcache_\\w+|Closure::bind|curl_\\w+|fopen|mysqli\\w*|PDO)\\b/i';

    private ?int $files = null;
    private bool $isSeen = false;
    /** @var list<\ReflectionFunctionAbstract> functions with static variables */
    private array $functions = [];
    /** @var list<\ReflectionClass> classes with static properties */
    private array $classes = [];
    private bool $mentionsGlobals = false;
    /** @var array<string, true> */
    private array $ownGlobals;

    public function __construct()
    {
        $this->ownGlobals = array_fill_keys(array_keys($GLOBALS), true);
    }

    /** Whether all that the loaded files of the side may change can be compared. Looked at again when files were loaded. */
    public function isSeen(string $root): bool
    {
        $files = get_included_files();
        if ($this->files === count($files)) {
            return $this->isSeen;
        }
        $this->files = count($files);
        $own = array_filter($files, fn ($file) => str_starts_with($file, $root . '/'));
        $this->isSeen = true;
        $this->mentionsGlobals = false;
        foreach ($own as $file) {
            [$code, $top] = self::codeOf((string) file_get_contents($file));
            // Superglobals are not compared.
            $this->isSeen = $this->isSeen && !preg_match(self::UNSEEN, $code) && !preg_match('/\$_[A-Z]/', $code);
            $this->mentionsGlobals = $this->mentionsGlobals || $top || preg_match('/\bglobal\b|\$GLOBALS/', $code);
        }
        $this->findHolders($own);
        try {
            $this->take();
        } catch (\Throwable) {
            $this->isSeen = false;
        }
        return $this->isSeen;
    }

    /** @return array{string, bool} the code without comments and string literals, and whether there are top-level variables */
    private static function codeOf(string $text): array
    {
        $code = '';
        $depth = 0;
        $top = false;
        $isRest = true;
        foreach (token_get_all($text) as $token) {
            [$kind, $part] = is_array($token) ? $token : [null, $token];
            if (in_array($kind, [T_COMMENT, T_DOC_COMMENT, T_CONSTANT_ENCAPSED_STRING, T_INLINE_HTML], true)) {
                continue;
            }
            $depth += $part === '{' || $kind === T_CURLY_OPEN ? 1 : ($part === '}' ? -1 : 0);
            $top = $top || ($depth === 0 && $kind === T_VARIABLE && $isRest);
            // Parameters are outside the braces too.
            $isRest = $depth === 0 && ($kind === T_FUNCTION ? false : ($part === '{' || $part === ';' || $part === '}' ? true : $isRest));
            $code .= $part;
        }
        return [$code, $top];
    }

    private function findHolders(array $own): void
    {
        $isOwn = fn ($one) => in_array($one->getFileName(), $own, true);
        $functions = array_map(fn ($name) => new \ReflectionFunction($name), get_defined_functions()['user']);
        $classes = array_filter(array_map(fn ($name) => new \ReflectionClass($name), get_declared_classes()), $isOwn);
        $methods = array_merge([], ...array_values(array_map(fn ($one) => $one->getMethods(), $classes)));
        $this->functions = array_values(array_filter([...$functions, ...$methods], fn ($one) => $isOwn($one) && $one->getStaticVariables() !== []));
        $this->classes = array_values(array_filter($classes, fn ($one) => $one->getStaticProperties() !== []));
    }

    /** A text that is the same while nothing changed. */
    public function take(): string
    {
        if ($this->functions === [] && $this->classes === [] && !$this->mentionsGlobals) {
            return (string) count(get_included_files());
        }
        $held = [
            count(get_included_files()),
            array_map(fn ($one) => $one->getStaticVariables(), $this->functions),
            array_map(fn ($one) => $one->getStaticProperties(), $this->classes),
            $this->mentionsGlobals ? array_diff_key($GLOBALS, $this->ownGlobals) : [],
        ];
        return serialize($held);
    }
}
