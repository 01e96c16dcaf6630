#ifndef ABLETURN_CODES_H
#define ABLETURN_CODES_H

#include <algorithm>
#include <climits>
#include <cmath>
#include <vector>

#include "items.h"
#include "sums.h"

// Items that are answers in small whole numbers: a block of rows of all items as short integers,
// which processors add and multiply eight at a time, and exactly.
const int most_codes = 40, code_reach = 256;  // items, and the size of an answer

class CodeBlock {
  std::vector<short> held, there;

  template <typename T>
  static unsigned take(const T *__restrict__ x, unsigned shift, unsigned turned,
                       short *__restrict__ value, short *__restrict__ held) {
    unsigned off = 0;
    for (int r = 0; r < block_rows; r++) {
      unsigned ok = whole_part(x[r], off);
      unsigned code = static_cast<unsigned>(as_whole(x[r])) & ok;
      off |= (code + code_reach) & ~(2u * code_reach - 1);
      value[r] = static_cast<short>((shift + ((code ^ turned) - turned)) & ok);
      held[r] = static_cast<short>(ok);
    }
    return off;
  }
  // All bits where there is an answer; `off` is marked where it is no whole number.
  static unsigned whole_part(int x, unsigned &) { return x != INT_MIN ? ~0u : 0u; }
  static unsigned whole_part(double x, unsigned &off) {
    off |= x == x && !(std::fabs(x) < code_reach && static_cast<double>(static_cast<int>(x)) == x)
               ? ~0u
               : 0u;
    return x == x ? ~0u : 0u;
  }
  static int as_whole(int x) { return x; }
  static int as_whole(double x) { return std::fabs(x) < code_reach ? static_cast<int>(x) : 0; }

  template <typename T>
  unsigned take_rows(const T *x, T missing, int rows, const Item &item, int j) {
    T copy[block_rows];
    if (rows < block_rows) {
      std::copy(x, x + rows, copy);
      std::fill(copy + rows, copy + block_rows, missing);
      x = copy;
    }
    unsigned turned = item.sign == 1 ? 0u : ~0u;
    return take(x, static_cast<unsigned>(static_cast<int>(item.shift)), turned, values(j),
                &there[j * block_rows]);
  }

 public:
  int k;
  short total[block_rows], valid[block_rows], complete[block_rows];

  explicit CodeBlock(int k) : held(k * block_rows), there(k * block_rows), k(k) {}
  short *values(int j) { return &held[j * block_rows]; }

  static bool fits(const std::vector<Item> &items) {
    return items.size() <= most_codes &&
           std::all_of(items.begin(), items.end(), [](const Item &item) {
             return !item.is_indexed() && std::fabs(item.shift) <= 2 * code_reach &&
                    item.shift == std::floor(item.shift);
           });
  }
  // False if some answer is no small whole number.
  bool read(const std::vector<Item> &items, R_xlen_t from, int rows) {
    std::fill_n(total, block_rows, 0);
    std::fill_n(valid, block_rows, 0);
    std::fill_n(complete, block_rows, -1);
    unsigned off = 0;
    for (int j = 0; j < k; j++) {
      const Item &item = items[j];
      off |= item.real ? take_rows(item.real + from, static_cast<double>(NAN), rows, item, j)
                       : take_rows(item.whole + from, INT_MIN, rows, item, j);
      add(values(j), &there[j * block_rows]);
    }
    return off == 0;
  }
  void add(const short *__restrict__ value, const short *__restrict__ answered) {
    for (int r = 0; r < block_rows; r++) {
      total[r] = static_cast<short>(total[r] + value[r]);
      valid[r] = static_cast<short>(valid[r] - answered[r]);
      complete[r] = static_cast<short>(complete[r] & answered[r]);
    }
  }
};

struct CodeSums : ItemSums<long long> {
  using ItemSums::ItemSums;

  static int product(const short *__restrict__ a, const short *__restrict__ b) {
    int out = 0;
    for (int r = 0; r < block_rows; r++) out += a[r] * b[r];
    return out;
  }
  // Of totals, whose products are larger: a part of the rows at a time stays within an int.
  static long long product_of_total(const short *__restrict__ a, const short *__restrict__ total) {
    long long out = 0;
    for (int from = 0; from < block_rows; from += 64) {
      int part = 0;
      for (int r = 0; r < 64; r++) part += a[from + r] * total[from + r];
      out += part;
    }
    return out;
  }
  void add_rows(CodeBlock &block) {
    short total_there[block_rows], own[block_rows];
    for (int r = 0; r < block_rows; r++)
      total_there[r] = static_cast<short>(block.total[r] & block.complete[r]);
    complete += product(block.complete, block.complete);
    total -= product(block.complete, total_there);
    for (int r = 0; r < block_rows; r++)
      total_square += static_cast<long long>(total_there[r]) * total_there[r];
    for (int j = 0; j < block.k; j++) {
      const short *x = block.values(j);
      for (int r = 0; r < block_rows; r++) own[r] = static_cast<short>(x[r] & block.complete[r]);
      sum[j] -= product(own, block.complete);
      square[j] += product(own, own);
      with_total[j] += product_of_total(own, total_there);
    }
  }
};

#endif
