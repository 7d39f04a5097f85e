class NegativeError extends Error {}
class NoRoomError extends Error {}
class Boat {
  constructor(name, metres) {
    this.name = name;
    this.metres = metres;
  }
}
class Quay {
  constructor(room) {
    this.room = room;
  }
  moor(boat) {
    if (boat.metres > this.room) throw new NoRoomError("no room");
    this.room -= boat.metres;
    return this.room;
  }
  larger(other) {
    return this.room > other.room;
  }
}
let ticks = 0;
module.exports = {
  Boat,
  Quay,
  twice: (number) => number * 2,
  half: (number) => number / 2,
  join: (words, separator) => words.join(separator),
  is_even: (number) => number % 2 === 0,
  count(words) {
    const counts = {};
    for (const word of words) counts[word] = (counts[word] ?? 0) + 1;
    return counts;
  },
  distinct: (words) => new Set(words),
  longest: (boats) => boats.toSorted((left, right) => right.metres - left.metres)[0] ?? null,
  fill(numbers, value) {
    numbers.fill(value);
  },
  greet(name) {
    console.log("hello", name);
  },
  refuse(number) {
    if (number < 0) throw new NegativeError("negative");
    return number;
  },
  big: () => 9223372036854775807n,
  odd_number: (which) => [Number.NaN, Number.POSITIVE_INFINITY, -0][which],
  reversed_bytes: (data) => data.toReversed(),
  next_day: (day) => new Date(day.getTime() + 86_400_000),
  tick: () => ++ticks,
  nested: (value) => value,
};
