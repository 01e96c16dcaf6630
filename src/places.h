#ifndef ABLETURN_PLACES_H
#define ABLETURN_PLACES_H

#include <Rcpp/Lightest>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <type_traits>
#include <vector>

#include "columns.h"

// The place of a value among distinct ones, by its bit pattern.
inline uint64_t bits_of(int value) { return static_cast<uint64_t>(value); }
inline uint64_t bits_of(SEXP value) { return reinterpret_cast<uint64_t>(value); }
inline uint64_t bits_of(double value) {
  value += 0.0;  // one zero
  uint64_t bits;
  std::memcpy(&bits, &value, sizeof bits);
  return bits;
}

inline double as_real(uint64_t bits) {
  double value;
  std::memcpy(&value, &bits, sizeof value);
  return value;
}

// Places by bit pattern; room for `most` of them.
class Table {
  std::vector<uint64_t> keys;
  std::vector<int> places;
  uint64_t mask = 4;
  std::size_t most;

 public:
  std::vector<uint64_t> held;

  explicit Table(std::size_t most) : most(most) {
    while (mask < 3 * most) mask *= 2;
    keys.resize(mask);
    places.assign(mask, -1);
    mask--;
  }
  uint64_t slot(uint64_t key) const {
    uint64_t at = (key * 0x9E3779B97F4A7C15ull) >> 32 & mask;
    while (places[at] >= 0 && keys[at] != key) at = (at + 1) & mask;
    return at;
  }
  // The place of a key, -1 if it is not there.
  int find(uint64_t key) const { return places[slot(key)]; }
  // The same, with the next place for a key that is new; -1 once there is no room.
  int add(uint64_t key) {
    uint64_t at = slot(key);
    if (places[at] >= 0) return places[at];
    if (held.size() >= most) return -1;
    keys[at] = key;
    places[at] = static_cast<int>(held.size());
    held.push_back(key);
    return places[at];
  }
};

const int near_reach = 65536;

#endif
