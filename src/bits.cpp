#include <Rcpp/Lightest>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <limits>

// Whole numbers of 64 bits, which some readers keep in the places of doubles, as the numbers they
// are; NULL where one is larger than a double can tell from its neighbour.
// [[Rcpp::export]]
SEXP numbers_of_bits(Rcpp::NumericVector x) {
  Rcpp::NumericVector out(x.size());
  for (R_xlen_t i = 0; i < x.size(); i++) {
    int64_t whole;
    std::memcpy(&whole, x.begin() + i, sizeof whole);
    bool gone = whole == std::numeric_limits<int64_t>::min();
    if (!gone && (whole > (int64_t(1) << 53) || whole < -(int64_t(1) << 53))) return R_NilValue;
    out[i] = gone ? NA_REAL : static_cast<double>(whole);
  }
  return out;
}
