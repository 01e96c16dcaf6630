#ifndef ABLETURN_FACTS_H
#define ABLETURN_FACTS_H

#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <vector>

#include "columns.h"
#include "places.h"
#include "parallel.h"

// What is known of a column: how many rows are valid, the ends, and, where there are few, the
// distinct values with how many rows hold each.
const int many =
    2048;  // more distinct values than this are not told, unless they are close together
const int negatives_told = 21;

struct Facts {
  double valid = 0, low = R_PosInf, high = R_NegInf;
  int negatives = 0;
  bool few = true;
  std::vector<double> values;
  std::vector<int> rows;

  void add(double value, int count) {
    values.push_back(value);
    rows.push_back(count);
  }
  // Once all values are there in their order.
  void close() {
    if (values.empty()) return;
    low = values.front();
    high = values.back();
    for (double value : values) negatives += value < 0 && negatives < negatives_told;
  }
};

// How many distinct negative values there are, up to a handful.
struct Negatives {
  double seen[negatives_told];
  int count = 0;
  void add(double value) {
    if (count == negatives_told) return;
    for (int i = 0; i < count; i++)
      if (seen[i] == value) return;
    seen[count++] = value;
  }
};

// Of a column whose ends are known.
template <typename T>
void count_negatives(const T *x, R_xlen_t n, Facts &facts) {
  Negatives negatives;
  for (R_xlen_t i = 0; facts.low < 0 && i < n && negatives.count < negatives_told; i++)
    if (x[i] < 0 && is_finite_value(x[i])) negatives.add(x[i]);
  facts.negatives = negatives.count;
}

inline Rcpp::List told_facts(const Facts &facts, Rcpp::RObject values) {
  bool none = facts.low > facts.high;
  return Rcpp::List::create(Rcpp::Named("valid") = facts.valid, Rcpp::Named("few") = facts.few,
                            Rcpp::Named("low") = none ? NA_REAL : facts.low,
                            Rcpp::Named("high") = none ? NA_REAL : facts.high,
                            Rcpp::Named("negatives") = facts.negatives,
                            Rcpp::Named("values") = values, Rcpp::Named("rows") = facts.rows);
}

inline Rcpp::List told_facts(const Facts &facts) {
  return told_facts(facts, Rcpp::wrap(facts.values));
}

// Few whole numbers next to each other: a block of rows is written as bytes, sixteen of which are
// compared with a value at once.
class Narrow {
  typedef unsigned char Sixteen __attribute__((vector_size(16)));
  static const int width = 14, block = 2048;
  alignas(16) unsigned char code[block];
  int low;

  static int offset(int x, int low, unsigned &off) {
    unsigned place = static_cast<unsigned>(x) - static_cast<unsigned>(low);
    unsigned gone = x == INT_MIN ? ~0u : 0u;
    off |= (place >= width ? ~0u : 0u) & ~gone;
    return static_cast<int>((place & ~gone) | (15u & gone));
  }
  static int offset(double x, int low, unsigned &off) {
    double place = x - low;
    bool fits = place >= 0 && place < width;
    int whole = fits ? static_cast<int>(place) : 15;
    off |= (x == x) && !(fits && whole == place) ? 16u : 0u;
    return whole;
  }
  template <typename T>
  unsigned write(const T *__restrict__ x, int rows) {
    unsigned off = 0;
    if (rows == block) {
      for (int r = 0; r < block; r++) code[r] = static_cast<unsigned char>(offset(x[r], low, off));
      return off;
    }
    for (int r = 0; r < rows; r++) code[r] = static_cast<unsigned char>(offset(x[r], low, off));
    std::fill(code + rows, code + block, 15);
    return off;
  }
  int count(int place) const {
    const Sixteen *groups = reinterpret_cast<const Sixteen *>(code);
    Sixteen found = {}, wanted = found + static_cast<unsigned char>(place);
    for (int g = 0; g < block / 16; g++) found -= reinterpret_cast<Sixteen>(groups[g] == wanted);
    int sum = 0;
    for (int lane = 0; lane < 16; lane++) sum += found[lane];
    return sum;
  }

 public:
  int rows[width] = {0};
  bool fits = true;

  explicit Narrow(int low) : low(low) {}
  template <typename T>
  void add(const T *x, R_xlen_t from, R_xlen_t to) {
    for (R_xlen_t at = from; at < to && fits; at += block) {
      fits = !write(x + at, static_cast<int>(std::min<R_xlen_t>(block, to - at)));
      for (int place = 0; place < width && fits; place++) rows[place] += count(place);
    }
  }
  void add(const Narrow &other) {
    for (int place = 0; place < width; place++) rows[place] += other.rows[place];
    fits &= other.fits;
  }
  void tell(Facts &facts) const {
    for (int place = 0; place < width; place++) {
      facts.valid += rows[place];
      if (rows[place]) facts.add(low + place, rows[place]);
    }
    facts.close();
  }
  // Where the first rows lie; false if that is no narrow place.
  template <typename T>
  static bool begins(const T *x, R_xlen_t n, int &low) {
    double least = R_PosInf, most = R_NegInf;
    for (R_xlen_t i = 0; i < std::min<R_xlen_t>(n, 1000); i++) {
      if (is_gone(x[i])) continue;
      least = std::min<double>(least, x[i]);
      most = std::max<double>(most, x[i]);
    }
    if (!(most - least < width) || !(std::fabs(least) < 1e6) || least != std::floor(least))
      return false;
    low = static_cast<int>(least);
    return true;
  }
};

template <typename T>
bool count_narrow(const T *x, R_xlen_t n, Facts &facts) {
  int low = 0;
  if (!Narrow::begins(x, n, low)) return false;
  Narrow all = tally_in_two(n, Narrow(low),
                            [&](Narrow &mine, size_t from, size_t to) { mine.add(x, from, to); });
  if (all.fits) all.tell(facts);
  return all.fits;
}

// Most other columns: whole numbers near zero, counted in one pass, in turn in two tables, so that
// equal neighbours need not wait for each other. What is missing or elsewhere has the last place.
class Near {
  static const int least = -1000, size = 12000;
  std::vector<int> rows, others;
  bool whole = true;

  int place(int value) {
    unsigned at = static_cast<unsigned>(value) - static_cast<unsigned>(least);
    return at < static_cast<unsigned>(size) ? static_cast<int>(at) : size;
  }
  int place(double value) {
    bool near = value >= least && value < least + size;
    int at = near ? static_cast<int>(value) - least : size;
    whole &= !near || at + least == value;
    return at;
  }

 public:
  Near() : rows(size + 1, 0), others(size + 1, 0) {}
  template <typename T>
  void add(const T *x, R_xlen_t from, R_xlen_t to) {
    R_xlen_t i = from;
    for (; i + 1 < to; i += 2) {
      rows[place(x[i])]++;
      others[place(x[i + 1])]++;
    }
    if (i < to) rows[place(x[i])]++;
  }
  void add(const Near &other) {
    for (int at = 0; at <= size; at++) rows[at] += other.rows[at] + other.others[at];
    whole &= other.whole;
  }
  // Whether all that is there lies near.
  bool holds(R_xlen_t gone) const { return whole && rows[size] + others[size] == gone; }
  void tell(Facts &facts) const {
    for (int at = 0; at < size; at++)
      if (rows[at] + others[at]) facts.add(at + least, rows[at] + others[at]);
    for (int count : facts.rows) facts.valid += count;
    facts.close();
  }
};

template <typename T>
R_xlen_t count_gone(const T *x, R_xlen_t n) {
  R_xlen_t gone = 0;
  for (R_xlen_t i = 0; i < n; i++) gone += is_gone(x[i]);
  return gone;
}

template <typename T>
bool count_near(const T *x, R_xlen_t n, Facts &facts) {
  R_xlen_t start = std::min<R_xlen_t>(n, 1000);
  Near begin;
  begin.add(x, 0, start);
  if (!begin.holds(count_gone(x, start))) return false;
  Near all =
      tally_in_two(n, Near(), [&](Near &mine, size_t from, size_t to) { mine.add(x, from, to); });
  if (!all.holds(count_gone(x, n))) return false;
  all.tell(facts);
  return true;
}

#endif
