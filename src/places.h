#ifndef ABLETURN_PLACES_H
#define ABLETURN_PLACES_H

#include <Rcpp.h>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <type_traits>
#include <vector>

#include "columns.h"

// Finds the place of a value among distinct ones: in a table by its distance from the lowest where
// they are whole numbers close together, else in an open table of bit patterns.
inline uint64_t bits_of(int value) { return static_cast<uint64_t>(value); }
inline uint64_t bits_of(SEXP value) { return reinterpret_cast<uint64_t>(value); }
inline uint64_t bits_of(double value) {
  value += 0.0;  // one zero
  uint64_t bits;
  std::memcpy(&bits, &value, sizeof bits);
  return bits;
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

// Whole numbers close together; what lies elsewhere has no place.
class NearPlaces {
  int low;
  std::vector<int> places;

 public:
  NearPlaces(const double *values, R_xlen_t n, int low, int high)
      : low(low), places(high - low + 1, -1) {
    for (R_xlen_t j = 0; j < n; j++)
      places[static_cast<int>(values[j]) - low] = static_cast<int>(j);
  }
  int find(int value) const {
    unsigned at = static_cast<unsigned>(value) - static_cast<unsigned>(low);
    return at < places.size() ? places[at] : -1;
  }
  int find(double value) const {
    double at = value - low;
    if (!(at >= 0 && at < static_cast<double>(places.size()))) return -1;
    int whole = static_cast<int>(at);
    return whole == at ? places[whole] : -1;
  }
};

template <typename T>
class AnyPlaces {
  Table table;

 public:
  AnyPlaces(const T *values, R_xlen_t n) : table(n) {
    for (R_xlen_t j = 0; j < n; j++) table.add(bits_of(values[j]));
  }
  int find(T value) const { return table.find(bits_of(value)); }
};

struct OwnPlaces {
  template <typename T>
  int find(T value) const {
    return static_cast<int>(value);
  }
};

const int near_reach = 65536;

inline bool lie_near(const double *values, R_xlen_t n, int &low, int &high) {
  if (!n) return false;
  double least = values[0], most = values[0];
  for (R_xlen_t j = 0; j < n; j++) {
    if (!(std::fabs(values[j]) < 1e9) || values[j] != std::floor(values[j])) return false;
    least = std::min(least, values[j]);
    most = std::max(most, values[j]);
  }
  low = static_cast<int>(least);
  high = static_cast<int>(most);
  return high - low < near_reach;
}

// Calls work(values of the column, places) with the kind of places that fits; `keys` are the
// distinct values in the order of their places; where there are none, x holds places, from 0.
template <typename Work>
void with_places(SEXP x, SEXP keys, Work work) {
  if (TYPEOF(x) == RAWSXP) return work(static_cast<const Rbyte *>(RAW(x)), OwnPlaces());
  if (Rf_isNull(keys)) return work(static_cast<const int *>(INTEGER(x)), OwnPlaces());
  if (TYPEOF(x) == STRSXP)
    return work(STRING_PTR_RO(x), AnyPlaces<SEXP>(STRING_PTR_RO(keys), Rf_xlength(keys)));
  Rcpp::NumericVector numbers(keys);
  int low = 0, high = 0;
  bool near = lie_near(numbers.begin(), numbers.size(), low, high);
  with_numbers(x, [&](auto *values) {
    typedef
        typename std::remove_cv<typename std::remove_pointer<decltype(values)>::type>::type Value;
    if (near) return work(values, NearPlaces(numbers.begin(), numbers.size(), low, high));
    Rcpp::Vector<Rcpp::traits::r_sexptype_traits<Value>::rtype> own(keys);
    work(values, AnyPlaces<Value>(own.begin(), own.size()));
  });
}

#endif
