// Guided by coverage (clang's libFuzzer): whatever the bytes are, the form of a table that csv.h
// tells agrees with a second reading by another method, and a table that it wrote is read as what
// was written.
#include <cstdint>
#include <cstdlib>
#include <string>
#include <vector>

#include "../../src/csv.h"

static void hold(bool what) {
  if (!what) std::abort();
}

// Sign by sign, one state: S start of a field, P plain, Q in quotes, E after a quote that may
// close.
struct Plainly {
  double rows = 0, fields = 0, ragged = 0, blank = 0;
  bool unclosed = false, after = false;
  double count = 1;
  void end_row() {
    if (!fields) fields = count;
    else if (count != fields) ragged++;
    rows++;
    count = 1;
  }
  void read(const std::string &all, char sep, bool several) {
    std::string text;
    char state = 'S';
    bool begun = false;
    for (size_t i = 0; i < all.size(); i++) {
      char c = all[i];
      if (state == 'Q') {
        if (c == '"') state = 'E';
        continue;
      }
      bool line = c == '\n' || c == '\r';
      if (state == 'E') {
        if (c == '"' && all[i - 1] == '"') {
          state = 'Q';
          continue;
        }
        if (c == ' ' && sep != ' ') continue;
        if (c != sep && !line) {
          after = true;
          return;
        }
      }
      if (line) {
        if (several && !begun) blank++;
        else end_row();
        if (c == '\r' && i + 1 < all.size() && all[i + 1] == '\n') i++;
        state = 'S';
        begun = false;
      } else if (c == sep) {
        count++;
        state = 'S';
        begun = true;
      } else {
        if (state == 'S') state = c == '"' ? 'Q' : 'P';
        begun = true;
      }
    }
    unclosed = state == 'Q';
    if (!unclosed && begun) end_row();
  }
};

static void read_any(const std::string &bytes, char sep, bool several) {
  auto from = reinterpret_cast<const csv::byte *>(bytes.data());
  csv::Shape shape(from, from + bytes.size(), static_cast<csv::byte>(sep));
  shape.read(several, [](std::size_t) {});
  bool mark = bytes.compare(0, 3, "\xef\xbb\xbf") == 0;
  Plainly plainly;
  plainly.read(mark ? bytes.substr(3) : bytes, sep, several);
  hold(plainly.unclosed == (shape.unclosed > 0));
  hold(plainly.after == (shape.after_line > 0));
  hold(plainly.rows == shape.rows && plainly.fields == shape.fields);
  hold(plainly.ragged == shape.ragged && plainly.blank == shape.blank);
}

static void write_and_read(const std::string &bytes, char sep, size_t columns) {
  std::vector<csv::byte> out;
  std::vector<std::string> put;
  size_t fields = 0;
  for (size_t from = 0; from <= bytes.size(); fields++) {
    size_t to = bytes.find('\x1f', from);
    if (to == std::string::npos) to = bytes.size();
    if (fields % columns) out.push_back(static_cast<csv::byte>(sep));
    else if (fields) out.push_back('\n');
    csv::add_field(out, bytes.data() + from, to - from, sep);
    put.push_back(bytes.substr(from, to - from));
    from = to + 1;
  }
  for (; fields % columns; fields++) out.push_back(static_cast<csv::byte>(sep));
  out.push_back('\n');
  csv::Shape shape(out.data(), out.data() + out.size(), static_cast<csv::byte>(sep));
  shape.read(columns == 1, [](std::size_t) {});
  hold(!shape.unclosed && !shape.after_line && !shape.ragged && !shape.blank && !shape.stray);
  hold(shape.fields == columns && shape.rows == fields / columns);
  std::vector<csv::byte> room;
  csv::Shape again(out.data(), out.data() + out.size(), static_cast<csv::byte>(sep));
  again.read_fields(columns == 1,
                    [&](size_t row, size_t column, const csv::byte *from, const csv::byte *to) {
                      csv::Bytes field = csv::content(from, to, room);
                      size_t place = row * columns + column;
                      const std::string want = place < put.size() ? put[place] : "";
                      hold(std::string(field.from, field.from + field.size) == want);
                    });
}

extern "C" int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size) {
  if (size < 1) return 0;
  const char seps[] = {',', ';', '\t', '|', ' '};
  char sep = seps[data[0] % 5];
  std::string bytes(reinterpret_cast<const char *>(data) + 1, size - 1);
  read_any(bytes, sep, data[0] & 64);
  write_and_read(bytes, sep, 1 + data[0] / 5 % 4);
  return 0;
}
