#ifndef ABLETURN_WINDOW_H
#define ABLETURN_WINDOW_H

#include <Rcpp/Lightest>
#include <algorithm>
#include <climits>
#include <vector>

// Whole numbers from `low` on, `size` of them: the code of a value is its distance, that of what is
// missing is `size`. `fits` turns false at a value that lies elsewhere.
template <typename Code>
class Window {
  static const int block = 2048, tables = sizeof(Code) == 1 ? 4 : 2;
  int low, size;
  std::vector<int> counts;

  static unsigned offset(int x, int low, unsigned size, unsigned &off) {
    unsigned place = static_cast<unsigned>(x) - static_cast<unsigned>(low);
    unsigned gone = x == INT_MIN ? ~0u : 0u;
    off |= (place >= size ? ~0u : 0u) & ~gone;
    return (place & ~gone) | (size & gone);
  }
  static unsigned offset(double x, int low, unsigned size, unsigned &off) {
    double place = x - low;
    bool inside = place >= 0 && place < static_cast<int>(size);
    int whole = inside ? static_cast<int>(place) : static_cast<int>(size);
    off |= (x == x) && !(inside && whole == place) ? 1u : 0u;
    return static_cast<unsigned>(whole);
  }
  template <typename T>
  static unsigned write_block(const T *__restrict__ x, Code *__restrict__ to, int low,
                              unsigned size) {
    unsigned off = 0;
    for (int r = 0; r < block; r++) to[r] = static_cast<Code>(offset(x[r], low, size, off));
    return off;
  }
  void count(const Code *codes, int rows) {
    int *table = counts.data(), r = 0, width = size + 1;
    for (; r + tables <= rows; r += tables)
      for (int t = 0; t < tables; t++) table[t * width + codes[r + t]]++;
    for (; r < rows; r++) table[codes[r]]++;
  }

 public:
  bool fits = true;

  Window(int low, int size) : low(low), size(size), counts(tables * (size + 1)) {}
  template <typename T>
  void add(const T *x, Code *to, size_t from, size_t end) {
    std::vector<T> last;
    Code kept[block];
    for (size_t at = from; at < end && fits; at += block) {
      int rows = static_cast<int>(std::min<size_t>(block, end - at));
      if (rows == block) {
        fits = !write_block(x + at, to + at, low, size);
      } else {
        last.assign(block, x[at]);
        std::copy(x + at, x + end, last.begin());
        fits = !write_block(last.data(), kept, low, size);
        std::copy(kept, kept + rows, to + at);
      }
      if (fits) count(to + at, rows);
    }
  }
  void add(const Window &other) {
    fits &= other.fits;
    for (size_t j = 0; j < counts.size(); j++) counts[j] += other.counts[j];
  }
  std::vector<int> rows() const {
    std::vector<int> all(size + 1, 0);
    for (int t = 0; t < tables; t++)
      for (int j = 0; j <= size; j++) all[j] += counts[t * (size + 1) + j];
    return all;
  }
};

#endif
