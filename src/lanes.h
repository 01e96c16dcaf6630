#ifndef ABLETURN_LANES_H
#define ABLETURN_LANES_H

#include <Rcpp/Lightest>
#include <algorithm>
#include <cstring>
#include <limits>

#include "facts.h"

const int block_size = 1024;  // rows that are worked on at once

// The ends of what was worked out, and how much of it is missing; two values at a time.
struct Lanes {
  typedef double Two __attribute__((vector_size(16)));
  typedef long long Flags __attribute__((vector_size(16)));
  static const int lanes = 2;
  Two low = {R_PosInf, R_PosInf}, high = {R_NegInf, R_NegInf};
  R_xlen_t gone = 0;

  // Copies a block; what is infinite is missing.
  void copy(double *x, int rows, double *to) {
    std::fill(x + rows, x + block_size, NA_REAL);
    if (rows == block_size) {
      gone += copy_block(x, to);
      return;
    }
    gone += copy_block(x, x) - (block_size - rows);
    std::copy(x, x + rows, to);
  }
  int copy_block(const double *x, double *to) {
    const double largest = std::numeric_limits<double>::max();
    const Two most = {largest, largest}, none = {NA_REAL, NA_REAL};
    Two value, least = low, greatest = high;
    Flags held = {0, 0};
    for (int r = 0; r < block_size; r += lanes) {
      std::memcpy(&value, x + r, sizeof value);
      Flags finite = (value <= most) & (value >= -most);
      value = finite ? value : none;
      held -= finite;
      least = value < least ? value : least;
      greatest = value > greatest ? value : greatest;
      std::memcpy(to + r, &value, sizeof value);
    }
    low = least;
    high = greatest;
    return block_size - static_cast<int>(held[0] + held[1]);
  }
  void add(const Lanes &other) {
    gone += other.gone;
    low = other.low < low ? other.low : low;
    high = other.high > high ? other.high : high;
  }
  Facts facts(const double *x, R_xlen_t n) const {
    Facts facts;
    facts.valid = n - gone;
    facts.low = std::min(low[0], low[1]);
    facts.high = std::max(high[0], high[1]);
    facts.few = facts.valid == 0;
    count_negatives(x, n, facts);
    return facts;
  }
};

#endif
