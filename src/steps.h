#ifndef ABLETURN_STEPS_H
#define ABLETURN_STEPS_H

#include <algorithm>
#include <cstdint>
#include <vector>

#include "sums.h"

// Items whose answers are steps: whole numbers one after the other, as 1 to 5, in cells one after
// the other. Their rows are added up in bytes, a block of rows at a time, without a table.

// One item: its index, the first of the cells with an answer, how many these are, and how far the
// first answer is from the lowest of all items.
struct StepItem {
  const uint8_t *codes;
  uint8_t first, answers, offset;
};

// What has been counted in some rows: how many have each code, which is the number of their valid
// items times `width` and the sum of their answers' distances from the lowest; and the sums over
// the rows that have every item.
class StepTally {
  static const int block_rows = 1024;
  const std::vector<StepItem> *items;
  int width;
  std::vector<const uint8_t *> cells;
  std::vector<uint8_t> last;

  static void add_answers(const uint8_t *__restrict__ cells, const StepItem &item,
                          uint8_t *__restrict__ total, uint8_t *__restrict__ valid) {
    const uint8_t first = item.first, answers = item.answers, offset = item.offset;
    for (int r = 0; r < block_rows; r++) {
      uint8_t step = static_cast<uint8_t>(cells[r] - first);
      uint8_t answered = step < answers ? 255 : 0;
      total[r] = static_cast<uint8_t>(total[r] + (static_cast<uint8_t>(step + offset) & answered));
      valid[r] = static_cast<uint8_t>(valid[r] - answered);
    }
  }
  // Not inlined, as compilers then see that `cells` and `x` lie apart, and take many rows at once.
  // `whole` has all bits set in rows that have every item, else none; `total` is 0 in the others.
  __attribute__((noinline)) static void add_sums(const uint8_t *__restrict__ cells,
                                                 const StepItem &item,
                                                 const int16_t *__restrict__ whole,
                                                 const int16_t *__restrict__ total,
                                                 long long *sums) {
    const uint8_t more = static_cast<uint8_t>(item.offset - item.first);
    int16_t x[block_rows];
    int sum = 0, square = 0, with_total = 0;
    for (int r = 0; r < block_rows; r++)
      x[r] = static_cast<int16_t>(static_cast<uint8_t>(cells[r] + more) & whole[r]);
    for (int r = 0; r < block_rows; r++) {
      sum += x[r];
      square += x[r] * x[r];
      with_total += x[r] * total[r];
    }
    sums[0] += sum;
    sums[1] += square;
    sums[2] += with_total;
  }
  // Where the cells of each item begin in a block. Of the last rows there is a copy that has the
  // length of one, in which the others have no answer.
  void find_cells(R_xlen_t from, int rows) {
    for (size_t j = 0; j < items->size(); j++) {
      const StepItem &item = (*items)[j];
      cells[j] = item.codes + from;
      if (rows == block_rows) continue;
      uint8_t *copy = &last[j * block_rows];
      std::fill_n(copy, block_rows, static_cast<uint8_t>(item.first + item.answers));
      std::copy(cells[j], cells[j] + rows, copy);
      cells[j] = copy;
    }
  }
  void add_block(R_xlen_t from, int rows, uint16_t *to) {
    uint8_t total[block_rows] = {0}, valid[block_rows] = {0};
    find_cells(from, rows);
    for (size_t j = 0; j < items->size(); j++) add_answers(cells[j], (*items)[j], total, valid);
    uint16_t code[block_rows];
    for (int r = 0; r < block_rows; r++)
      code[r] = static_cast<uint16_t>(valid[r] * width + total[r]);
    for (int r = 0; r < rows; r++) rows_of[code[r]]++;
    std::copy(code, code + rows, to + from);
    int16_t whole[block_rows], in_whole[block_rows];
    const uint8_t all = static_cast<uint8_t>(items->size());
    for (int r = 0; r < block_rows; r++) {
      whole[r] = valid[r] == all ? -1 : 0;
      in_whole[r] = static_cast<int16_t>(total[r] & whole[r]);
    }
    for (size_t j = 0; j < items->size(); j++)
      add_sums(cells[j], (*items)[j], whole, in_whole, &sums[3 * j]);
  }

 public:
  std::vector<int> rows_of;
  std::vector<long long> sums;  // of each item: of its distances, of their squares, with the total

  StepTally(const std::vector<StepItem> &items, int width)
      : items(&items),
        width(width),
        cells(items.size()),
        last(items.size() * block_rows),
        rows_of((items.size() + 1) * width),
        sums(3 * items.size()) {}
  void add_rows(R_xlen_t from, R_xlen_t end, uint16_t *to) {
    for (R_xlen_t at = from; at < end; at += block_rows)
      add_block(at, static_cast<int>(std::min<R_xlen_t>(block_rows, end - at)), to);
  }
  void add(const StepTally &other) {
    for (size_t j = 0; j < rows_of.size(); j++) rows_of[j] += other.rows_of[j];
    for (size_t j = 0; j < sums.size(); j++) sums[j] += other.sums[j];
  }
  void give(ItemSums<long long> &to) const {
    for (size_t j = 0; j < items->size(); j++) {
      to.sum[j] = sums[3 * j];
      to.square[j] = sums[3 * j + 1];
      to.with_total[j] = sums[3 * j + 2];
    }
  }
};

#endif
