#ifndef ABLETURN_TWO_H
#define ABLETURN_TWO_H

#include <cstddef>
#include <thread>

// Runs work(from, to) over 0, ..., n - 1 in two halves at once. The work must not touch R.
template <typename Work>
void in_two(std::size_t n, Work work) {
  if (n < 2) {
    work(0, n);
    return;
  }
  std::thread other([&] { work(n / 2, n); });
  work(0, n / 2);
  other.join();
}

#endif
