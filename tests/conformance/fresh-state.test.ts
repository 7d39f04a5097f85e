/** Fresh state in Ruby and PHP: no case sees what an earlier one changed. */
import { describe, expect, it } from "vitest";
import { startSide } from "./side";

const RUBY = `
SEEN = []
LIMITS = { "low" => [1] }
module Tide
  NAMES = { "a" => ["x"] }
  @count = 0
  class << self
    attr_accessor :count
  end
  class Box
    @@made = 0
    def self.make
      @@made += 1
    end
  end
end
def see(name)
  SEEN << name
  SEEN.size
end
def grow
  LIMITS["low"] << 2
  LIMITS["low"].size
end
def rename
  Tide::NAMES["a"] << "y"
  Tide::NAMES["a"].size
end
def count
  Tide.count += 1
end
def made
  Tide::Box.make
end
def tell
  $told = ($told || 0) + 1
end
def surroundings
  ENV["TIDE"] = ENV["TIDE"].to_s + "x"
end
def redirect
  $stdout = $stderr
  1
end
def pure(n)
  n + 1
end
`;

/** A class of Ruby's own that keeps something. */
const OPENED = `
class String
  @shouts = 0
  def self.shout
    @shouts += 1
  end
end
def shout
  String.shout
end
def pure(n)
  n + 1
end
`;

const PHP = `<?php
class Box { public static int $made = 0; public static array $list = []; private static ?Box $only = null; public $n = 0;
  static function only(): Box { self::$only ??= new Box(); return self::$only; } }
$told = 0;
function made() { return ++Box::$made; }
function listed($n) { Box::$list[] = $n; return count(Box::$list); }
function only() { return ++Box::only()->n; }
function counted() { static $n = 0; return ++$n; }
function tell() { global $told; return ++$told; }
function tellAll() { $GLOBALS['all'] = ($GLOBALS['all'] ?? 0) + 1; return $GLOBALS['all']; }
function limit() { $was = ini_get('precision'); ini_set('precision', (string) ($was + 1)); return (int) $was; }
function defined_once() { if (defined('TIDE')) return 2; define('TIDE', 1); return 1; }
function pure(int $n) { return $n + 1; }
`;

const SESSION = `<?php
function session() { $_SESSION['n'] = ($_SESSION['n'] ?? 0) + 1; return $_SESSION['n']; }
function pure(int $n) { return $n + 1; }
`;

describe.each([
  ["ruby", "tide.rb", RUBY, ["see", "grow", "rename", "count", "made", "tell", "surroundings", "redirect"]],
  ["ruby", "opened.rb", OPENED, ["shout"]],
  ["php", "session.php", SESSION, ["session"]],
  ["php", "tide.php", PHP, ["made", "listed", "only", "counted", "tell", "tellAll", "limit", "defined_once"]],
])("in %s", (language, file, source, names) => {
  it("nothing that a case changed is met by the next", async () => {
    const side = await startSide(language, { [file]: source });
    for (const name of names) {
      const args = /^(see|listed)$/.test(name) ? ["x"] : [];
      const first = await side.call(name, ...args);
      expect(first, name).toMatchObject({ kind: "call" });
      expect((await side.call(name, ...args)).value, name).toEqual(first.value);
      expect((await side.call("pure", 1)).value).toBe(2);
    }
    side.close();
  }, 60_000);
});
