#include <Rcpp.h>
#include <string>
#include <vector>

#include "csv.h"

// The form of a table in a text file, before anybody reads what is in it: what is no regular table
// is told with its line. And the bytes of such a table.

// Counts over the bytes of a file: fields of the header, rows, blank lines, quotes and line breaks
// inside fields; and the lines of a quote that is not closed, of what follows a closed one, and of
// the first row that has another number of fields; 0 where there is none.
// [[Rcpp::export]]
Rcpp::List csv_shape(Rcpp::RawVector bytes, std::string sep, bool several) {
  csv::Shape shape(bytes.begin(), bytes.end(), sep.empty() ? ',' : static_cast<csv::byte>(sep[0]));
  shape.read(several);
  return Rcpp::List::create(
      Rcpp::Named("unclosed") = shape.unclosed, Rcpp::Named("after_line") = shape.after_line,
      Rcpp::Named("after_begun") = shape.after_begun,
      Rcpp::Named("ragged_line") = shape.ragged_line,
      Rcpp::Named("ragged_fields") = shape.ragged_fields, Rcpp::Named("ragged") = shape.ragged,
      Rcpp::Named("fields") = shape.fields, Rcpp::Named("rows") = shape.rows,
      Rcpp::Named("blank") = shape.blank, Rcpp::Named("quoted") = shape.quoted,
      Rcpp::Named("doubled") = shape.doubled, Rcpp::Named("padded") = shape.padded,
      Rcpp::Named("stray") = shape.stray, Rcpp::Named("breaks") = shape.breaks,
      Rcpp::Named("returns") = shape.returns, Rcpp::Named("lone") = shape.lone);
}

// Rows `from` to `to` (from 1) of columns of text in UTF-8, as lines of a table; what is missing is
// empty.
// [[Rcpp::export]]
Rcpp::RawVector csv_bytes(Rcpp::List columns, double from, double to, std::string sep) {
  std::vector<SEXP> column;
  for (R_xlen_t j = 0; j < columns.size(); j++) {
    SEXP x = columns[j];
    if (TYPEOF(x) != STRSXP || Rf_xlength(x) < to) Rcpp::stop("a column is too short");
    column.push_back(x);
  }
  std::vector<csv::byte> out;
  for (R_xlen_t i = static_cast<R_xlen_t>(from) - 1; i < static_cast<R_xlen_t>(to); i++) {
    for (size_t j = 0; j < column.size(); j++) {
      if (j) out.push_back(static_cast<csv::byte>(sep[0]));
      SEXP text = STRING_ELT(column[j], i);
      if (text != NA_STRING) csv::add_field(out, CHAR(text), LENGTH(text), sep[0]);
    }
    out.push_back('\n');
  }
  return Rcpp::RawVector(out.begin(), out.end());
}
