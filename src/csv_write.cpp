#include <Rcpp/Lightest>
#include <cmath>
#include <cstring>
#include <string>
#include <vector>

#include "csv.h"
#include "figures.h"

// The bytes of a table in a text file.

namespace {

// A column whose values become fields; numbers are written `exact` where it has such an attribute.
class Fields {
  const SEXP *text = nullptr;
  const int *whole = nullptr;
  const double *real = nullptr;
  bool exact = false;

 public:
  Fields(SEXP x, double rows) {
    if (Rf_xlength(x) < rows) Rcpp::stop("a column is too short");
    if (TYPEOF(x) == STRSXP) text = STRING_PTR_RO(x);
    else if (TYPEOF(x) == INTSXP) whole = INTEGER(x);
    else if (TYPEOF(x) == REALSXP) real = REAL(x);
    else Rcpp::stop("a column holds no fields");
    exact = Rf_asLogical(Rf_getAttrib(x, Rf_install("exact"))) == TRUE;
  }
  void add(std::vector<csv::byte> &out, R_xlen_t row, char sep) const {
    if (text) {
      if (text[row] != NA_STRING) csv::add_field(out, CHAR(text[row]), LENGTH(text[row]), sep, exact);
      return;
    }
    char number[figures::room];
    out.insert(out.end(), number, number + written(row, number));
  }
  // A number as it is written, and its length; 0 for what is missing.
  int written(R_xlen_t row, char *to) const {
    if (whole && whole[row] != NA_INTEGER) return figures::write_whole(whole[row], to);
    return real && !std::isnan(real[row]) ? figures::write(real[row], to, exact) : 0;
  }
};

}  // namespace

// Rows `from` to `to` (from 1) of columns of numbers, or of text in UTF-8, as lines of a table;
// what is missing is empty.
// [[Rcpp::export]]
Rcpp::RawVector csv_bytes(Rcpp::List columns, double from, double to, std::string sep) {
  std::vector<Fields> column;
  for (R_xlen_t j = 0; j < columns.size(); j++) column.emplace_back(columns[j], to);
  std::vector<csv::byte> out;
  for (R_xlen_t i = static_cast<R_xlen_t>(from) - 1; i < static_cast<R_xlen_t>(to); i++) {
    for (size_t j = 0; j < column.size(); j++) {
      if (j) out.push_back(static_cast<csv::byte>(sep[0]));
      column[j].add(out, i, sep[0]);
    }
    out.push_back('\n');
  }
  return Rcpp::RawVector(out.begin(), out.end());
}

// Whether numbers are spelled in texts as they would be written; what is missing has no text.
// [[Rcpp::export]]
bool spelled_as_written(SEXP numbers, Rcpp::CharacterVector texts) {
  Fields fields(numbers, static_cast<double>(texts.size()));
  for (R_xlen_t i = 0; i < texts.size(); i++) {
    char number[figures::room];
    int size = fields.written(i, number);
    SEXP text = texts[i];
    if (text == NA_STRING
            ? size > 0
            : size == 0 || size != LENGTH(text) || std::memcmp(CHAR(text), number, size) != 0)
      return false;
  }
  return true;
}
