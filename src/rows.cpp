#include <Rcpp/Lightest>
#include <algorithm>
#include <cmath>
#include <cstring>
#include <numeric>
#include <vector>

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

}  // namespace

// Each item is shift + sign * its column. A score for each row over its valid items; how many rows
// have 0, 1, ... valid items; and for each row without a score why: 1 too few items, 2 undefined.
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
  double weight = std::accumulate(weights.begin(), weights.end(), 0.0);
  Plan plan{items, weights.begin(), wanted, at_least, weight, even};
  Rcpp::NumericVector out(fresh_column(REALSXP, n));
  double *to = out.begin();
  Half all = tally_in_two(
      n, Half(k), [&](Half &mine, size_t from, size_t end) { mine.run(plan, to, from, end); });
  return Rcpp::List::create(Rcpp::Named("x") = out, Rcpp::Named("with") = all.with,
                            Rcpp::Named("lost") = all.lost);
}
