require "date"
require "set"

class NegativeError < StandardError; end
class NoRoomError < StandardError; end
Boat = Struct.new(:name, :metres)

class Quay
  def initialize(room)
    @room = room
  end

  def moor(boat)
    metres = boat.is_a?(Hash) ? boat["metres"] : boat.metres
    raise NoRoomError, "no room" if metres > @room
    @room -= metres
  end

  def larger(other)
    @room > other.instance_variable_get(:@room)
  end
end

$ticks = 0

def twice(number) = number * 2
def half(number) = number / 2.0
def join(words, separator) = words.join(separator)
def is_even(number) = number.even?
def count(words) = words.tally
def distinct(words) = words.to_set
def longest(boats) = boats.max_by { |boat| boat.is_a?(Hash) ? boat["metres"] : boat.metres }

def fill(numbers, value)
  numbers.fill(value)
  nil
end

def greet(name) = puts("hello #{name}")

def refuse(number)
  raise NegativeError, "negative" if number.negative?
  number
end

def big = 2**63 - 1
def odd_number(which) = [Float::NAN, Float::INFINITY, -0.0][which]
def reversed_bytes(data) = data.reverse
def next_day(day) = day + 1
def tick = $ticks += 1
def nested(value) = value
