#ifndef ABLETURN_MEDIAN_H
#define ABLETURN_MEDIAN_H

#include <algorithm>
#include <vector>

// The median of at least one value, whose order is lost.
inline double middle_of(std::vector<double>::iterator from, std::vector<double>::iterator to) {
  auto half = from + (to - from) / 2;
  std::nth_element(from, half, to);
  return (to - from) % 2 ? *half : (*half + *std::max_element(from, half)) / 2;
}

#endif
