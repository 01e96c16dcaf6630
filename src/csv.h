#ifndef ABLETURN_CSV_H
#define ABLETURN_CSV_H

#include <cstddef>
#include <cstring>
#include <vector>

#include "csv_layout.h"

// The form of a table in a text file, and one field of such a table as bytes. Nothing of R is used
// here, so that `make fuzz` can build it alone.
namespace csv {

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
  std::vector<Layout> forms;    // of each column of the header

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
                  else if (column < forms.size()) forms[column].add(content(from, to, room), from < to && *from == '"');
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
// separator, or its start for the mark of byte order; with `marks` also where it is NA, which
// without quotes is no answer.
inline void add_field(std::vector<byte> &out, const char *from, std::size_t size, char sep,
                      bool marks = false) {
  bool plain = size > 0 && !(size >= 3 && std::memcmp(from, "\xef\xbb\xbf", 3) == 0);
  if (marks && size == 2 && std::memcmp(from, "NA", 2) == 0) plain = false;
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
