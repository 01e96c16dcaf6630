#include <Rcpp/Lightest>
#include <algorithm>
#include <cmath>
#include <cstring>
#include <vector>

#include "columns.h"
#include "distinct.h"
#include "fresh.h"
#include "index.h"
#include "parallel.h"
#include "places.h"
#include "window.h"

// The index of a column whose distinct answers are few, and how many rows hold each.
namespace {

struct Answers {
  std::vector<double> values;   // of numbers, in their order
  std::vector<uint64_t> texts;  // of texts, in the order in which they come
  std::vector<int> rows;        // of each value, then of what is missing
  Rcpp::RObject codes = R_NilValue;
};

R_xlen_t most_values(R_xlen_t n) { return std::min<R_xlen_t>(most_slots - 1, n / 4); }

template <typename To, typename From>
void recode(const From *from, To *to, R_xlen_t n, const std::vector<uint16_t> &slot) {
  in_two(n, n, [&](size_t begin, size_t end) {
    for (size_t i = begin; i < end; i++) to[i] = static_cast<To>(slot[from[i]]);
  });
}

SEXP fresh_codes(R_xlen_t n, bool wide) { return fresh_column(RAWSXP, wide ? 2 * n : n); }
template <typename Code>
Code *codes_in(SEXP raw) {
  return reinterpret_cast<Code *>(RAW(raw));
}

// Codes get the slots that `slot` says; narrow ones where there are few of them.
template <typename Code>
SEXP in_slots(SEXP codes, R_xlen_t n, const std::vector<uint16_t> &slot, R_xlen_t slots) {
  if ((sizeof(Code) == 2) == is_wide(slots)) {
    recode(codes_in<Code>(codes), codes_in<Code>(codes), n, slot);
    return codes;
  }
  Rcpp::Shield<SEXP> narrow(fresh_codes(n, false));
  recode(codes_in<Code>(codes), codes_in<uint8_t>(narrow), n, slot);
  return narrow;
}

// The codes of a window, without those that no row holds.
template <typename Code, typename T>
bool index_window(const T *x, R_xlen_t n, int low, int size, Answers &found) {
  Rcpp::Shield<SEXP> codes(fresh_codes(n, sizeof(Code) == 2));
  Code *to = codes_in<Code>(codes);
  Window<Code> all = tally_in_two(
      n, Window<Code>(low, size),
      [&](Window<Code> &mine, size_t from, size_t end) { mine.add(x, to, from, end); });
  if (!all.fits) return false;
  std::vector<int> rows = all.rows();
  std::vector<uint16_t> slot(size + 1, 0);
  for (int j = 0; j < size; j++) {
    if (!rows[j]) continue;
    slot[j] = static_cast<uint16_t>(found.values.size());
    found.values.push_back(static_cast<double>(low) + j);
    found.rows.push_back(rows[j]);
  }
  R_xlen_t values = found.values.size();
  if (values > most_values(n)) return false;
  slot[size] = static_cast<uint16_t>(values);
  found.rows.push_back(rows[size]);
  bool as_they_are = values == size && (sizeof(Code) == 2) == is_wide(values + 1);
  found.codes = as_they_are ? static_cast<SEXP>(codes) : in_slots<Code>(codes, n, slot, values + 1);
  return true;
}

struct Span {
  double low = R_PosInf, high = R_NegInf;
  bool whole = true;

  void add(double value) {
    low = std::min(low, value);
    high = std::max(high, value);
    whole &= value == std::floor(value);
  }
  void add(const Span &other) {
    low = std::min(low, other.low);
    high = std::max(high, other.high);
    whole &= other.whole;
  }
  bool none() const { return low > high; }
  bool is_window(double size) const {
    return !none() && whole && std::fabs(low) < 1e9 && high - low < size;
  }
};

template <typename T>
Span span_of(const T *x, size_t from, size_t to) {
  Span span;
  for (size_t i = from; i < to; i++)
    if (!is_gone(x[i])) span.add(static_cast<double>(x[i]));
  return span;
}

template <typename T>
Span whole_span(const T *x, R_xlen_t n) {
  return tally_in_two(n, Span(),
                      [&](Span &mine, size_t from, size_t to) { mine = span_of(x, from, to); });
}

// Few values next to each other are indexed as they are read; of others the ends come first.
template <typename T>
bool index_whole(const T *x, R_xlen_t n, Answers &found) {
  Span start = span_of(x, 0, std::min<R_xlen_t>(n, 1000));
  if (!start.none() && !start.is_window(most_slots)) return false;
  if (start.is_window(narrow_slots - 1) &&
      index_window<uint8_t>(x, n, static_cast<int>(start.low),
                            static_cast<int>(start.high - start.low) + 1, found))
    return true;
  found = Answers();
  Span all = whole_span(x, n);
  if (all.none()) all.low = all.high = 0;
  int low = static_cast<int>(all.low), size = static_cast<int>(all.high - all.low) + 1;
  if (all.is_window(narrow_slots - 1)) return index_window<uint8_t>(x, n, low, size, found);
  if (all.is_window(most_slots - 1)) return index_window<uint16_t>(x, n, low, size, found);
  return false;
}

struct Written {
  std::vector<int> rows;
  bool all = true;

  explicit Written(size_t slots) : rows(slots, 0) {}
  void add(const Written &other) {
    all &= other.all;
    for (size_t j = 0; j < rows.size(); j++) rows[j] += other.rows[j];
  }
};

bool any_endless_in(const std::vector<uint64_t> &held, bool text) {
  return !text && std::any_of(held.begin(), held.end(),
                              [](uint64_t bits) { return std::isinf(as_real(bits)); });
}

// The slots of values in their order, or of texts as they came.
std::vector<uint16_t> arrange(const std::vector<uint64_t> &held, const std::vector<int> &rows,
                              bool text, Answers &found) {
  std::vector<int> order(held.size());
  for (size_t j = 0; j < order.size(); j++) order[j] = static_cast<int>(j);
  if (!text)
    std::sort(order.begin(), order.end(),
              [&](int a, int b) { return as_real(held[a]) < as_real(held[b]); });
  std::vector<uint16_t> slot(held.size() + 1, static_cast<uint16_t>(held.size()));
  for (size_t at = 0; at < order.size(); at++) {
    slot[order[at]] = static_cast<uint16_t>(at);
    found.rows.push_back(rows[order[at]]);
    if (text) found.texts.push_back(held[order[at]]);
    else found.values.push_back(as_real(held[order[at]]));
  }
  found.rows.push_back(rows[held.size()]);
  return slot;
}

template <typename T>
bool index_distinct(const T *x, R_xlen_t n, bool text, Answers &found) {
  if (!Distinct<T>::repeats(x, n)) return false;
  Distinct<T> met(most_values(n));
  R_xlen_t begun = std::min<R_xlen_t>(n, 65536);
  if (!met.add(x, 0, begun)) return false;
  Rcpp::Shield<SEXP> codes(fresh_codes(n, true));
  uint16_t *to = codes_in<uint16_t>(codes);
  auto write_all = [&] {
    return tally_in_two(n, Written(met.held().size() + 1),
                        [&](Written &mine, size_t from, size_t end) {
                          mine.all = met.write(x, to, from, end, mine.rows);
                        });
  };
  Written written = write_all();
  if (!written.all) {
    if (!met.add(x, begun, n)) return false;
    written = write_all();
  }
  if (any_endless_in(met.held(), text)) return false;
  std::vector<uint16_t> slot = arrange(met.held(), written.rows, text, found);
  found.codes = in_slots<uint16_t>(codes, n, slot, slot.size());
  return true;
}

bool index_values(const SEXP *x, R_xlen_t n, Answers &found) {
  return index_distinct(x, n, true, found);
}
template <typename T>
bool index_values(const T *x, R_xlen_t n, Answers &found) {
  if (index_whole(x, n, found)) return true;
  found = Answers();
  return index_distinct(x, n, false, found);
}

template <typename Code>
void put_kinds(Code *codes, R_xlen_t n, int gone, const Rcpp::IntegerVector &why,
               std::vector<int> &rows) {
  R_xlen_t at = 0;
  for (R_xlen_t i = 0; i < n; i++) {
    if (codes[i] != gone) continue;
    need(at < why.size() && why[at] >= 1 && why[at] < static_cast<int>(rows.size()) - gone + 1,
         "missing rows and their reasons");
    int slot = gone + why[at++] - 1;
    codes[i] = static_cast<Code>(slot);
    rows[slot]++;
  }
}

// What is missing gets a slot for each kind in place of one.
void split_missing(Answers &found, R_xlen_t n, const Rcpp::IntegerVector &why, int kinds) {
  int gone = static_cast<int>(found.rows.size()) - 1;
  bool wide = is_wide(gone + 1);
  found.rows.back() = 0;
  found.rows.resize(gone + kinds, 0);
  if (!wide && is_wide(gone + kinds)) {
    Rcpp::Shield<SEXP> codes(fresh_codes(n, true));
    std::copy(RAW(found.codes), RAW(found.codes) + n, codes_in<uint16_t>(codes));
    found.codes = static_cast<SEXP>(codes);
    wide = true;
  }
  if (wide) put_kinds(codes_in<uint16_t>(found.codes), n, gone, why, found.rows);
  else put_kinds(RAW(found.codes), n, gone, why, found.rows);
}

SEXP typed_values(const Answers &found, SEXPTYPE type, int kinds) {
  if (type == STRSXP) {
    Rcpp::CharacterVector values(found.texts.size() + kinds, NA_STRING);
    for (size_t j = 0; j < found.texts.size(); j++)
      values[j] = reinterpret_cast<SEXP>(found.texts[j]);
    return values;
  }
  Rcpp::NumericVector values(found.values.size() + kinds, NA_REAL);
  std::copy(found.values.begin(), found.values.end(), values.begin());
  return type == REALSXP ? static_cast<SEXP>(values) : Rf_coerceVector(values, type);
}

}  // namespace

// `codes`, the index of a column of numbers or texts; `values`, the answer in each slot, missing in
// the last ones; `rows`, how many rows hold it. Missing rows have a slot for each of their kinds,
// which `why` tells in the order of the rows, from 1. NULL where there are too many answers, or
// some are infinite.
// [[Rcpp::export]]
SEXP index_column(SEXP x, Rcpp::IntegerVector why, int kinds) {
  R_xlen_t n = Rf_xlength(x);
  Answers found;
  bool few = with_values(x, [&](auto *values) { return index_values(values, n, found); });
  if (!few || static_cast<R_xlen_t>(found.rows.size()) + kinds > most_slots) return R_NilValue;
  if (kinds == 0) {
    need(found.rows.back() == 0, "missing rows and their reasons");
    found.rows.pop_back();
    if (found.rows.empty()) return R_NilValue;
  }
  if (kinds > 1) split_missing(found, n, why, kinds);
  Rcpp::RObject values = typed_values(found, TYPEOF(x), kinds);
  return Rcpp::List::create(Rcpp::Named("codes") = found.codes, Rcpp::Named("values") = values,
                            Rcpp::Named("rows") = found.rows);
}
