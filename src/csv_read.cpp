#include <Rcpp/Lightest>
#include <R_ext/Utils.h>
#include <algorithm>
#include <cstring>
#include <string>
#include <vector>

#include "csv.h"
#include "figures.h"
#include "lengths.h"

// The columns of a regular table in a text file, in UTF-8. What form it has, csv_shape() has told.

namespace {

// The texts of fields. Most columns repeat few texts: those met last are found again here, which is
// quicker than among all texts that R holds.
class Texts {
  struct Met {
    csv::Bytes field = {nullptr, 0};
    SEXP text = nullptr;
  };
  static constexpr size_t places = 8192;
  std::vector<Met> met = std::vector<Met>(places);

  static size_t place(csv::Bytes field) {
    size_t sum = field.size;
    for (size_t i = 0; i < field.size; i++) sum = (sum ^ field.from[i]) * 0x100000001b3ull;
    return (sum ^ (sum >> 20)) % places;
  }
  static bool same(csv::Bytes a, csv::Bytes b) {
    return a.size == b.size && std::memcmp(a.from, b.from, a.size) == 0;
  }
  static SEXP made(csv::Bytes field) {
    need(field.size <= INT_MAX, "a field and what a text can hold");
    return Rf_mkCharLenCE(reinterpret_cast<const char *>(field.from), static_cast<int>(field.size),
                          CE_UTF8);
  }

 public:
  // What is empty is missing. `lasts`: the bytes stay where they are, as those of the file do; what
  // was put together from them does not.
  SEXP of(csv::Bytes field, bool lasts) {
    if (field.size == 0) return NA_STRING;
    if (!lasts) return made(field);
    Met &one = met[place(field)];
    if (!one.text || !same(one.field, field)) one = {field, made(field)};
    return one.text;
  }
};

// A field that holds a number, as number_form() tells.
class Number {
  csv::Bytes field;
  csv::Figures has;
  csv::Written form;
  figures::Decimal decimal;
  bool minus, known;

  static figures::Decimal decimal_of(csv::Bytes field, const csv::Figures &has) {
    std::uint64_t whole = 0;
    if (!has.exponent)
      for (size_t i = 0; i < field.size; i++)
        if (csv::is_digit(field.from[i])) whole = 10 * whole + (field.from[i] - '0');
    return figures::Decimal(whole, has.after, has.count());
  }
  // The field, ended as the functions want it that read one.
  struct Ended {
    char text[figures::room];
    explicit Ended(csv::Bytes field) {
      size_t size = std::min<size_t>(field.size, sizeof text - 1);
      std::copy_n(field.from, size, text);
      text[size] = 0;
    }
  };
  bool is_written(double value, bool exact) const {
    char number[figures::room];
    size_t size = figures::write(value, number, exact);
    return size == field.size && std::memcmp(number, field.from, size) == 0;
  }

 public:
  explicit Number(csv::Bytes field)
      : field(field),
        form(csv::number_form(field.from, field.from + field.size, has)),
        decimal(decimal_of(field, has)),
        minus(*field.from == '-'),
        known(!has.exponent && decimal.is_known()) {}

  double value() const {
    if (known) return minus ? -decimal.as_r_reads() : decimal.as_r_reads();
    return R_strtod(Ended(field).text, nullptr);
  }
  // Whether it is spelled as figures::write() would write it, by fewest figures or exactly: surely
  // both; or each by itself.
  bool is_surely_written() const {
    return known && form == csv::Written::long_one && decimal.is_written_so();
  }
  bool is_shortest(double value) const {
    return form == csv::Written::plain || is_written(value, false);
  }
  bool is_exact(double value) const {
    if (form != csv::Written::plain) return is_written(value, true);
    bool alike = known && decimal.is_read_alike();
    return alike || std::strtod(Ended(field).text, nullptr) == value;
  }
};

// A number with a decimal comma, as comma_form() tells.
double comma_number(csv::Bytes field) {
  std::string text(field.from, field.from + field.size);
  size_t comma = text.find(',');
  if (comma != std::string::npos) text[comma] = '.';
  return R_strtod(text.c_str(), nullptr);
}

// Digits alone, no more than an integer holds.
int whole_of(csv::Bytes field) {
  int value = 0, minus = *field.from == '-';
  for (size_t i = minus; i < field.size; i++) value = 10 * value + (field.from[i] - '0');
  return minus ? -value : value;
}

// Where the fields of a column go.
class Column {
  SEXP text = nullptr;
  double *real = nullptr;
  int *whole = nullptr;
  bool is_long, comma;                 // how numbers are spelled must be looked at; have a comma
  bool marked;                         // NA without quotes is missing
  bool shortest = true, exact = true;  // all are spelled so

  static bool is_na(csv::Bytes field) {
    return field.size == 2 && field.from[0] == 'N' && field.from[1] == 'A';
  }
  static bool is_missing(csv::Bytes field) { return field.size == 0 || field.from[0] == 'N'; }
  double read(csv::Bytes field) {
    if (is_missing(field)) return NA_REAL;
    if (comma) return comma_number(field);
    Number number(field);
    double value = number.value();
    if (is_long && (shortest || exact) && !number.is_surely_written()) {
      shortest = shortest && number.is_shortest(value);
      exact = exact && number.is_exact(value);
    }
    return value;
  }

 public:
  Column(SEXP to, const std::string &type)
      : is_long(type == "long"), comma(type == "comma"), marked(type == "marked") {
    if (TYPEOF(to) == STRSXP) text = to;
    else if (TYPEOF(to) == INTSXP) whole = INTEGER(to);
    else real = REAL(to);
  }
  // `bare`: not in quotes.
  void put(R_xlen_t row, csv::Bytes field, bool bare, bool lasts, Texts &texts) {
    if (text && marked && bare && is_na(field)) SET_STRING_ELT(text, row, NA_STRING);
    else if (text) SET_STRING_ELT(text, row, texts.of(field, lasts));
    else if (whole) whole[row] = is_missing(field) ? NA_INTEGER : whole_of(field);
    else real[row] = read(field);
  }
  const char *spelled() const { return shortest ? "shortest" : exact ? "exact" : "otherwise"; }
};

int type_of(const std::string &name) {
  if (name == "text" || name == "marked") return STRSXP;
  if (name == "whole") return INTSXP;
  need(name == "number" || name == "long" || name == "comma", "columns and their types");
  return REALSXP;
}

}  // namespace

// The columns of a table, each of the type that is asked for: "text"; "marked", texts of which NA
// without quotes is missing; "whole" and "number" where
// nothing but plain numbers stands in it, and blanks or NA; "long" where these may have more
// figures; "comma" where some have a decimal comma; or "none". The attribute `spelled` tells for
// each whether its numbers are spelled as they would be written: "shortest", or "exact" alone, or
// "otherwise".
//
// [[Rcpp::export]]
Rcpp::List csv_columns(Rcpp::RawVector bytes, std::string sep, bool several,
                       Rcpp::CharacterVector types, double rows) {
  const size_t most = static_cast<size_t>(rows), none = types.size();
  Rcpp::List out(types.size());
  std::vector<Column> columns;
  std::vector<size_t> place(types.size(), none);  // of each column of the file among those read
  for (R_xlen_t j = 0; j < types.size(); j++) {
    std::string type = Rcpp::as<std::string>(types[j]);
    if (type == "none") continue;
    out[j] = Rf_allocVector(type_of(type), static_cast<R_xlen_t>(most));
    place[j] = columns.size();
    columns.emplace_back(out[j], type);
  }
  double read = 0;
  Texts texts;
  std::vector<csv::byte> room;
  csv::Shape shape(bytes.begin(), bytes.end(), static_cast<csv::byte>(sep[0]));
  shape.read_fields(
      several, [&](size_t row, size_t column, const csv::byte *from, const csv::byte *to) {
        if (column == 0 && row % 65536 == 0) Rcpp::checkUserInterrupt();
        if (row == 0 || row > most || column >= place.size() || place[column] == none) return;
        csv::Bytes field = csv::content(from, to, room);
        bool lasts = field.from != room.data();
        bool bare = from == to || *from != '"';
        columns[place[column]].put(static_cast<R_xlen_t>(row) - 1, field, bare, lasts, texts);
        read++;
      });
  need(shape.fields == types.size(), "columns and their types");
  need(read == rows * static_cast<double>(columns.size()), "rows and their fields");
  Rcpp::CharacterVector spelled(types.size(), "shortest");
  for (size_t j = 0; j < place.size(); j++)
    if (place[j] != none) spelled[j] = columns[place[j]].spelled();
  out.attr("spelled") = spelled;
  return out;
}
