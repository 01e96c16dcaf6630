#ifndef ABLETURN_SCALE_H
#define ABLETURN_SCALE_H

#include <Rcpp/Lightest>
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <utility>
#include <vector>

#include "index.h"
#include "lengths.h"
#include "steps.h"

// The items of a score whose answers are whole numbers, in groups of a few items each.

const int score_block = 1024;

// Some items whose cells together fit into a byte: their joint cell is looked up once.
struct Group {
  std::vector<const uint8_t *> codes;
  std::vector<int> step;  // what a cell of each item adds to the joint cell
  int cells = 1;
  std::vector<uint16_t> adds;  // what a joint cell adds to the code of its row

  // The joint cells of some rows. Whole blocks are read where they are; of the last rows there is a
  // copy that has the length of a block.
  void write(R_xlen_t from, int rows, uint8_t *__restrict__ to) const {
    uint8_t copy[score_block] = {0};
    std::fill_n(to, score_block, 0);
    for (size_t j = 0; j < codes.size(); j++) {
      const uint8_t *cell = codes[j] + from;
      if (rows < score_block) {
        std::copy(cell, cell + rows, copy);
        cell = copy;
      }
      add_item(cell, static_cast<uint8_t>(step[j]), to);
    }
  }
  static void add_item(const uint8_t *__restrict__ cell, uint8_t step, uint8_t *__restrict__ to) {
    for (int r = 0; r < score_block; r++) to[r] = static_cast<uint8_t>(to[r] + step * cell[r]);
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

inline bool add_answers(const Rcpp::List &values, Scale &scale) {
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

inline void fill_adds(Scale &scale) {
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

inline bool add_groups(const Rcpp::List &codes, R_xlen_t &rows, Scale &scale) {
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

// An item as one whose answers are steps; false where they are not.
inline bool is_stepped(const Distances &answers, const uint8_t *codes, StepItem &item) {
  auto is_answer = [](int distance) { return distance >= 0; };
  auto first = std::find_if(answers.begin(), answers.end(), is_answer);
  auto last = std::find_if_not(first, answers.end(), is_answer);
  for (auto at = first; at != last; ++at)
    if (*at != *first + (at - first)) return false;
  if (std::any_of(last, answers.end(), is_answer)) return false;
  item = {codes, static_cast<uint8_t>(first - answers.begin()), static_cast<uint8_t>(last - first),
          static_cast<uint8_t>(first == last ? 0 : *first)};
  return true;
}

// The items as such; none where some are not, or where a byte cannot hold their sum.
inline std::vector<StepItem> stepped_items(const Scale &scale) {
  const int byte = 255;
  std::vector<StepItem> items(scale.items);
  if (scale.items > byte || scale.width > byte) return {};
  for (int j = 0; j < scale.items; j++) {
    const Group &group = scale.groups[scale.place[j].first];
    if (!is_stepped(scale.answers[j], group.codes[scale.place[j].second], items[j])) return {};
  }
  return items;
}

#endif
