#include <Rcpp/Lightest>

#include <cstring>
#include <locale>
#include <sstream>
#include <string>

// Texts of numbers and dates that are typed in another way than R reads them; `ways_to_read` states
// the same ways as patterns, for the scripts.

namespace {

// A place in a text in UTF-8 that ends with a zero byte.
class Place {
  const char *at;

 public:
  explicit Place(const char *text) : at(text) {}

  bool ends() const { return *at == '\0'; }
  char sign() const { return *at; }
  void next() { at++; }
  // Goes on where `mark` comes next, and tells so.
  bool takes(const char *mark) {
    size_t size = std::strlen(mark);
    if (std::strncmp(at, mark, size) != 0) return false;
    at += size;
    return true;
  }
  bool at_digit() const { return *at >= '0' && *at <= '9'; }
  bool at_space() const { return *at == ' ' || (*at >= '\t' && *at <= '\r'); }
  void skip_spaces() {
    while (at_space()) at++;
  }
  // Blanks as people type them between digits, too: those that do not break a line.
  void skip_blanks() {
    do skip_spaces();
    while (takes("\u00a0") || takes("\u202f"));
  }
  // Up to `most` digits, which are added to `to`; how many there were.
  int digits(std::string &to, int most) {
    int count = 0;
    for (; count < most && at_digit(); count++) to += *at++;
    return count;
  }
};

const int any_number = 1 << 30;

// Numbers with one sign as decimal mark and another at the thousands.
class Number {
  char point;
  const char *marks[6];
  std::string figures;

  bool tail(Place place) {
    place.skip_blanks();
    if (place.sign() == '%') place.next();
    place.skip_blanks();
    return place.ends();
  }
  void fraction(Place &place) {
    if (place.sign() != point) return;
    place.next();
    figures += '.';
    place.digits(figures, any_number);
  }
  bool power_and_tail(Place place) {
    if (place.sign() != 'e' && place.sign() != 'E') return tail(place);
    place.next();
    figures += 'e';
    if (place.sign() == '-' || place.sign() == '+') {
      figures += place.sign();
      place.next();
    }
    return place.digits(figures, any_number) > 0 && tail(place);
  }
  // 1.234.567: the mark is the same throughout.
  bool grouped(Place place) {
    if (place.sign() == '0' || place.digits(figures, 3) == 0) return false;
    for (const char *mark : marks) {
      int groups = 0;
      while (group(place, mark)) groups++;
      if (!groups) continue;
      fraction(place);
      return tail(place);
    }
    return false;
  }
  bool group(Place &place, const char *mark) {
    Place after = place;
    std::string three;
    if (!after.takes(mark) || after.digits(three, 3) < 3) return false;
    figures += three;
    place = after;
    return true;
  }
  bool plain(Place place) {
    if (place.digits(figures, any_number) == 0) return false;
    fraction(place);
    return power_and_tail(place);
  }
  bool fraction_alone(Place place) {
    if (place.sign() != point) return false;
    place.next();
    figures += '.';
    return place.digits(figures, any_number) > 0 && power_and_tail(place);
  }

 public:
  explicit Number(bool comma)
      : point(comma ? ',' : '.'),
        marks{comma ? "." : ",", "'", "\u2019", " ", "\u00a0", "\u202f"} {}

  double read(const char *text) {
    Place place(text);
    place.skip_blanks();
    std::string sign;
    if (place.sign() == '-' || place.sign() == '+') {
      sign = place.sign();
      place.next();
    }
    for (auto form : {&Number::grouped, &Number::plain, &Number::fraction_alone}) {
      figures = sign;
      if ((this->*form)(place)) return R_strtod(figures.c_str(), nullptr);
    }
    return NA_REAL;
  }
};

// Days since 1970-01-01, by the Gregorian calendar throughout; NA where there is no such day.
double day_of(int year, int month, int day) {
  static const int lengths[] = {31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31};
  if (month < 1 || month > 12 || day < 1) return NA_REAL;
  bool leap = year % 4 == 0 && (year % 100 != 0 || year % 400 == 0);
  if (day > lengths[month - 1] + (month == 2 && leap)) return NA_REAL;
  // A year that begins in March has its leap day at its end.
  int from = year - (month <= 2) + 400, shifted = (month + 9) % 12;
  int days = (153 * shifted + 2) / 5 + day - 1 + from * 365 + from / 4 - from / 100 + from / 400;
  return days - 146097 - 719468;
}

// The day or the month first; or the year, as in dates that have been put in order.
class Day {
  bool day_first;

  static bool part(Place &place, int least, int most, int &value) {
    std::string figures;
    if (place.digits(figures, most) < least) return false;
    value = std::stoi(figures);
    return true;
  }
  static bool parted(Place &place) {
    if (place.sign() != '.' && place.sign() != '/' && place.sign() != '-') return false;
    place.next();
    if (place.sign() == ' ') place.next();
    return true;
  }
  static bool hyphen(Place &place) { return place.takes("-"); }
  static bool ends(Place place) {
    place.skip_spaces();
    return place.ends();
  }
  static bool year_last(Place place, int &first, int &second, int &year) {
    return part(place, 1, 2, first) && parted(place) && part(place, 1, 2, second) &&
           parted(place) && part(place, 4, 4, year) && ends(place);
  }
  static bool year_first(Place place, int &year, int &month, int &day) {
    return part(place, 4, 4, year) && hyphen(place) && part(place, 1, 2, month) && hyphen(place) &&
           part(place, 1, 2, day) && ends(place);
  }

 public:
  explicit Day(bool day_first) : day_first(day_first) {}

  double read(const char *text) const {
    Place place(text);
    place.skip_spaces();
    int first = 0, second = 0, year = 0;
    if (year_last(place, first, second, year))
      return day_first ? day_of(year, second, first) : day_of(year, first, second);
    return year_first(place, year, first, second) ? day_of(year, first, second) : NA_REAL;
  }
};

// Whether a text is a plain number, as `plain_number` states it in R, and no label of digits: none
// that begins with a zero and another digit, or with 16 digits.
bool is_plain_number(const char *text) {
  std::string figures;
  Place place(text);
  auto skip = [&place] {
    while (place.sign() == ' ' || place.sign() == '\t') place.next();
  };
  auto skip_sign = [&place] {
    if (place.sign() == '-' || place.sign() == '+') place.next();
  };
  skip();
  skip_sign();
  bool zero = place.sign() == '0';
  int before = place.digits(figures, any_number), after = 0;
  if ((zero && before > 1) || before >= 16) return false;
  if (place.takes(".")) after = place.digits(figures, any_number);
  if (before + after == 0) return false;
  if (place.sign() == 'e' || place.sign() == 'E') {
    place.next();
    skip_sign();
    if (place.digits(figures, any_number) == 0) return false;
  }
  skip();
  return place.ends();
}

template <typename Reader>
Rcpp::NumericVector read_all(Rcpp::CharacterVector texts, Reader reader) {
  Rcpp::NumericVector out(texts.size());
  for (R_xlen_t i = 0; i < texts.size(); i++) {
    SEXP text = texts[i];
    out[i] = text == NA_STRING ? NA_REAL : reader.read(Rf_translateCharUTF8(text));
  }
  return out;
}

}  // namespace

// Texts as numbers; NA where a text is none.
// [[Rcpp::export]]
Rcpp::NumericVector typed_numbers(Rcpp::CharacterVector texts, bool comma) {
  return read_all(texts, Number(comma));
}

// Texts as numbers where all are plain ones; else NULL.
// [[Rcpp::export]]
SEXP plain_numbers(Rcpp::CharacterVector texts) {
  Rcpp::NumericVector out(texts.size());
  for (R_xlen_t i = 0; i < texts.size(); i++) {
    out[i] = NA_REAL;
    if (texts[i] == NA_STRING) continue;
    const char *text = CHAR(texts[i]);
    if (!is_plain_number(text)) return R_NilValue;
    while (*text == ' ' || *text == '\t') text++;
    out[i] = R_strtod(text, nullptr);
  }
  return out;
}

// Texts as days since 1970-01-01; NA where a text is no date.
// [[Rcpp::export]]
Rcpp::NumericVector typed_days(Rcpp::CharacterVector texts, bool day_first) {
  return read_all(texts, Day(day_first));
}

// Whether nothing but blanks stands in a text, or nothing at all.
// [[Rcpp::export]]
Rcpp::LogicalVector are_blank(Rcpp::CharacterVector texts) {
  Rcpp::LogicalVector out(texts.size());
  for (R_xlen_t i = 0; i < texts.size(); i++) {
    SEXP text = texts[i];
    const char *at = text == NA_STRING ? "" : CHAR(text);
    out[i] = at[std::strspn(at, " \t\n\v\f\r")] == '\0';
  }
  return out;
}

// Whether a text begins with a zero and another digit, with or without a sign before it.
// [[Rcpp::export]]
Rcpp::LogicalVector start_with_zero(Rcpp::CharacterVector texts) {
  Rcpp::LogicalVector out(texts.size());
  for (R_xlen_t i = 0; i < texts.size(); i++) {
    Place place(texts[i] == NA_STRING ? "" : CHAR(texts[i]));
    place.skip_spaces();
    if (place.sign() == '-' || place.sign() == '+') place.next();
    if (place.sign() != '0') continue;
    place.next();
    out[i] = place.at_digit();
  }
  return out;
}

// Texts of numbers with a point, whatever the locale, rounded rightly, unlike R's own way, which
// goes by 64 binary digits.
//
// [[Rcpp::export]]
Rcpp::NumericVector read_exactly(Rcpp::CharacterVector texts) {
  Rcpp::NumericVector out(texts.size());
  for (R_xlen_t i = 0; i < texts.size(); i++) {
    std::istringstream text(CHAR(STRING_ELT(texts, i)));
    text.imbue(std::locale::classic());
    double value = 0;
    out[i] = text >> value ? value : R_NaN; // out of the range of numbers
  }
  return out;
}
