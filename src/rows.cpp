#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <cstring>
#include <vector>

#include "codes.h"
#include "fresh.h"
#include "items.h"
#include "lengths.h"
#include "median.h"
#include "parallel.h"

// One score for each row over its valid items, a block of rows at a time.
namespace {

enum How { mean, sum, prorated, least, most, sd, median };

How how_named(const std::string &name) {
  const char *names[] = {"mean", "sum", "prorated", "min", "max", "sd", "median"};
  for (int i = 0; i < 7; i++)
    if (name == names[i]) return static_cast<How>(i);
  Rcpp::stop("unknown row statistic");
}

const int too_few = 1, undefined = 2;

struct Plan {
  const std::vector<Item> &items;
  const double *weights;
  How how;
  int at_least;
  double all_weight;
  bool even;  // every item weighs 1
};

// The rows of a block: the items' values one by one, and what they add up to.
class Block {
  double value[block_rows], total[block_rows], weight[block_rows], best[block_rows],
      squares[block_rows];
  double there[block_rows];

  void add_sums(const Plan &plan, R_xlen_t from, int rows) {
    std::fill_n(total, block_rows, 0.0);
    std::fill_n(weight, block_rows, 0.0);
    std::fill_n(valid, block_rows, 0.0);
    for (size_t j = 0; j < plan.items.size(); j++) {
      plan.items[j].read(from, rows, value, there);
      double w = plan.weights[j];
      if (plan.even) {
        for (int r = 0; r < block_rows; r++) {
          total[r] += value[r];
          valid[r] += there[r];
        }
        continue;
      }
      for (int r = 0; r < block_rows; r++) {
        total[r] += w * value[r];
        weight[r] += w * there[r];
        valid[r] += there[r];
      }
    }
    if (plan.even) std::memcpy(weight, valid, sizeof weight);
  }
  void find_best(const Plan &plan, R_xlen_t from, int rows, bool high) {
    double worst = high ? R_NegInf : R_PosInf;
    std::fill_n(best, block_rows, worst);
    for (const Item &item : plan.items) {
      item.read(from, rows, value, there);
      for (int r = 0; r < block_rows; r++) value[r] = there[r] != 0 ? value[r] : worst;
      if (high)
        for (int r = 0; r < block_rows; r++) best[r] = value[r] > best[r] ? value[r] : best[r];
      else
        for (int r = 0; r < block_rows; r++) best[r] = value[r] < best[r] ? value[r] : best[r];
    }
  }
  void add_squares(const Plan &plan, R_xlen_t from, int rows) {
    std::fill_n(squares, block_rows, 0.0);
    for (const Item &item : plan.items) {
      item.read(from, rows, value, there);
      for (int r = 0; r < block_rows; r++) {
        double off = value[r] - total[r] / weight[r];
        if (there[r] != 0) squares[r] += off * off;
      }
    }
  }
  void find_middles(const Plan &plan, R_xlen_t from, int rows) {
    std::vector<std::vector<double>> each(rows);
    for (const Item &item : plan.items) {
      item.read(from, rows, value, there);
      for (int r = 0; r < rows; r++)
        if (there[r] != 0) each[r].push_back(value[r]);
    }
    for (int r = 0; r < rows; r++)
      best[r] = each[r].empty() ? NA_REAL : middle_of(each[r].begin(), each[r].end());
  }
  double score(const Plan &plan, int r) const {
    switch (plan.how) {
    case mean:
      return total[r] / weight[r];
    case sum:
      return total[r];
    case prorated:
      return total[r] * (plan.all_weight / weight[r]);
    case sd:
      return valid[r] < 2 ? NA_REAL : std::sqrt(squares[r] / (valid[r] - 1));
    default:
      return best[r];
    }
  }

 public:
  double valid[block_rows];

  // Scores into `out`; the number of rows that have none.
  int fill(const Plan &plan, R_xlen_t from, int rows, double *out) {
    add_sums(plan, from, rows);
    if (plan.how == least || plan.how == most) find_best(plan, from, rows, plan.how == most);
    if (plan.how == sd) add_squares(plan, from, rows);
    if (plan.how == median) find_middles(plan, from, rows);
    int gone = 0;
    for (int r = 0; r < rows; r++) {
      double made = valid[r] >= plan.at_least && valid[r] > 0 ? score(plan, r) : NA_REAL;
      bool lost = !std::isfinite(made);
      out[r] = lost ? NA_REAL : made;
      gone += lost;
    }
    return gone;
  }
};

// What becomes of one half of the rows.
struct Half {
  std::vector<R_xlen_t> with;
  std::vector<int> lost;
  Block block;

  explicit Half(int items) : with(items + 1, 0) {}
  void add(const Half &other) {
    lost.insert(lost.end(), other.lost.begin(), other.lost.end());
    for (size_t v = 0; v < with.size(); v++) with[v] += other.with[v];
  }
  void run(const Plan &plan, double *out, R_xlen_t from, R_xlen_t to) {
    for (R_xlen_t at = from; at < to; at += block_rows) {
      int rows = static_cast<int>(std::min<R_xlen_t>(block_rows, to - at));
      int gone = block.fill(plan, at, rows, out + at);
      for (int r = 0; r < rows; r++) with[static_cast<int>(block.valid[r])]++;
      for (int r = 0; gone && r < rows; r++)
        if (std::isnan(out[at + r]))
          lost.push_back(block.valid[r] < plan.at_least ? too_few : undefined);
    }
  }
};

// The same for answers in small whole numbers, with sums over the complete rows, and how many rows
// have each total of each number of valid items.
struct CodeHalf {
  CodeBlock block;
  CodeSums sums;
  std::vector<R_xlen_t> with;
  std::vector<int> lost, table;
  int reach;
  bool whole = true, tabled;

  CodeHalf(int k, R_xlen_t n)
      : block(k), sums(k), with(k + 1, 0), reach(3 * code_reach * k), tabled(n >= 50000) {}
  int width() const { return 2 * reach + 1; }
  double score(const Plan &plan, int r) const {
    if (plan.how == mean) return block.total[r] / static_cast<double>(block.valid[r]);
    return plan.how == sum ? block.total[r] : block.total[r] * (plan.all_weight / block.valid[r]);
  }
  void run(const Plan &plan, double *out, R_xlen_t from, R_xlen_t to) {
    if (tabled) table.resize((block.k + 1) * width());
    for (R_xlen_t at = from; at < to; at += block_rows) {
      int rows = static_cast<int>(std::min<R_xlen_t>(block_rows, to - at));
      whole = block.read(plan.items, at, rows);
      if (!whole) return;
      sums.add_rows(block);
      for (int r = 0; r < rows; r++) {
        int v = block.valid[r];
        bool enough = v >= plan.at_least && v > 0;
        out[at + r] = enough ? score(plan, r) : NA_REAL;
        if (!enough) lost.push_back(v < plan.at_least ? too_few : undefined);
        with[v]++;
        if (tabled) table[v * width() + block.total[r] + reach]++;
      }
    }
  }
  void add(const CodeHalf &other) {
    sums.add(other.sums);
    lost.insert(lost.end(), other.lost.begin(), other.lost.end());
    for (size_t v = 0; v < with.size(); v++) with[v] += other.with[v];
    for (size_t at = 0; at < other.table.size(); at++) table[at] += other.table[at];
    whole &= other.whole;
  }
};

// The distinct scores and their rows, from the table of totals.
Rcpp::List told_scores(const Plan &plan, CodeHalf &half) {
  std::vector<double> x;
  std::vector<int> rows;
  int width = half.width();
  for (int v = std::max(1, plan.at_least); v <= half.block.k; v++)
    for (int at = 0; at < width; at++) {
      if (!half.table[v * width + at]) continue;
      half.block.total[0] = static_cast<short>(at - half.reach);
      half.block.valid[0] = static_cast<short>(v);
      x.push_back(half.score(plan, 0));
      rows.push_back(half.table[v * width + at]);
    }
  return Rcpp::List::create(Rcpp::Named("x") = x, Rcpp::Named("rows") = rows);
}

Rcpp::RObject code_scores(const Plan &plan, Rcpp::NumericVector out) {
  R_xlen_t n = out.size();
  int k = static_cast<int>(plan.items.size());
  double *to = out.begin();
  CodeHalf all = tally_in_two(n, CodeHalf(k, n), [&](CodeHalf &mine, size_t from, size_t end) {
    mine.run(plan, to, from, end);
  });
  if (!all.whole) return R_NilValue;
  Rcpp::RObject scores = R_NilValue;
  if (all.tabled) scores = told_scores(plan, all);
  return Rcpp::List::create(Rcpp::Named("x") = out, Rcpp::Named("with") = all.with,
                            Rcpp::Named("lost") = all.lost, Rcpp::Named("sums") = all.sums.told(),
                            Rcpp::Named("scores") = scores);
}

}  // namespace

// Each item is shift + sign * its column. A score for each row over its valid items; how many rows
// have 0, 1, ... valid items; and for each row without a score why: 1 too few items, 2 undefined.
// Of answers in small whole numbers also `sums`, as item_sums() has them, and, of many rows,
// `scores`: the distinct ones and how many rows hold each.
// [[Rcpp::export]]
Rcpp::List row_scores(Rcpp::List columns, Rcpp::NumericVector shift, Rcpp::NumericVector sign,
                      std::string how, int at_least, Rcpp::NumericVector weights) {
  int k = columns.size();
  need(k > 0 && shift.size() == k && sign.size() == k && weights.size() == k,
       "items and their weights");
  std::vector<Item> items = items_of(columns, shift, sign);
  R_xlen_t n = items[0].length;
  How wanted = how_named(how);
  // Weights are for means and sums; of all else every item counts the same.
  bool even = wanted > prorated ||
              std::all_of(weights.begin(), weights.end(), [](double w) { return w == 1; });
  Plan plan{items, weights.begin(), wanted, at_least, Rcpp::sum(weights), even};
  Rcpp::NumericVector out(fresh_column(REALSXP, n));
  if (even && plan.how <= prorated && CodeBlock::fits(items)) {
    Rcpp::RObject made = code_scores(plan, out);
    if (!made.isNULL()) return Rcpp::List(made);
  }
  double *to = out.begin();
  Half all = tally_in_two(
      n, Half(k), [&](Half &mine, size_t from, size_t end) { mine.run(plan, to, from, end); });
  return Rcpp::List::create(Rcpp::Named("x") = out, Rcpp::Named("with") = all.with,
                            Rcpp::Named("lost") = all.lost);
}
