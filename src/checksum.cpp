#include <Rcpp/Lightest>
#include <algorithm>
#include <array>
#include <cstdint>

// Bytes of packed files: parts of them, and the sum that they carry (CRC-32 of ISO 3309).

namespace {

// What each byte adds to the sum.
std::array<uint32_t, 256> sum_table() {
  std::array<uint32_t, 256> table;
  for (uint32_t byte = 0; byte < 256; byte++) {
    uint32_t sum = byte;
    for (int bit = 0; bit < 8; bit++) sum = sum & 1 ? (sum >> 1) ^ 0xedb88320u : sum >> 1;
    table[byte] = sum;
  }
  return table;
}

}  // namespace

// The sum as a number from 0 to 2^32 - 1.
//
// [[Rcpp::export]]
double checksum_of_bytes(Rcpp::RawVector bytes) {
  static const std::array<uint32_t, 256> table = sum_table();
  uint32_t sum = 0xffffffffu;
  for (Rbyte byte : bytes) sum = (sum >> 8) ^ table[(sum ^ byte) & 0xff];
  return static_cast<double>(sum ^ 0xffffffffu);
}

// So many bytes from a place on, counted from 1, as far as they are there.
//
// [[Rcpp::export]]
Rcpp::RawVector bytes_from(Rcpp::RawVector bytes, double from, double count) {
  double size = static_cast<double>(bytes.size());
  double first = std::min(std::max(from - 1, 0.0), size);
  double last = std::min(std::max(first + count, first), size);
  const Rbyte *start = bytes.begin();
  return Rcpp::RawVector(start + static_cast<R_xlen_t>(first), start + static_cast<R_xlen_t>(last));
}
