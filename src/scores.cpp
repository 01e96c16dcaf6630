#include <Rcpp/Lightest>
#include <algorithm>
#include <cmath>
#include <vector>

#include "fresh.h"
#include "index.h"
#include "parallel.h"
#include "sums.h"

// Scores of items that have an index and answers in whole numbers, without looking at an answer
// more than once: each row adds up a code of how many items are valid and of their total. All rows
// of one code have the same score, so that the codes are the index of the scores.
namespace {

const int block_rows = 1024;
const R_xlen_t rows_between_flushes = 1 << 19;

// Some items whose cells together fit into a byte: their joint cell is looked up once.
struct Group {
  std::vector<const uint8_t *> codes;
  std::vector<int> step;  // what a cell of each item adds to the joint cell
  int cells = 1;
  std::vector<uint16_t> adds;  // what a joint cell adds to the code of its row

  void write(R_xlen_t from, int rows, uint8_t *__restrict__ to) const {
    if (rows < block_rows) std::fill_n(to, block_rows, 0);
    std::copy(codes[0] + from, codes[0] + from + rows, to);
    for (size_t j = 1; j < codes.size(); j++) {
      uint8_t copy[block_rows];
      if (rows < block_rows) std::fill_n(copy, block_rows, 0);
      std::copy(codes[j] + from, codes[j] + from + rows, copy);
      add_item(copy, static_cast<uint8_t>(step[j]), to);
    }
  }
  static void add_item(const uint8_t *__restrict__ cell, uint8_t step, uint8_t *__restrict__ to) {
    for (int r = 0; r < block_rows; r++) to[r] = static_cast<uint8_t>(to[r] + step * cell[r]);
  }
};

// The answers of an item: in each cell its distance from the lowest answer of all, -1 where it is
// missing.
typedef std::vector<int> Distances;

struct Scale {
  int low = 0, width = 1, items = 0;
  std::vector<Distances> answers;
  std::vector<Group> groups;
  std::vector<std::pair<int, int>> place;  // of each item: its group, and where in it

  int codes() const { return (items + 1) * width; }
  int slot_of(int item, int cell) const {
    const Group &group = groups[place[item].first];
    return cell / group.step[place[item].second] % static_cast<int>(answers[item].size());
  }
};

bool add_answers(const Rcpp::List &values, Scale &scale) {
  double low = R_PosInf, high = R_NegInf;
  for (R_xlen_t j = 0; j < values.size(); j++) {
    Rcpp::NumericVector held = values[j];
    for (double value : held) {
      if (std::isnan(value)) continue;
      if (value != std::floor(value) || std::fabs(value) > 1e6) return false;
      low = std::min(low, value);
      high = std::max(high, value);
    }
  }
  if (low > high) low = high = 0;
  scale.items = static_cast<int>(values.size());
  if ((scale.items + 1) * (scale.items * (high - low) + 1) > most_slots) return false;
  scale.low = static_cast<int>(low);
  scale.width = scale.items * static_cast<int>(high - low) + 1;
  for (R_xlen_t j = 0; j < values.size(); j++) {
    Rcpp::NumericVector held = values[j];
    Distances answer;
    for (double value : held)
      answer.push_back(std::isnan(value) ? -1 : static_cast<int>(value - low));
    scale.answers.push_back(answer);
  }
  return true;
}

void fill_adds(Scale &scale) {
  for (size_t g = 0; g < scale.groups.size(); g++) {
    Group &group = scale.groups[g];
    group.adds.assign(narrow_slots, 0);
    for (int item = 0; item < scale.items; item++) {
      if (scale.place[item].first != static_cast<int>(g)) continue;
      for (int cell = 0; cell < group.cells; cell++) {
        int answer = scale.answers[item][scale.slot_of(item, cell)];
        if (answer >= 0)
          group.adds[cell] = static_cast<uint16_t>(group.adds[cell] + answer + scale.width);
      }
    }
  }
}

bool add_groups(const Rcpp::List &codes, R_xlen_t &rows, Scale &scale) {
  for (R_xlen_t j = 0; j < codes.size(); j++) {
    R_xlen_t slots = scale.answers[j].size();
    Index index(static_cast<SEXP>(codes[j]), slots);
    need(j == 0 || index.rows == rows, "columns");
    if (!index.narrow || !slots) return false;
    rows = index.rows;
    bool fits = !scale.groups.empty() && scale.groups.back().cells * slots <= narrow_slots;
    if (!fits) scale.groups.emplace_back();
    Group &group = scale.groups.back();
    group.codes.push_back(index.narrow);
    group.step.push_back(group.cells);
    group.cells *= static_cast<int>(slots);
    scale.place.emplace_back(static_cast<int>(scale.groups.size()) - 1,
                             static_cast<int>(group.codes.size()) - 1);
  }
  fill_adds(scale);
  return true;
}

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
    uint16_t code[block_rows] = {0};
    uint64_t whole[block_rows];
    for (size_t g = 0; g < scale->groups.size(); g++) {
      const uint16_t *adds = scale->groups[g].adds.data();
      uint8_t *cell = &cells[g * block_rows];
      scale->groups[g].write(from, rows, cell);
      for (int r = 0; r < block_rows; r++) code[r] = static_cast<uint16_t>(code[r] + adds[cell[r]]);
    }
    const int full = scale->items * scale->width;
    for (int r = 0; r < rows; r++) {
      rows_of[code[r]]++;
      whole[r] = code[r] >= full ? (uint64_t(1) << shift) + (code[r] - full) : 0;
    }
    std::copy(code, code + rows, to + from);
    for (size_t g = 0; g < scale->groups.size(); g++) {
      uint64_t *even = &packed[g * 2 * narrow_slots], *odd = even + narrow_slots;
      const uint8_t *cell = &cells[g * block_rows];
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
        cells(scale.groups.size() * block_rows),
        rows_of(scale.codes()),
        complete(packed.size()),
        totals(packed.size()) {}
  void add_rows(R_xlen_t from, R_xlen_t end, uint16_t *to) {
    for (R_xlen_t at = from; at < end; at += block_rows) {
      add_block(at, static_cast<int>(std::min<R_xlen_t>(block_rows, end - at)), to);
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

// The sums over complete rows, of distances from the lowest answer.
ItemSums<long long> sums_of(const Scale &scale, const Tally &tally) {
  ItemSums<long long> sums(scale.items);
  for (int total = 0; total < scale.width; total++) {
    long long rows = tally.rows_of[scale.items * scale.width + total];
    sums.complete += rows;
    sums.total += rows * total;
    sums.total_square += rows * total * total;
  }
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
  Slots(const std::string &how, const Scale &scale, const Tally &tally, int at_least)
      : of(scale.codes(), 0) {
    int few = 0, none = 0;
    for (int code = 0; code < scale.codes(); code++) {
      int count = tally.rows_of[code], valid = code / scale.width;
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
      if (tally.rows_of[code] && (valid < at_least || valid == 0))
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

std::vector<double> rows_with(const Scale &scale, const Tally &tally) {
  std::vector<double> with(scale.items + 1, 0);
  for (int code = 0; code < scale.codes(); code++) with[code / scale.width] += tally.rows_of[code];
  return with;
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
  Rcpp::RawVector found(fresh_column(RAWSXP, 2 * n));
  uint16_t *to = reinterpret_cast<uint16_t *>(RAW(found));
  Tally tally = tally_in_two(
      n, Tally(scale), [&](Tally &mine, size_t from, size_t end) { mine.add_rows(from, end, to); });
  Slots slots(how, scale, tally, at_least);
  Rcpp::Shield<SEXP> out(codes_in_slots(to, n, slots));
  return Rcpp::List::create(Rcpp::Named("codes") = static_cast<SEXP>(out),
                            Rcpp::Named("rows") = slots.rows, Rcpp::Named("x") = slots.x,
                            Rcpp::Named("lost") = slots.lost,
                            Rcpp::Named("with") = rows_with(scale, tally),
                            Rcpp::Named("sums") = sums_of(scale, tally).told());
}
