#include <Rcpp/Lightest>
#include <algorithm>
#include <cstring>

// How far the cells of a sheet in Office Open XML reach: libraries make room for all cells up to the
// farthest one, wherever that is.

namespace {

bool is_blank(Rbyte byte) { return byte == ' ' || byte == '\t' || byte == '\r' || byte == '\n'; }

const Rbyte *past_blanks(const Rbyte *at, const Rbyte *end) {
  while (at < end && is_blank(*at)) at++;
  return at;
}

struct Extent {
  double rows = 0, columns = 0;
};

// Takes in a place such as XFD1048576, or the number of a row.
void take_place(const Rbyte *at, const Rbyte *end, Extent &extent) {
  double row = 0, column = 0;
  for (; at < end && *at >= 'A' && *at <= 'Z'; at++) column = column * 26 + (*at - 'A' + 1);
  for (; at < end && *at >= '0' && *at <= '9'; at++) row = row * 10 + (*at - '0');
  extent.rows = std::max(extent.rows, row);
  extent.columns = std::max(extent.columns, column);
}

}  // namespace

// The last row and the last column that an attribute `r` names, of cells and rows alike.
//
// [[Rcpp::export]]
Rcpp::NumericVector sheet_extent(Rcpp::RawVector xml) {
  Extent extent;
  const Rbyte *end = xml.end();
  for (const Rbyte *at = xml.begin(); at < end;) {
    at = static_cast<const Rbyte *>(std::memchr(at, 'r', end - at));
    if (!at) break;
    bool begins = at > xml.begin() && is_blank(at[-1]);
    const Rbyte *next = past_blanks(++at, end);
    if (!begins || next >= end || *next != '=') continue;
    next = past_blanks(next + 1, end);
    if (next < end && (*next == '"' || *next == '\'')) take_place(next + 1, end, extent);
  }
  return Rcpp::NumericVector::create(extent.rows, extent.columns);
}
