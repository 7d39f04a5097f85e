<?php

declare(strict_types=1);

/** PHP values to and from Side Twin's value notation (docs/formats.md, sections 3, 17 and 20). */

namespace SideTwin;

/** A value that does not fit what is declared. */
final class Misfit extends \Exception {}

/** The extension for such things is not always there. */
function is_utf8(string $text): bool
{
    return preg_match('//u', $text) === 1;
}

/** Text as UTF-8; invalid bytes are replaced. */
function utf8(string $text): string
{
    if (is_utf8($text)) {
        return $text;
    }
    return htmlspecialchars_decode(htmlspecialchars($text, ENT_SUBSTITUTE | ENT_QUOTES, 'UTF-8'), ENT_QUOTES);
}

/** Text of UTF-16 units, which may be lone surrogates: those become question marks. */
function from_utf16(string $bytes): string
{
    $units = implode('', array_map(fn ($unit) => sprintf('\u%04x', $unit), unpack('v*', $bytes) ?: []));
    return json_decode('"' . $units . '"') ?? '?';
}

final class Notation
{
    private const SAFE = 2 ** 53 - 1;
    private const MAX_ITEMS = 10000;
    private const MAX_DEPTH = 150;

    /** `$classes` are those in which a class is looked for by its short name; `$objects` are those that steps have named. */
    public function __construct(private array $classes, private array &$objects) {}

    public static function isHandle(mixed $raw): bool
    {
        return is_array($raw) && count($raw) === 1 && isset($raw['~as']);
    }

    // -- to notation ------------------------------------------------------------------------------------------

    public static function encode(mixed $value, array $path = []): mixed
    {
        if ($value === null || is_bool($value)) {
            return $value;
        }
        if (is_int($value)) {
            return abs($value) <= self::SAFE && $value !== PHP_INT_MIN ? $value : ['~int' => (string) $value];
        }
        if (is_float($value)) {
            return self::floating($value);
        }
        if (is_string($value)) {
            return is_utf8($value) ? $value : ['~bytes' => base64_encode($value)];
        }
        if (count($path) > self::MAX_DEPTH) {
            return ['~opaque' => '<nested deeper than ' . self::MAX_DEPTH . '>'];
        }
        if (is_array($value)) {
            return self::fromArray($value, $path);
        }
        if (!is_object($value)) {
            return ['~opaque' => '<' . get_debug_type($value) . '>'];
        }
        $depth = array_search($value, $path, true);
        return $depth !== false ? ['~ref' => $depth] : self::fromObject($value, [...$path, $value]);
    }

    private static function floating(float $value): mixed
    {
        if (is_nan($value)) {
            return ['~num' => 'NaN'];
        }
        if (is_infinite($value)) {
            return ['~num' => $value > 0 ? 'Infinity' : '-Infinity'];
        }
        if ($value === 0.0 && fdiv(1, $value) < 0) {
            return ['~num' => '-0'];
        }
        return floor($value) === $value ? ['~float' => json_encode($value, JSON_PRESERVE_ZERO_FRACTION)] : $value;
    }

    private static function fromArray(array $value, array $path): mixed
    {
        if (array_is_list($value)) {
            return array_map(fn ($item) => self::encode($item, $path), $value);
        }
        $isPlain = true;
        foreach (array_keys($value) as $key) {
            $isPlain = $isPlain && is_string($key) && is_utf8($key);
        }
        if (!$isPlain) {
            $pairs = [];
            foreach ($value as $key => $item) {
                $pairs[] = [self::encode($key), self::encode($item, $path)];
            }
            return ['~map' => $pairs];
        }
        $fields = array_map(fn ($item) => self::encode($item, $path), $value);
        $isTagged = (count($fields) === 1 && str_starts_with((string) array_key_first($fields), '~')) || isset($fields['~obj']) || isset($fields['~list']);
        return $isTagged ? ['~esc' => (object) $fields] : (object) $fields;
    }

    private static function fromObject(object $value, array $path): mixed
    {
        if ($value instanceof \DateTimeInterface) {
            return ['~time' => $value->format((int) $value->format('u') === 0 ? 'Y-m-d\TH:i:sP' : 'Y-m-d\TH:i:s.uP')];
        }
        if ($value instanceof \UnitEnum) {
            return self::object($value, ['value' => self::encode($value instanceof \BackedEnum ? $value->value : $value->name)]);
        }
        if ($value instanceof \Closure) {
            return ['~opaque' => '<Closure>'];
        }
        if ($value instanceof \Throwable) {
            return self::object($value, ['message' => utf8($value->getMessage())]);
        }
        if ($value instanceof \ArrayObject || $value instanceof \Generator || $value instanceof \Iterator) {
            return self::encode(self::items($value), $path);
        }
        if ($value instanceof \stdClass) {
            return (object) array_map(fn ($item) => self::encode($item, $path), get_object_vars($value));
        }
        $fields = [];
        foreach ((array) $value as $key => $item) {
            // Private and protected ones carry their owner before the name.
            $at = strrpos((string) $key, "\0");
            $fields[$at === false ? (string) $key : substr((string) $key, $at + 1)] = self::encode($item, $path);
        }
        return self::object($value, $fields);
    }

    private static function object(object $value, array $fields): array
    {
        return ['~obj' => Driver::short(get_class($value)), 'fields' => (object) $fields];
    }

    /** The items of an iterator, at most MAX_ITEMS; keys that are not numbers in order are kept. */
    public static function items(\Traversable $iterator): array
    {
        $items = [];
        foreach ($iterator as $key => $item) {
            if (is_string($key)) {
                $items[$key] = $item;
            } else {
                $items[] = $item;
            }
            if (count($items) >= self::MAX_ITEMS) {
                break;
            }
        }
        return $items;
    }

    // -- from notation ----------------------------------------------------------------------------------------

    /** The value as a parameter wants it. */
    public function fit(mixed $raw, \ReflectionParameter $param, string $function): mixed
    {
        $value = $this->decode($raw, self::namesOf($param->getType()));
        if (self::accepts($param->getType(), $value)) {
            return $value;
        }
        $shown = json_encode($raw);
        throw new Misfit("the argument {$param->getName()} of $function: $shown is no {$param->getType()}");
    }

    private static function namesOf(?\ReflectionType $type): array
    {
        if ($type instanceof \ReflectionNamedType) {
            return [$type->getName()];
        }
        return $type instanceof \ReflectionUnionType ? array_merge(...array_map(self::namesOf(...), $type->getTypes())) : [];
    }

    private static function accepts(?\ReflectionType $type, mixed $value): bool
    {
        if ($type === null || ($value === null && $type->allowsNull())) {
            return true;
        }
        foreach (self::namesOf($type) as $name) {
            $fits = match ($name) {
                'mixed' => true,
                'int' => is_int($value),
                'float' => is_int($value) || is_float($value),
                'string' => is_string($value),
                'bool' => is_bool($value),
                'array' => is_array($value),
                'iterable' => is_iterable($value),
                'callable' => is_callable($value),
                'object' => is_object($value),
                'null' => $value === null,
                'self', 'static' => is_object($value),
                default => $value instanceof $name,
            };
            if ($fits) {
                return true;
            }
        }
        return $type instanceof \ReflectionIntersectionType;
    }

    /** `$wanted` are the names of the declared types. */
    public function decode(mixed $raw, array $wanted = []): mixed
    {
        if (!is_array($raw)) {
            return $raw;
        }
        if (array_is_list($raw)) {
            return array_map(fn ($item) => $this->decode($item), $raw);
        }
        $tag = array_key_first(array_filter($raw, fn ($key) => str_starts_with((string) $key, '~'), ARRAY_FILTER_USE_KEY));
        if ($tag === null) {
            $class = array_values(array_filter($wanted, fn ($name) => class_exists($name) && !enum_exists($name)))[0] ?? null;
            return $class === null ? $this->all($raw) : $this->instance(Driver::short($class), $raw, $class);
        }
        $body = $raw[$tag];
        return match ($tag) {
            '~num' => ['NaN' => NAN, 'Infinity' => INF, '-Infinity' => -INF, '-0' => -0.0][$body],
            '~int' => $this->integer($body),
            '~float' => (float) $body,
            '~dec' => $body,
            '~bytes' => base64_decode($body),
            '~none' => null,
            '~esc' => $this->all($body),
            '~tuple', '~list', '~set' => array_map(fn ($item) => $this->decode($item), $body),
            '~map' => $this->pairs($body),
            '~date', '~time' => $this->time($body, $wanted),
            '~utf16' => from_utf16(base64_decode($body)),
            '~as' => $this->named($body),
            '~obj' => $this->instance($body, $raw['fields'] ?? [], null),
            default => throw new Misfit("$tag cannot be handed over in PHP"),
        };
    }

    private function all(array $raw): array
    {
        return array_map(fn ($item) => $this->decode($item), $raw);
    }

    private function integer(string $digits): int
    {
        $value = filter_var($digits, FILTER_VALIDATE_INT);
        if ($value === false) {
            throw new Misfit("$digits is out of the range of int");
        }
        return $value;
    }

    private function pairs(array $body): array
    {
        $made = [];
        foreach ($body as [$key, $item]) {
            $made[$this->decode($key)] = $this->decode($item);
        }
        return $made;
    }

    private function time(string $text, array $wanted): \DateTimeInterface
    {
        $zone = new \DateTimeZone('UTC');
        return in_array('DateTime', $wanted, true) ? new \DateTime($text, $zone) : new \DateTimeImmutable($text, $zone);
    }

    private function named(string $name): mixed
    {
        if (!array_key_exists($name, $this->objects)) {
            throw new Misfit("no step has named an object \"$name\"");
        }
        return $this->objects[$name];
    }

    private function instance(string $name, array $fields, ?string $class): mixed
    {
        $class ??= array_values(array_filter($this->classes, fn ($one) => Driver::short($one) === $name))[0] ?? null;
        if ($class === null) {
            return $this->all($fields);
        }
        if (enum_exists($class)) {
            return $this->member($class, $fields['value'] ?? null);
        }
        $made = new \ReflectionClass($class);
        $object = $made->newInstanceWithoutConstructor();
        foreach ($fields as $field => $item) {
            if (!$made->hasProperty($field)) {
                throw new Misfit("$name has no property $field");
            }
            $property = $made->getProperty($field);
            $property->setAccessible(true);
            $property->setValue($object, $this->decode($item, self::namesOf($property->getType())));
        }
        return $object;
    }

    private function member(string $class, mixed $value): object
    {
        foreach ($class::cases() as $case) {
            if (($case instanceof \BackedEnum && $case->value === $value) || $case->name === $value) {
                return $case;
            }
        }
        throw new Misfit(json_encode($value) . ' is no ' . Driver::short($class));
    }
}
