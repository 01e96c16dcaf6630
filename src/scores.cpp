#include <Rcpp/Lightest>
#include <algorithm>
#include <cmath>
#include <vector>

#include "fresh.h"
#include "index.h"
#include "parallel.h"
#include "scale.h"
#include "steps.h"
#include "sums.h"

// Scores of items that have an index and answers in whole numbers, without looking at an answer
// more than once: each row adds up a code of how many items are valid and of their total. All rows
// of one code have the same score, so that the codes are the index of the scores.
namespace {

const R_xlen_t rows_between_flushes = 1 << 19;

// What has been counted in some rows: how many have each code; and for each joint cell of each
// group, over the rows that have every item, how many are in it and the sum of their totals, both
// in one number until they are flushed.
class Tally {
  static const int shift = 40;
  const Scale *scale;
  std::vector<uint64_t> packed;
  std::vector<uint8_t> cells;

  void flush() {
    for (size_t at = 0; at < packed.size(); at++) {
      complete[at] += packed[at] >> shift;
      totals[at] += packed[at] & ((uint64_t(1) << shift) - 1);
      packed[at] = 0;
    }
  }
  void add_block(R_xlen_t from, int rows, uint16_t *to) {
    uint16_t code[score_block] = {0};
    uint64_t whole[score_block];
    for (size_t g = 0; g < scale->groups.size(); g++) {
      const uint16_t *adds = scale->groups[g].adds.data();
      uint8_t *cell = &cells[g * score_block];
      scale->groups[g].write(from, rows, cell);
      for (int r = 0; r < score_block; r++)
        code[r] = static_cast<uint16_t>(code[r] + adds[cell[r]]);
    }
    const int full = scale->items * scale->width;
    for (int r = 0; r < rows; r++) {
      rows_of[code[r]]++;
      whole[r] = code[r] >= full ? (uint64_t(1) << shift) + (code[r] - full) : 0;
    }
    std::copy(code, code + rows, to + from);
    for (size_t g = 0; g < scale->groups.size(); g++) {
      uint64_t *even = &packed[g * 2 * narrow_slots], *odd = even + narrow_slots;
      const uint8_t *cell = &cells[g * score_block];
      int r = 0;
      for (; r + 1 < rows; r += 2) {
        even[cell[r]] += whole[r];
        odd[cell[r + 1]] += whole[r + 1];
      }
      if (r < rows) even[cell[r]] += whole[r];
    }
  }

 public:
  std::vector<int> rows_of;
  std::vector<long long> complete, totals;

  explicit Tally(const Scale &scale)
      : scale(&scale),
        packed(scale.groups.size() * 2 * narrow_slots),
        cells(scale.groups.size() * score_block),
        rows_of(scale.codes()),
        complete(packed.size()),
        totals(packed.size()) {}
  void add_rows(R_xlen_t from, R_xlen_t end, uint16_t *to) {
    for (R_xlen_t at = from; at < end; at += score_block) {
      add_block(at, static_cast<int>(std::min<R_xlen_t>(score_block, end - at)), to);
      if ((at - from) % rows_between_flushes == 0) flush();
    }
    flush();
  }
  void add(const Tally &other) {
    for (size_t j = 0; j < rows_of.size(); j++) rows_of[j] += other.rows_of[j];
    for (size_t j = 0; j < complete.size(); j++) {
      complete[j] += other.complete[j];
      totals[j] += other.totals[j];
    }
  }
};

// The sums of the items over complete rows.
void give_sums(const Scale &scale, const Tally &tally, ItemSums<long long> &sums) {
  for (int j = 0; j < scale.items; j++) {
    int g = scale.place[j].first;
    for (int cell = 0; cell < scale.groups[g].cells; cell++) {
      long long x = scale.answers[j][scale.slot_of(j, cell)];
      if (x < 0) continue;
      size_t even = g * 2 * narrow_slots + cell, odd = even + narrow_slots;
      long long rows = tally.complete[even] + tally.complete[odd];
      sums.sum[j] += rows * x;
      sums.square[j] += rows * x * x;
      sums.with_total[j] += (tally.totals[even] + tally.totals[odd]) * x;
    }
  }
}

void give_sums(const Scale &, const StepTally &tally, ItemSums<long long> &sums) {
  tally.give(sums);
}

// The sums over complete rows, of distances from the lowest answer.
template <typename AnyTally>
ItemSums<long long> sums_of(const Scale &scale, const AnyTally &tally) {
  ItemSums<long long> sums(scale.items);
  for (int total = 0; total < scale.width; total++) {
    long long rows = tally.rows_of[scale.items * scale.width + total];
    sums.complete += rows;
    sums.total += rows * total;
    sums.total_square += rows * total * total;
  }
  give_sums(scale, tally, sums);
  return sums;
}

double score_of(const std::string &how, const Scale &scale, int code) {
  int valid = code / scale.width;
  double total = code % scale.width + static_cast<double>(valid) * scale.low;
  if (how == "sum") return total;
  return how == "mean" ? total / valid : total * (scale.items / static_cast<double>(valid));
}

// The slots of the codes that some row has: those of scores, then one for rows with too few items
// and one for rows without any.
struct Slots {
  std::vector<double> x;
  std::vector<int> rows, lost;
  std::vector<uint16_t> of;

  void add(double value, int count, int why) {
    x.push_back(value);
    rows.push_back(count);
    lost.push_back(why);
  }
  Slots(const std::string &how, const Scale &scale, const std::vector<int> &rows_of, int at_least)
      : of(scale.codes(), 0) {
    int few = 0, none = 0;
    for (int code = 0; code < scale.codes(); code++) {
      int count = rows_of[code], valid = code / scale.width;
      if (!count) continue;
      if (valid >= at_least && valid > 0) {
        of[code] = static_cast<uint16_t>(x.size());
        add(score_of(how, scale, code), count, 0);
      } else {
        (valid < at_least ? few : none) += count;
      }
    }
    for (int code = 0; code < scale.codes(); code++) {
      int valid = code / scale.width;
      if (rows_of[code] && (valid < at_least || valid == 0))
        of[code] = static_cast<uint16_t>(x.size() + (few && valid >= at_least));
    }
    if (few) add(NA_REAL, few, 1);
    if (none) add(NA_REAL, none, 2);
  }
};

SEXP codes_in_slots(const uint16_t *codes, R_xlen_t n, const Slots &slots) {
  bool wide = is_wide(slots.x.size());
  Rcpp::Shield<SEXP> out(fresh_column(RAWSXP, wide ? 2 * n : n));
  Rbyte *bytes = RAW(out);
  uint16_t *pairs = reinterpret_cast<uint16_t *>(bytes);
  in_two(n, n, [&](size_t from, size_t to) {
    if (wide)
      for (size_t i = from; i < to; i++) pairs[i] = slots.of[codes[i]];
    else
      for (size_t i = from; i < to; i++) bytes[i] = static_cast<Rbyte>(slots.of[codes[i]]);
  });
  return out;
}

std::vector<double> rows_with(const Scale &scale, const std::vector<int> &rows_of) {
  std::vector<double> with(scale.items + 1, 0);
  for (int code = 0; code < scale.codes(); code++) with[code / scale.width] += rows_of[code];
  return with;
}

// The scores of all rows, which are counted by a tally that begins as `start`.
template <typename AnyTally>
SEXP scores_by(const AnyTally &start, const Scale &scale, R_xlen_t n, const std::string &how,
               int at_least) {
  Rcpp::RawVector found(fresh_column(RAWSXP, 2 * n));
  uint16_t *to = reinterpret_cast<uint16_t *>(RAW(found));
  AnyTally tally = tally_in_two(
      n, start, [&](AnyTally &mine, size_t from, size_t end) { mine.add_rows(from, end, to); });
  Slots slots(how, scale, tally.rows_of, at_least);
  Rcpp::Shield<SEXP> out(codes_in_slots(to, n, slots));
  return Rcpp::List::create(Rcpp::Named("codes") = static_cast<SEXP>(out),
                            Rcpp::Named("rows") = slots.rows, Rcpp::Named("x") = slots.x,
                            Rcpp::Named("lost") = slots.lost,
                            Rcpp::Named("with") = rows_with(scale, tally.rows_of),
                            Rcpp::Named("sums") = sums_of(scale, tally).told());
}

}  // namespace

// The index of the mean, sum or prorated sum of several items, each an index with a value for each
// of its cells: `codes`, `rows` of each slot, `x`, its score, and where that is missing `lost`: 1
// too few items, 2 none. `with`: how many rows have 0, 1, ... valid items; `sums` as item_sums()
// has them. NULL where answers are no small whole numbers, or scores too many.
// [[Rcpp::export]]
SEXP indexed_scores(Rcpp::List codes, Rcpp::List values, std::string how, int at_least) {
  need(codes.size() > 0 && values.size() == codes.size(), "items and their values");
  Scale scale;
  R_xlen_t n = 0;
  if (!add_answers(values, scale) || !add_groups(codes, n, scale)) return R_NilValue;
  std::vector<StepItem> items = stepped_items(scale);
  if (!items.empty()) return scores_by(StepTally(items, scale.width), scale, n, how, at_least);
  return scores_by(Tally(scale), scale, n, how, at_least);
}
