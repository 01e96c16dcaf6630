#include <Rcpp/Lightest>
#include <cstring>
#include <string>
#include <vector>

#include "csv.h"
#include "lengths.h"

// The form of a table in a text file, before anybody reads what is in it: what is no regular table
// is told with its line.

namespace {

// The names in a header, in UTF-8; NA for none.
Rcpp::CharacterVector names_of(const std::vector<csv::Bytes> &header) {
  Rcpp::CharacterVector out(header.size());
  std::vector<csv::byte> room;
  for (size_t j = 0; j < header.size(); j++) {
    csv::Bytes field = csv::content(header[j].from, header[j].from + header[j].size, room);
    const char *from = reinterpret_cast<const char *>(field.from);
    out[j] = field.size ? Rf_mkCharLenCE(from, static_cast<int>(field.size), CE_UTF8) : NA_STRING;
  }
  return out;
}

// What stands in a column; `comma`: that it surely is numbers with a decimal comma, one of them
// `shown`.
Rcpp::List told(const csv::Layout &form) {
  bool comma = !form.other && !form.na && form.commas && !form.thousands && !form.small_pair;
  std::string shown(form.shown.from, form.shown.from + form.shown.size);
  return Rcpp::List::create(Rcpp::Named("numbers") = form.numbers,
                            Rcpp::Named("long") = form.long_ones,
                            Rcpp::Named("commas") = form.commas, Rcpp::Named("blank") = form.blank,
                            Rcpp::Named("na") = form.na, Rcpp::Named("na_quoted") = form.na_quoted,
                            Rcpp::Named("quoted") = form.quoted,
                            Rcpp::Named("signs") = form.signs, Rcpp::Named("other") = form.other,
                            Rcpp::Named("whole") = form.whole, Rcpp::Named("comma") = comma,
                            Rcpp::Named("shown") = shown);
}

}  // namespace

// Of the bytes of a file: the names in its header; counts of fields of the header, rows, blank
// lines, quotes and line breaks inside fields; for each column what stands in its fields below the
// header; and the lines of a quote that is not closed, of what follows a closed one, and of the
// first row that has another number of fields; 0 where there is none.
// [[Rcpp::export]]
Rcpp::List csv_shape(Rcpp::RawVector bytes, std::string sep, bool several) {
  csv::Shape shape(bytes.begin(), bytes.end(), sep.empty() ? ',' : static_cast<csv::byte>(sep[0]));
  shape.read(several, [](size_t row) {
    if (row % 65536 == 0) Rcpp::checkUserInterrupt();
  });
  Rcpp::List forms(shape.forms.size());
  for (size_t j = 0; j < shape.forms.size(); j++) forms[j] = told(shape.forms[j]);
  return Rcpp::List::create(
      Rcpp::Named("names") = names_of(shape.header), Rcpp::Named("forms") = forms,
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
