import type { Declarations } from "@/testing/declarations/declarations";

export const ruby: Declarations = {
  language: "ruby",
  source: `# frozen_string_literal: true
require 'json'
require_relative '../money'
require "bigdecimal/util"
autoload :Tides, 'harbour/tides'
RATE = 3
module Harbour
  module Fares
    LIMIT, OTHER = 1, 2
    class Fare < Base::Thing
      include Comparable
      attr_reader :name
      def initialize(name, rate: 1, *rest, **opts, &block)
        @name = name
      end
      def self.build(n) = new(n)
      class << self
        def zero; new(0); end
      end
      def <=>(other) = name <=> other.name
      def price(n)
        return 0 unless n && n > 0
        case n
        when 1 then JSON.generate([n])
        when 2..5 then n.to_d
        else n ? 1 : 2
        end
      rescue ArgumentError => e
        retry if e.message
      end
      define_method(:dyn) { |x| x }
      private def hidden?; true; end
    end
    Point = Struct.new(:x, :y) do
      def dist; Math.sqrt(x); end
    end
    def self.helper(a, b = 2) a end
    module_function
    def util!(z) = z.each { |q| puts q if q }
  end
end
class Harbour::Fares::Late; def go; end; end
def top_level(x)
  x&.y || x.z
end
`,
  sections: [
    "constant RATE 6-6 () 1",
    "class Harbour 7-41 () 9",
    "class Harbour.Fares 8-40 () 9",
    "constant Harbour.Fares.LIMIT 9-9 () 1",
    "constant Harbour.Fares.OTHER 9-9 () 1",
    "class Harbour.Fares.Fare 10-33 () 8",
    "method Harbour.Fares.Fare.initialize 13-15 (name, rate, rest, opts, block) 1",
    "method Harbour.Fares.Fare.build 16-16 (n) 1",
    "method Harbour.Fares.Fare.zero 18-18 () 1",
    "method Harbour.Fares.Fare.<=> 20-20 (other) 1",
    "method Harbour.Fares.Fare.price 21-30 (n) 8",
    "method Harbour.Fares.Fare.hidden? 32-32 () 1",
    "class Harbour.Fares.Point 34-36 () 1",
    "method Harbour.Fares.Point.dist 35-35 () 1",
    "method Harbour.Fares.helper 37-37 (a, b) 1",
    "method Harbour.Fares.util! 39-39 (z) 2",
    "class Harbour.Fares.Late 42-42 () 1",
    "method Harbour.Fares.Late.go 42-42 () 1",
    "function top_level 43-45 (x) 2",
  ],
  imports: [
    "2 json [] JSON=json JSON",
    "3 ../money []",
    "4 bigdecimal/util [] BigDecimal=bigdecimal/util BigDecimal",
    "5 harbour/tides [] Harbour=harbour/tides Harbour",
  ],
  uses: ["24 JSON.generate", "42 Harbour.Fares.Late"],
};
