#include <Rcpp.h>
#include <cstring>
#include <string>
#include <vector>

// The form of a table in a text file, before anybody reads what is in it: what is no regular table is
// told with its line. And the bytes of such a table.
namespace {

class Shape {
  const Rbyte *at, *end;
  Rbyte sep;
  double line = 1;

  bool at_end_of_line() const { return at == end || *at == '\n' || *at == '\r'; }
  void skip_end_of_line() {
    if (at == end) return;
    if (*at == '\r' && at + 1 < end && at[1] == '\n') at++;
    at++;
    line++;
  }
  void read_plain() {
    for (; !at_end_of_line() && *at != sep; at++)
      if (*at == '"') stray++;
  }
  // False if the quote is never closed, or something else follows it.
  bool read_quoted() {
    double begun = line;
    quoted++;
    for (at++; at < end; at++) {
      if (*at == '\n') {
        line++;
        breaks++;
        if (at[-1] == '\r') returns++;
      } else if (*at == '\r' && !(at + 1 < end && at[1] == '\n')) {
        lone++;
      } else if (*at == '"') {
        if (at + 1 < end && at[1] == '"') {
          doubled++;
          at++;
          continue;
        }
        for (at++; at < end && *at == ' ' && sep != ' '; at++) padded++;
        if (at_end_of_line() || *at == sep) return true;
        after_line = line;
        after_begun = begun;
        return false;
      }
    }
    unclosed = begun;
    return false;
  }

 public:
  double unclosed = 0, after_line = 0, after_begun = 0, ragged_line = 0, ragged_fields = 0, ragged = 0, fields = 0, rows = 0, blank = 0;
  double quoted = 0, doubled = 0, padded = 0, stray = 0, breaks = 0, returns = 0, lone = 0;

  Shape(const Rcpp::RawVector &bytes, Rbyte sep) : at(bytes.begin()), end(bytes.end()), sep(sep) {
    if (end - at >= 3 && std::memcmp(at, "\xef\xbb\xbf", 3) == 0) at += 3;
  }
  void read(bool several) {
    while (at < end) {
      if (several && at_end_of_line()) {
        blank++;
        skip_end_of_line();
        continue;
      }
      double begun = line, count = 1;
      for (;; at++) {
        if (at < end && *at == '"') {
          if (!read_quoted()) return;
        } else {
          read_plain();
        }
        if (at_end_of_line()) break;
        count++;
      }
      if (!fields) fields = count;
      else if (count != fields && !ragged++) {
        ragged_line = begun;
        ragged_fields = count;
      }
      rows++;
      skip_end_of_line();
    }
  }
};

void add_field(std::vector<Rbyte> &out, SEXP text, char sep) {
  if (text == NA_STRING) return;
  const char *from = CHAR(text);
  R_xlen_t size = LENGTH(text);
  // In quotes, too, what another program could take for a separator, or for the mark of byte order.
  bool plain = size > 0 && !(size >= 3 && std::memcmp(from, "\xef\xbb\xbf", 3) == 0);
  for (R_xlen_t i = 0; i < size && plain; i++) plain = from[i] != sep && !std::strchr("\"\n\r;\t,", from[i]);
  if (plain) {
    out.insert(out.end(), from, from + size);
    return;
  }
  out.push_back('"');
  for (R_xlen_t i = 0; i < size; i++) {
    if (from[i] == '"') out.push_back('"');
    out.push_back(static_cast<Rbyte>(from[i]));
  }
  out.push_back('"');
}

}  // namespace

// Counts over the bytes of a file: fields of the header, rows, blank lines, quotes and line breaks inside
// fields; and the lines of a quote that is not closed, of what follows a closed one, and of the first row that
// has another number of fields; 0 where there is none.
// [[Rcpp::export]]
Rcpp::List csv_shape(Rcpp::RawVector bytes, std::string sep, bool several) {
  Shape shape(bytes, sep.empty() ? ',' : static_cast<Rbyte>(sep[0]));
  shape.read(several);
  return Rcpp::List::create(
      Rcpp::Named("unclosed") = shape.unclosed, Rcpp::Named("after_line") = shape.after_line,
      Rcpp::Named("after_begun") = shape.after_begun,
      Rcpp::Named("ragged_line") = shape.ragged_line, Rcpp::Named("ragged_fields") = shape.ragged_fields,
      Rcpp::Named("ragged") = shape.ragged, Rcpp::Named("fields") = shape.fields, Rcpp::Named("rows") = shape.rows,
      Rcpp::Named("blank") = shape.blank, Rcpp::Named("quoted") = shape.quoted, Rcpp::Named("doubled") = shape.doubled,
      Rcpp::Named("padded") = shape.padded, Rcpp::Named("stray") = shape.stray, Rcpp::Named("breaks") = shape.breaks,
      Rcpp::Named("returns") = shape.returns, Rcpp::Named("lone") = shape.lone);
}

// Rows `from` to `to` (from 1) of columns of text in UTF-8, as lines of a table; what is missing is empty.
// [[Rcpp::export]]
Rcpp::RawVector csv_bytes(Rcpp::List columns, double from, double to, std::string sep) {
  std::vector<SEXP> column;
  for (R_xlen_t j = 0; j < columns.size(); j++) {
    SEXP x = columns[j];
    if (TYPEOF(x) != STRSXP || Rf_xlength(x) < to) Rcpp::stop("a column is too short");
    column.push_back(x);
  }
  std::vector<Rbyte> out;
  for (R_xlen_t i = static_cast<R_xlen_t>(from) - 1; i < static_cast<R_xlen_t>(to); i++) {
    for (size_t j = 0; j < column.size(); j++) {
      if (j) out.push_back(static_cast<Rbyte>(sep[0]));
      add_field(out, STRING_ELT(column[j], i), sep[0]);
    }
    out.push_back('\n');
  }
  return Rcpp::RawVector(out.begin(), out.end());
}
