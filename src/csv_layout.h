#ifndef ABLETURN_CSV_LAYOUT_H
#define ABLETURN_CSV_LAYOUT_H

#include <cstddef>

// What stands in the fields of a table in a text file, told from their bytes, without anything of
// R.
namespace csv {

using byte = unsigned char;

struct Bytes {
  const byte *from;
  std::size_t size;
};

// A field as a number: `plain` if it is written as the package itself would write it, with no zeros
// before or after it that mean nothing and at most 15 figures. Of one with 16 or 17 figures, a
// fraction among them, or with an exponent, that must be looked at (`long_one`).
enum class Written { plain, long_one, otherwise };

struct Figures {
  int before = 0, after = 0;  // the point
  int idle = 0;               // zeros between the point and the first other figure
  bool zero = false;          // no figure but a zero stands before the point
  bool exponent = false;
  int count() const { return zero ? after - idle : before + after; }
};

inline bool is_digit(byte sign) { return sign >= '0' && sign <= '9'; }

// Whether a power of ten, as in e-05, is all that is left.
inline bool is_power(const byte *at, const byte *to) {
  if (at == to || *at++ != 'e') return false;
  if (at < to && (*at == '-' || *at == '+')) at++;
  const byte *power = at;
  while (at < to && is_digit(*at)) at++;
  return at == to && at - power >= 2 && at - power <= 3;
}

inline Written number_form(const byte *from, const byte *to, Figures &has) {
  const byte *start = from + (from < to && *from == '-'), *at = start;
  has = Figures();
  while (at < to && is_digit(*at)) at++;
  has.before = static_cast<int>(at - start);
  has.zero = has.before == 1 && *start == '0';
  if (has.before == 0 || has.before > 15 || (*start == '0' && !has.zero)) return Written::otherwise;
  if (at < to && *at == '.') {
    const byte *point = at++;
    while (at < to && *at == '0') at++;
    has.idle = static_cast<int>(at - point) - 1;
    while (at < to && is_digit(*at)) at++;
    has.after = static_cast<int>(at - point) - 1;
    if (has.after == 0 || at[-1] == '0' || (has.zero && has.idle > 3)) return Written::otherwise;
  } else if (has.zero && start > from) {
    return Written::otherwise;
  }
  has.exponent = at < to;
  if ((has.exponent && !is_power(at, to)) || has.count() > 17) return Written::otherwise;
  return has.exponent || has.count() > 15 ? Written::long_one : Written::plain;
}

// Digits, a comma, digits: a number with a decimal comma, unless the comma marks thousands or parts
// answers that were ticked.
inline bool comma_form(const byte *from, const byte *to, Figures &has) {
  const byte *start = from + (*from == '-'), *at = start;
  while (at < to && is_digit(*at)) at++;
  has.before = static_cast<int>(at - start);
  if (has.before == 0 || has.before > 15 || at == to || *at != ',') return false;
  has.zero = *start == '0';
  if (has.zero && has.before > 1) return false;
  const byte *comma = at++;
  while (at < to && is_digit(*at)) at++;
  has.after = static_cast<int>(at - comma) - 1;
  return has.after > 0 && (at == to || is_power(at, to));
}

// Whether a field is one of the signs that some programs write for no answer, but for NA.
inline bool is_sign_of_none(Bytes field) {
  auto is = [&](const char *sign) {
    std::size_t size = 0;
    while (sign[size] && size < field.size && static_cast<byte>(sign[size]) == field.from[size]) size++;
    return !sign[size] && size == field.size;
  };
  return field.size < 5 && (is(".") || is("-") || is("N/A") || is("NULL"));
}

// What stands in the fields of a column below the header: numbers, as number_form() tells them, and
// as comma_form() does, nothing, NA, and anything else; `na_quoted`: NA in quotes, `quoted`: others
// in quotes, `signs`: other signs for no answer.
struct Layout {
  double numbers = 0, long_ones = 0, commas = 0, blank = 0, na = 0, other = 0;
  double na_quoted = 0, quoted = 0, signs = 0;
  bool whole = true;  // no number has a fraction, or more than nine digits
  bool thousands = true,
       small_pair = true;      // every comma may mark thousands, or part small numbers
  Bytes shown = {nullptr, 0};  // the longest number with a comma among the first

  void add(Bytes field, bool in_quotes) {
    const byte *from = field.from, *to = from + field.size;
    if (field.size == 0) {
      blank++;
      return;
    }
    bool is_na = field.size == 2 && from[0] == 'N' && from[1] == 'A';
    if (in_quotes) (is_na ? na_quoted : quoted)++;
    else if (is_sign_of_none(field)) signs++;
    if (is_na) {
      na++;
    } else if (other || !(add_number(from, to) || add_comma(from, to))) {
      other++;  // one is enough to know that these are no numbers
    }
  }

 private:
  bool add_number(const byte *from, const byte *to) {
    Figures has;
    Written written = number_form(from, to, has);
    if (written == Written::otherwise) return false;
    numbers++;
    if (written == Written::long_one) long_ones++;
    whole &= written == Written::plain && has.after == 0 && has.before <= 9;
    return true;
  }
  bool add_comma(const byte *from, const byte *to) {
    Figures has;
    if (!comma_form(from, to, has)) return false;
    if (commas++ < 1000 && to - from > static_cast<long>(shown.size))
      shown = {from, static_cast<std::size_t>(to - from)};
    thousands &= has.after == 3 && !has.zero;  // a power of ten makes none, but is rare
    small_pair &= has.before <= 2 && has.after <= 2;
    return true;
  }
};

}  // namespace csv

#endif
