#include <chrono>
#include <cmath>
#include <cstdint>
#include <iostream>
#include <limits>
#include <map>
#include <optional>
#include <set>
#include <stdexcept>
#include <string>
#include <vector>

namespace harbour {

struct NegativeError : std::runtime_error {
  NegativeError() : std::runtime_error("negative") {}
};

class NoRoomError {};

struct Boat {
  std::string name;
  int metres;
};

class Quay {
  int room;

 public:
  explicit Quay(int room) : room(room) {}
  int moor(const Boat &boat) {
    if (boat.metres > room) throw NoRoomError();
    room -= boat.metres;
    return room;
  }
  bool larger(const Quay &other) const { return room > other.room; }
};

static int ticks = 0;

int twice(int number) { return number * 2; }
double half(double number) { return number / 2; }

std::string join(const std::vector<std::string> &words, std::string_view separator) {
  std::string made;
  for (size_t at = 0; at < words.size(); at++) made += (at ? std::string(separator) : "") + words[at];
  return made;
}

namespace {
bool is_even(int number) { return number % 2 == 0; }
}  // namespace

std::map<std::string, int> count(const std::vector<std::string> &words) {
  std::map<std::string, int> counts;
  for (const auto &word : words) counts[word]++;
  return counts;
}

std::set<std::string> distinct(std::vector<std::string> words) { return {words.begin(), words.end()}; }

const Boat *longest(const std::vector<Boat> &boats) {
  const Boat *best = nullptr;
  for (const auto &boat : boats)
    if (!best || boat.metres > best->metres) best = &boat;
  return best;
}

void fill(std::vector<int> &numbers, int value) {
  for (auto &number : numbers) number = value;
}

void greet(const std::string &name) { std::cout << "hello " << name << std::endl; }

int refuse(int number) {
  if (number < 0) throw NegativeError();
  return number;
}

int64_t big() { return std::numeric_limits<int64_t>::max(); }
double odd_number(int which) { return (double[]){NAN, INFINITY, -0.0}[which]; }
std::vector<uint8_t> reversed_bytes(std::vector<uint8_t> data) { return {data.rbegin(), data.rend()}; }

std::chrono::year_month_day next_day(std::chrono::year_month_day day) {
  return std::chrono::sys_days(day) + std::chrono::days(1);
}

int tick() { return ++ticks; }

}  // namespace harbour
