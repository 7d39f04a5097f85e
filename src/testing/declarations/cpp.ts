import type { Declarations } from "@/testing/declarations/declarations";

export const cpp: Declarations = {
  language: "cpp",
  source: `#include <vector>
#include "fare.hpp"
using namespace std;
using Json = nlohmann::json;
namespace harbour { namespace fares {
template <typename T, int N = 3> class Fare : public Base<T> {
public:
    static constexpr int LIMIT = 3;
    explicit Fare(int max) : max_(max) {}
    virtual ~Fare() = default;
    int price(int n, const std::string& s = "") const noexcept override {
        if (n > 0 && n < 9 or n == 11) return std::sqrt(n);
        for (auto& x : xs) { if (x) continue; }
        try { throw 1; } catch (const std::exception& e) { } catch (...) { }
        auto f = [&](int a, int b) { return a > b ? a : b; };
        return f(1, 2);
    }
    bool operator==(const Fare& o) const { return true; }
    operator int() const { return 1; }
    struct Inner { void deep(); };
private:
    int max_;
};
template <> class Fare<int> { void special() {} };
} }
namespace harbour::deep { inline int z() { return 0; } enum class Tier : int { A }; }
void harbour::fares::Inner::deep() { while (true) {} }
template <typename F> auto apply(F&& f, int... xs) -> decltype(f()) { return f(); }
int harbour::fares::Fare<int>::out(int q) { return q; }
extern "C" { int cfun(int a) { return a; } }
const double RATE = 3.0;
concept Small = true;
`,
  sections: [
    "class Fare 6-23 () 9",
    "constant Fare.LIMIT 8-8 () 1",
    "method Fare.Fare 9-9 (max) 1",
    "method Fare.~Fare 10-10 () 1",
    "method Fare.price 11-17 (n, s) 9",
    "method Fare.operator== 18-18 (o) 1",
    "method Fare.operator int 19-19 () 1",
    "class Fare.Inner 20-20 () 1",
    "class Fare 24-24 () 1",
    "method Fare.special 24-24 () 1",
    "function z 26-26 () 1",
    "class Tier 26-26 () 1",
    "method Inner.deep 27-27 () 2",
    "function apply 28-28 (f, xs) 1",
    "method Fare.out 29-29 (q) 1",
    "function cfun 30-30 (a) 1",
    "constant RATE 31-31 () 1",
  ],
  imports: ["1 vector []", "2 fare.hpp []"],
  uses: ["11 std.string", "12 std.sqrt", "14 std.exception"],
};
