#ifndef ABLETURN_PARALLEL_H
#define ABLETURN_PARALLEL_H

#include <Rcpp/Lightest>
#include <cstddef>
#include <exception>
#include <system_error>
#include <thread>
#include <utility>

// Runs work(from, to) over 0, ..., n - 1 in two halves, at once where there are many rows and the
// machine lets us, else one after the other, with the same result. The work must not touch R.
template <typename Work>
void in_two_unasked(std::size_t n, double rows, Work work) {
  if (n < 2) return work(0, n);
  std::thread other;
  std::exception_ptr failed;
  try {
    if (rows >= 50000)
      other = std::thread([&] {
        try {
          work(n / 2, n);
        } catch (...) {
          failed = std::current_exception();
        }
      });
  } catch (const std::system_error &) {
    // no second thread to be had
  }
  if (!other.joinable()) {
    work(0, n / 2);
    return work(n / 2, n);
  }
  try {
    work(0, n / 2);
  } catch (...) {
    other.join();
    throw;
  }
  other.join();
  if (failed) std::rethrow_exception(failed);
}

// The same, before which the analyst can interrupt.
template <typename Work>
void in_two(std::size_t n, double rows, Work work) {
  if (n >= 2 && rows >= 50000) Rcpp::checkUserInterrupt();
  in_two_unasked(n, rows, work);
}

// The same for work that counts or adds up: work(tally, from, to) fills the tally of its half,
// which begins as `start`; at the end first.add(second) joins them. Gives the tally of all.
template <typename Tally, typename Work>
Tally tally_in_two(std::size_t n, const Tally &start, Work work) {
  Tally first(start), second(start);
  in_two(n, n, [&](std::size_t from, std::size_t to) {
    Tally mine(start);  // of its own thread, so that no half waits for the memory of the other
    work(mine, from, to);
    (from ? second : first) = std::move(mine);
  });
  first.add(second);
  return first;
}

#endif
