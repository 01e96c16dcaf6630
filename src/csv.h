#ifndef ABLETURN_CSV_H
#define ABLETURN_CSV_H

#include <cstddef>
#include <cstring>
#include <vector>

// The form of a table in a text file, and one field of such a table as bytes. Nothing of R is used
// here, so that `make fuzz` can build it alone.
namespace csv {

using byte = unsigned char;

struct Bytes {
  const byte *from;
  std::size_t size;
};

// What stands in a field from `from` to `to`, with its quotes or without, and blanks behind these;
// `room` holds it where it is not one piece of the file.
inline Bytes content(const byte *from, const byte *to, std::vector<byte> &room) {
  if (from == to || *from != '"') return {from, static_cast<std::size_t>(to - from)};
  from++;
  const byte *close = to - 1;
  while (*close == ' ') close--;
  bool doubled = std::memchr(from, '"', close - from) != nullptr;
  if (!doubled && close + 1 == to) return {from, static_cast<std::size_t>(close - from)};
  room.clear();
  for (; from < close; from++) {
    room.push_back(*from);
    if (*from == '"') from++;
  }
  room.insert(room.end(), close + 1, to);
  return {room.data(), room.size()};
}

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

// What stands in the fields of a column below the header: numbers, as number_form() tells them, and
// as comma_form() does, nothing, NA, and anything else.
struct Form {
  double numbers = 0, long_ones = 0, commas = 0, blank = 0, na = 0, other = 0;
  bool whole = true;  // no number has a fraction, or more than nine digits
  bool thousands = true,
       small_pair = true;      // every comma may mark thousands, or part small numbers
  Bytes shown = {nullptr, 0};  // the longest number with a comma among the first

  void add(Bytes field) {
    const byte *from = field.from, *to = from + field.size;
    if (field.size == 0) {
      blank++;
    } else if (field.size == 2 && from[0] == 'N' && from[1] == 'A') {
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

// Reads bytes once from the front; stops at a quote that is not closed and at what follows a closed
// one.
class Shape {
  const byte *at, *end;
  byte sep;
  bool stops[256] = {};  // the signs at which a field outside quotes may end, and the quote
  double line = 1;

  bool at_end_of_line() const { return at == end || *at == '\n' || *at == '\r'; }
  void skip_end_of_line() {
    if (at == end) return;
    if (*at == '\r' && at + 1 < end && at[1] == '\n') at++;
    at++;
    line++;
  }
  void read_plain() {
    for (;; at++) {
      while (at < end && !stops[*at]) at++;
      if (at_end_of_line() || *at == sep) return;
      stray++;  // a quote inside a field
    }
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
  double unclosed = 0, after_line = 0, after_begun = 0, ragged_line = 0, ragged_fields = 0,
         ragged = 0;
  double fields = 0, rows = 0, blank = 0;
  double quoted = 0, doubled = 0, padded = 0, stray = 0, breaks = 0, returns = 0, lone = 0;
  std::vector<Bytes> header;  // its fields, with their quotes
  std::vector<Form> forms;    // of each column of the header

  Shape(const byte *from, const byte *to, byte sep) : at(from), end(to), sep(sep) {
    for (byte sign : {sep, byte('\n'), byte('\r'), byte('"')}) stops[sign] = true;
    if (end - at >= 3 && std::memcmp(at, "\xef\xbb\xbf", 3) == 0) at += 3;
  }
  // The fields of the header, and what stands below it; `begin_row` is called with each row.
  template <typename Row>
  void read(bool several, Row begin_row) {
    std::vector<byte> room;
    read_fields(several,
                [&](std::size_t row, std::size_t column, const byte *from, const byte *to) {
                  if (column == 0) begin_row(row);
                  if (row == 0) header.push_back({from, static_cast<std::size_t>(to - from)});
                  else if (column < forms.size()) forms[column].add(content(from, to, room));
                });
  }
  // Calls field(row, column, from, to) for each field, the header being row 0; of one in quotes
  // `from` stands on the first of these.
  template <typename Field>
  void read_fields(bool several, Field field) {
    while (at < end) {
      if (several && at_end_of_line()) {
        blank++;
        skip_end_of_line();
        continue;
      }
      double begun = line, count = 1;
      for (;; at++) {
        const byte *start = at;
        if (at < end && *at == '"') {
          if (!read_quoted()) return;
        } else {
          read_plain();
        }
        field(static_cast<std::size_t>(rows), static_cast<std::size_t>(count) - 1, start, at);
        if (at_end_of_line()) break;
        count++;
      }
      if (!fields) {
        fields = count;
        forms.resize(static_cast<std::size_t>(count));
      } else if (count != fields && !ragged++) {
        ragged_line = begun;
        ragged_fields = count;
      }
      rows++;
      skip_end_of_line();
    }
  }
};

// A text as a field: in quotes where it is empty or another program could take a sign in it for a
// separator, or its start for the mark of byte order.
inline void add_field(std::vector<byte> &out, const char *from, std::size_t size, char sep) {
  bool plain = size > 0 && !(size >= 3 && std::memcmp(from, "\xef\xbb\xbf", 3) == 0);
  for (std::size_t i = 0; i < size && plain; i++)
    plain = from[i] != sep && !std::strchr("\"\n\r;\t,", from[i]);
  if (plain) {
    out.insert(out.end(), from, from + size);
    return;
  }
  out.push_back('"');
  for (std::size_t i = 0; i < size; i++) {
    if (from[i] == '"') out.push_back('"');
    out.push_back(static_cast<byte>(from[i]));
  }
  out.push_back('"');
}

}  // namespace csv

#endif
