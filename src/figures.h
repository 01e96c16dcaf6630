#ifndef ABLETURN_FIGURES_H
#define ABLETURN_FIGURES_H

#include <R_ext/Arith.h>
#include <R_ext/Utils.h>
#include <algorithm>
#include <cfloat>
#include <cmath>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <iterator>

// Numbers written with as few figures as R reads back the same, as show_number() does; R itself
// does not round every one as the C library does. `exact`: so that both read it back, as other
// programs read numbers as the C library does.
namespace figures {

constexpr int room = 40;

inline int write_whole(long long value, char *to) {
  char turned[24];
  int size = 0, minus = value < 0;
  unsigned long long left = minus ? 0ull - value : value;
  do turned[size++] = static_cast<char>('0' + left % 10);
  while (left /= 10);
  if (minus) turned[size++] = '-';
  std::reverse_copy(turned, turned + size, to);
  return size;
}

// Writes a number that is not missing to `to`, which has `room`; gives its length. 0 and -0 are one
// number.
inline int write(double value, char *to, bool exact) {
  if (std::fabs(value) < 1e15 && value == std::floor(value))
    return write_whole(static_cast<long long>(value), to);
  if (std::isinf(value)) return std::snprintf(to, room, value > 0 ? "Inf" : "-Inf");
  int size = 0;
  for (int digits = 15; digits <= 17; digits++) {
    size = std::snprintf(to, room, "%.*g", digits, value);
    if (R_strtod(to, nullptr) == value && (!exact || std::strtod(to, nullptr) == value)) break;
  }
  return size;
}

// A decimal fraction: `whole` over ten to the power of `places`, of `count` figures. R divides
// these as numbers of 64 binary figures, both of which are exact, and then rounds to 53; other
// programs round once, which is the same but where the quotient lies halfway.
class Decimal {
  std::uint64_t whole;
  int places, count;

  static constexpr int most_places = 20;
  static long double over_ten(std::uint64_t whole, int power) { return whole / ten_to(power); }
  static long double ten_to(int power) {
    static const long double tens[] = {1e0L,  1e1L,  1e2L,  1e3L,  1e4L,  1e5L,  1e6L,
                                       1e7L,  1e8L,  1e9L,  1e10L, 1e11L, 1e12L, 1e13L,
                                       1e14L, 1e15L, 1e16L, 1e17L, 1e18L, 1e19L, 1e20L};
    return tens[power];
  }
  static bool is_halfway(long double quotient) {
    std::uint64_t binary;
    std::memcpy(&binary, &quotient, sizeof binary);
    return (binary & 0x7ff) == 0x400;
  }
  // Whether R reads numbers so, tried on some where rounding twice tells.
  static bool is_rs_way() {
    if (LDBL_MANT_DIG != 64) return false;
    struct Tried {
      const char *text;
      std::uint64_t whole;
      int places;
    } all[] = {{"5.138181783067163", 5138181783067163ull, 15},
               {"0.4056572269828638", 4056572269828638ull, 16},
               {"164.73273923900895", 16473273923900895ull, 14},
               {"0.00023861246587360952", 23861246587360952ull, 20}};
    return std::all_of(std::begin(all), std::end(all), [](const Tried &one) {
      return R_strtod(one.text, nullptr) == static_cast<double>(over_ten(one.whole, one.places));
    });
  }

 public:
  Decimal(std::uint64_t whole, int places, int count)
      : whole(whole), places(places), count(count) {}

  // Whether the others can tell.
  bool is_known() const {
    static const bool known = is_rs_way();
    return known && places <= most_places && count <= 17;
  }
  double as_r_reads() const { return static_cast<double>(over_ten(whole, places)); }
  // Whether others surely read the same.
  bool is_read_alike() const { return !is_halfway(over_ten(whole, places)); }

  // Whether a number of 16 or 17 figures is surely written so, by fewest figures and exactly: no
  // fewer read as the same, and no others as many are nearer.
  bool is_written_so() const {
    if (places < count - 15 || !is_read_alike()) return false;
    const double value = as_r_reads();
    std::uint64_t cut = 10;
    for (int fewer = 1; count - fewer >= 15; fewer++, cut *= 10)
      for (std::uint64_t near : {whole / cut, whole / cut + 1}) {
        long double quotient = over_ten(near, places - fewer);
        if (is_halfway(quotient) || static_cast<double>(quotient) == value) return false;
      }
    return std::fabs(value * ten_to(places) - static_cast<long double>(whole)) < 0.49L;
  }
};

}  // namespace figures

#endif
