#ifndef ABLETURN_CSV_H
#define ABLETURN_CSV_H

#include <cstddef>
#include <cstring>
#include <vector>

// The form of a table in a text file, and one field of such a table as bytes. Nothing of R is used
// here, so that `make fuzz` can build it alone.
namespace csv {

using byte = unsigned char;

// What stands in the fields of a column below the header. A plain number is written as the package
// itself writes it: no zeros before or after that mean nothing, at most 15 digits, no exponent.
struct Form {
  double numbers = 0, blank = 0, na = 0, other = 0;
  bool whole = true;  // no number has a fraction, or more than nine digits

  void add(const byte *from, const byte *to) {
    if (from == to) {
      blank++;
    } else if (is_plain(from, to)) {
      numbers++;
    } else if (to - from == 2 && from[0] == 'N' && from[1] == 'A') {
      na++;
    } else {
      other++;
    }
  }

 private:
  static bool is_digit(byte sign) { return sign >= '0' && sign <= '9'; }
  bool is_plain(const byte *from, const byte *to) {
    const byte *start = from + (*from == '-'), *at = start;
    while (at < to && is_digit(*at)) at++;
    long before = at - start, after = 0;
    bool zero = before == 1 && *start == '0';
    if (before == 0 || (*start == '0' && !zero)) return false;
    if (at < to) {
      if (*at != '.') return false;
      const byte *point = at++;
      while (at < to && is_digit(*at)) at++;
      after = at - point - 1;
      if (at != to || after == 0 || at[-1] == '0') return false;
      if (zero && after > 4) return false;
    } else if (zero && start > from) {
      return false;
    }
    if (before + after > 15) return false;
    whole &= after == 0 && before <= 9;
    return true;
  }
};

// Reads bytes once from the front; stops at a quote that is not closed and at what follows a closed
// one.
class Shape {
  const byte *at, *end;
  byte sep;
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
  double unclosed = 0, after_line = 0, after_begun = 0, ragged_line = 0, ragged_fields = 0,
         ragged = 0;
  double fields = 0, rows = 0, blank = 0;
  double quoted = 0, doubled = 0, padded = 0, stray = 0, breaks = 0, returns = 0, lone = 0;
  std::vector<Form> forms;  // of each column of the header

  Shape(const byte *from, const byte *to, byte sep) : at(from), end(to), sep(sep) {
    if (end - at >= 3 && std::memcmp(at, "\xef\xbb\xbf", 3) == 0) at += 3;
  }
  // What stands below the header.
  void read(bool several) {
    read(several, [&](std::size_t row, std::size_t column, const byte *from, const byte *to) {
      if (row == 0 || column >= forms.size()) return;
      if (from < to && *from == '"') forms[column].other++;
      else forms[column].add(from, to);
    });
  }
  // Calls field(row, column, from, to) for each field, the header being row 0; of one in quotes
  // `from` stands on the first of these.
  template <typename Field>
  void read(bool several, Field field) {
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
