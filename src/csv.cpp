#include <Rcpp.h>
#include <R_ext/Utils.h>
#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <string>
#include <vector>

#include "csv.h"
#include "lengths.h"

// The form of a table in a text file, before anybody reads what is in it: what is no regular table
// is told with its line. And the bytes of such a table.

// Counts over the bytes of a file: fields of the header, rows, blank lines, quotes and line breaks
// inside fields; for each column what stands in its fields below the header; and the lines of a
// quote that is not closed, of what follows a closed one, and of the first row that has another
// number of fields; 0 where there is none.
// [[Rcpp::export]]
Rcpp::List csv_shape(Rcpp::RawVector bytes, std::string sep, bool several) {
  csv::Shape shape(bytes.begin(), bytes.end(), sep.empty() ? ',' : static_cast<csv::byte>(sep[0]));
  shape.read(several);
  Rcpp::List forms(shape.forms.size());
  for (size_t j = 0; j < shape.forms.size(); j++) {
    const csv::Form &form = shape.forms[j];
    forms[j] =
        Rcpp::List::create(Rcpp::Named("numbers") = form.numbers, Rcpp::Named("blank") = form.blank,
                           Rcpp::Named("na") = form.na, Rcpp::Named("other") = form.other,
                           Rcpp::Named("whole") = form.whole);
  }
  return Rcpp::List::create(
      Rcpp::Named("forms") = forms, Rcpp::Named("unclosed") = shape.unclosed,
      Rcpp::Named("after_line") = shape.after_line, Rcpp::Named("after_begun") = shape.after_begun,
      Rcpp::Named("ragged_line") = shape.ragged_line,
      Rcpp::Named("ragged_fields") = shape.ragged_fields, Rcpp::Named("ragged") = shape.ragged,
      Rcpp::Named("fields") = shape.fields, Rcpp::Named("rows") = shape.rows,
      Rcpp::Named("blank") = shape.blank, Rcpp::Named("quoted") = shape.quoted,
      Rcpp::Named("doubled") = shape.doubled, Rcpp::Named("padded") = shape.padded,
      Rcpp::Named("stray") = shape.stray, Rcpp::Named("breaks") = shape.breaks,
      Rcpp::Named("returns") = shape.returns, Rcpp::Named("lone") = shape.lone);
}

namespace {

// A column whose values become fields. A number is written with as few figures as R reads back the
// same, as show_number() does; R itself does not round every one as the C library does. Where the
// column has the attribute `exact`, both must read it back, as other programs do as the C library.
class Fields {
  const SEXP *text = nullptr;
  const int *whole = nullptr;
  const double *real = nullptr;
  bool exact = false;

  static int whole_number(long long value, char *to) {
    char turned[24];
    int size = 0, minus = value < 0;
    unsigned long long left = minus ? 0ull - value : value;
    do turned[size++] = static_cast<char>('0' + left % 10);
    while (left /= 10);
    if (minus) turned[size++] = '-';
    std::reverse_copy(turned, turned + size, to);
    return size;
  }
  static int figures(double value, char *to, size_t room, bool exact) {
    int size = 0;
    for (int digits = 15; digits <= 17; digits++) {
      size = std::snprintf(to, room, "%.*g", digits, value);
      if (R_strtod(to, nullptr) == value && (!exact || std::strtod(to, nullptr) == value)) break;
    }
    return size;
  }
  static int number(double value, char *to, size_t room, bool exact) {
    if (std::fabs(value) < 1e15 && value == std::floor(value) &&
        (value != 0 || !std::signbit(value)))
      return whole_number(static_cast<long long>(value), to);
    if (std::isinf(value)) return std::snprintf(to, room, value > 0 ? "Inf" : "-Inf");
    return figures(value, to, room, exact);
  }

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
      if (text[row] != NA_STRING) csv::add_field(out, CHAR(text[row]), LENGTH(text[row]), sep);
      return;
    }
    char figures[room];
    out.insert(out.end(), figures, figures + written(row, figures));
  }
  // A number as it is written, and its length; 0 for what is missing.
  int written(R_xlen_t row, char *to) const {
    if (whole && whole[row] != NA_INTEGER) return whole_number(whole[row], to);
    return real && !std::isnan(real[row]) ? number(real[row], to, room, exact) : 0;
  }
  static constexpr size_t room = 40;
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
    char figures[Fields::room];
    int size = fields.written(i, figures);
    SEXP text = texts[i];
    if (text == NA_STRING ? size > 0 : size == 0 || size != LENGTH(text) ||
                                           std::memcmp(CHAR(text), figures, size) != 0)
      return false;
  }
  return true;
}

// Whether no byte is above those of the basic letters and signs.
//
// [[Rcpp::export]]
bool is_plain_ascii(Rcpp::RawVector bytes) {
  Rbyte all = 0;
  for (Rbyte byte : bytes) all |= byte;
  return all < 0x80;
}

// Whether a byte is zero, which no text holds.
//
// [[Rcpp::export]]
bool has_zero(Rcpp::RawVector bytes) {
  return std::memchr(bytes.begin(), 0, bytes.size()) != nullptr;
}

// Whether texts hold nothing but the printable letters and blanks of ASCII.
//
// [[Rcpp::export]]
bool all_plain_letters(Rcpp::CharacterVector texts) {
  for (R_xlen_t i = 0; i < texts.size(); i++) {
    SEXP text = STRING_ELT(texts, i);
    if (text == NA_STRING) continue;
    for (const char *at = CHAR(text); *at; at++) {
      bool blank = *at >= '\t' && *at <= '\r';
      if (!blank && (*at < ' ' || *at > '~')) return false;
    }
  }
  return true;
}

namespace {

// A plain number, or NA for a blank field and for NA. R's own reading of numbers, which stops at
// what is no part of one, would not stop at the end of the file.
double plain_number(const csv::byte *from, const csv::byte *to) {
  char figures[24];
  size_t size = std::min<size_t>(to - from, sizeof figures - 1);
  if (size == 0 || *from == 'N') return NA_REAL;
  std::copy_n(from, size, figures);
  figures[size] = 0;
  return R_strtod(figures, nullptr);
}

// Digits alone, no more than an integer holds.
int whole_number(const csv::byte *from, const csv::byte *to) {
  if (from == to || *from == 'N') return NA_INTEGER;
  int value = 0;
  for (const csv::byte *at = from + (*from == '-'); at < to; at++) value = 10 * value + (*at - '0');
  return *from == '-' ? -value : value;
}

// Where the numbers of a column go; of the two one.
struct NumberColumn {
  double *real = nullptr;
  int *whole = nullptr;
};

}  // namespace

// The columns of a regular table that hold nothing but plain numbers, and blanks or NA: `columns`,
// by their places from 1, each a vector of integers where it is `whole`.
//
// [[Rcpp::export]]
Rcpp::List csv_numbers(Rcpp::RawVector bytes, std::string sep, bool several,
                       Rcpp::IntegerVector columns, Rcpp::LogicalVector whole, double rows) {
  const size_t most = static_cast<size_t>(rows);
  Rcpp::List out(columns.size());
  std::vector<NumberColumn> to;
  for (R_xlen_t j = 0; j < columns.size(); j++) {
    need(columns[j] >= 1, "columns and their places");
    out[j] = Rf_allocVector(whole[j] ? INTSXP : REALSXP, static_cast<R_xlen_t>(most));
    to.resize(std::max<size_t>(to.size(), columns[j]));
    if (whole[j]) to[columns[j] - 1].whole = INTEGER(out[j]);
    else to[columns[j] - 1].real = REAL(out[j]);
  }
  double read = 0;
  csv::Shape shape(bytes.begin(), bytes.end(), static_cast<csv::byte>(sep[0]));
  shape.read(several, [&](size_t row, size_t column, const csv::byte *from, const csv::byte *end) {
    if (row == 0 || row > most || column >= to.size()) return;
    if (to[column].whole) to[column].whole[row - 1] = whole_number(from, end);
    else if (to[column].real) to[column].real[row - 1] = plain_number(from, end);
    else return;
    read++;
  });
  need(read == rows * static_cast<double>(columns.size()), "rows and their fields");
  return out;
}
