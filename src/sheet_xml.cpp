#include <Rcpp.h>
#include <R_ext/Utils.h>

#include <cstring>
#include <string>
#include <vector>

// The cells of a sheet in OpenDocument, from the bytes of its XML. Elements and attributes are told
// by what follows the colon of their names. No declaration of a document type is read, so that
// nothing in it stands for anything else.

namespace {

// What cannot be read as such a document.
struct Broken {};

class Scanner {
  const char *at, *end;
  const char *inside = nullptr, *inside_end = nullptr;  // the attributes of the present tag

  static bool is_space(char sign) {
    return sign == ' ' || sign == '\t' || sign == '\n' || sign == '\r';
  }
  static bool starts(const char *from, const char *to, const char *what) {
    size_t size = std::strlen(what);
    return static_cast<size_t>(to - from) >= size && std::memcmp(from, what, size) == 0;
  }
  const char *find(const char *from, const char *what) const {
    size_t size = std::strlen(what);
    for (; from + size <= end; from++)
      if (*from == *what && std::memcmp(from, what, size) == 0) return from;
    throw Broken();
  }
  static void add_code(std::string &to, unsigned long code) {
    if (code == 0 || code > 0x10ffff) throw Broken();
    if (code < 0x80) {
      to += static_cast<char>(code);
    } else if (code < 0x800) {
      to += static_cast<char>(0xc0 | code >> 6);
      to += static_cast<char>(0x80 | (code & 0x3f));
    } else if (code < 0x10000) {
      to += static_cast<char>(0xe0 | code >> 12);
      to += static_cast<char>(0x80 | (code >> 6 & 0x3f));
      to += static_cast<char>(0x80 | (code & 0x3f));
    } else {
      to += static_cast<char>(0xf0 | code >> 18);
      to += static_cast<char>(0x80 | (code >> 12 & 0x3f));
      to += static_cast<char>(0x80 | (code >> 6 & 0x3f));
      to += static_cast<char>(0x80 | (code & 0x3f));
    }
  }
  static void add_sign(std::string &to, const std::string &name) {
    static const char *const known[][2] = {
        {"amp", "&"}, {"lt", "<"}, {"gt", ">"}, {"quot", "\""}, {"apos", "'"}};
    for (auto &pair : known)
      if (name == pair[0]) {
        to += pair[1];
        return;
      }
    if (name.size() < 2 || name[0] != '#') throw Broken();
    bool hex = name[1] == 'x';
    add_code(to, std::strtoul(name.c_str() + 1 + hex, nullptr, hex ? 16 : 10));
  }
  static void add_text(std::string &to, const char *from, const char *until) {
    while (from < until) {
      if (*from != '&') {
        to += *from++;
        continue;
      }
      const char *stop = static_cast<const char *>(std::memchr(from, ';', until - from));
      if (!stop || stop - from > 12) throw Broken();
      add_sign(to, std::string(from + 1, stop));
      from = stop + 1;
    }
  }
  static std::string local(const char *from, const char *to) {
    const char *colon = static_cast<const char *>(std::memchr(from, ':', to - from));
    return std::string(colon ? colon + 1 : from, to);
  }
  void read_tag() {
    const char *stop = at;
    for (char quote = 0; stop < end && (quote || *stop != '>'); stop++) {
      if (!quote && *stop == '<') throw Broken();
      if (quote ? *stop == quote : (*stop == '"' || *stop == '\'')) quote = quote ? 0 : *stop;
    }
    if (stop >= end) throw Broken();
    closes = *at == '/';
    if (closes) at++;
    const char *name = at;
    while (at < stop && !is_space(*at) && *at != '/') at++;
    tag = local(name, at);
    alone = !closes && stop[-1] == '/';
    inside = at;
    inside_end = stop - alone;
    at = stop + 1;
  }

 public:
  std::string tag;
  bool closes = false, alone = false;

  explicit Scanner(const Rcpp::RawVector &bytes)
      : at(reinterpret_cast<const char *>(bytes.begin())), end(at + bytes.size()) {}

  // No text holds a zero.
  bool holds_zero() const { return at < end && std::memchr(at, 0, end - at) != nullptr; }

  // Goes on to the next tag; the text on the way is added where it is wanted. False at the end.
  bool next(std::string *text) {
    while (at < end) {
      const char *open = static_cast<const char *>(std::memchr(at, '<', end - at));
      if (text) add_text(*text, at, open ? open : end);
      if (!open) break;
      at = open + 1;
      if (starts(at, end, "!--")) {
        at = find(at, "-->") + 3;
      } else if (starts(at, end, "![CDATA[")) {
        const char *stop = find(at, "]]>");
        if (text) text->append(at + 8, stop);
        at = stop + 3;
      } else if (*at == '?') {
        at = find(at, "?>") + 2;
      } else if (*at == '!') {
        throw Broken();
      } else {
        read_tag();
        return true;
      }
    }
    at = end;
    return false;
  }

  // Whether the present tag has an attribute, which is put into `value`.
  bool attribute(const char *wanted, std::string &value) const {
    for (const char *p = inside; p < inside_end;) {
      while (p < inside_end && is_space(*p)) p++;
      const char *name = p;
      while (p < inside_end && *p != '=' && !is_space(*p)) p++;
      const char *name_end = p;
      while (p < inside_end && *p != '"' && *p != '\'') p++;
      if (p >= inside_end) return false;
      char quote = *p++;
      const char *from = p;
      while (p < inside_end && *p != quote) p++;
      if (local(name, name_end) == wanted) {
        value.clear();
        add_text(value, from, p);
        return true;
      }
      p++;
    }
    return false;
  }
  double times(const char *wanted) const {
    std::string said;
    double count = attribute(wanted, said) ? std::strtod(said.c_str(), nullptr) : 1;
    return count >= 1 && count < 1e9 ? count : count >= 1e9 ? 1e9 : 1;
  }
};

struct Cell {
  double column = 0, across = 1;
  std::string type, value, text;
  bool has_value = false;
};

class Cells {
  std::vector<double> rows, columns;
  std::vector<std::string> types, values, texts;
  std::vector<bool> has_value;
  std::vector<Cell> row;
  double place = 0, column = 0, most;

  void add(const Cell &cell, double at_row, double at_column) {
    rows.push_back(at_row);
    columns.push_back(at_column);
    types.push_back(cell.type);
    values.push_back(cell.value);
    texts.push_back(cell.text);
    has_value.push_back(cell.has_value);
  }
  Rcpp::CharacterVector as_texts(const std::vector<std::string> &from, bool with_gaps) const {
    Rcpp::CharacterVector out(from.size());
    for (size_t i = 0; i < from.size(); i++) {
      if (with_gaps && !has_value[i]) {
        out[i] = NA_STRING;
      } else {
        out[i] = Rf_mkCharLenCE(from[i].data(), static_cast<int>(from[i].size()), CE_UTF8);
      }
    }
    return out;
  }

  // Up to the end of the cell; paragraphs are lines, and what is noted beside a cell is left out.
  static void read_text(Scanner &scanner, Cell &cell) {
    int paragraphs = 0, depth = 0, notes = 0;
    while (true) {
      if (!scanner.next(depth > 0 && notes == 0 ? &cell.text : nullptr)) throw Broken();
      if (scanner.closes && scanner.tag == cell_tag) return;
      if (scanner.tag == "annotation" && !scanner.alone) notes += scanner.closes ? -1 : 1;
      if (notes) continue;
      if (scanner.tag == "p") {
        if (!scanner.closes && paragraphs++) cell.text += '\n';
        if (!scanner.alone) depth += scanner.closes ? -1 : 1;
      } else if (depth && !scanner.closes) {
        add_blank(scanner, cell.text);
      }
    }
  }
  static void add_blank(const Scanner &scanner, std::string &text) {
    if (scanner.tag == "s")
      text.append(static_cast<size_t>(std::min(scanner.times("c"), 1e5)), ' ');
    if (scanner.tag == "tab") text += '\t';
    if (scanner.tag == "line-break") text += '\n';
  }

 public:
  static constexpr const char *cell_tag = "table-cell";
  bool over = false;

  explicit Cells(double most) : most(most) {}

  void read_cell(Scanner &scanner) {
    Cell cell;
    cell.column = column;
    cell.across = scanner.times("number-columns-repeated");
    column += cell.across;
    scanner.attribute("value-type", cell.type);
    for (const char *key : {"value", "date-value", "boolean-value", "time-value", "string-value"})
      if (!cell.has_value) cell.has_value = scanner.attribute(key, cell.value);
    if (!scanner.alone) read_text(scanner, cell);
    if (cell.type.empty() && !cell.text.empty()) cell.type = "string";
    if (!cell.type.empty()) row.push_back(cell);
  }
  void skip(double across) { column += across; }
  void end_row(double down) {
    for (const Cell &cell : row) {
      if (rows.size() + down * cell.across > most) over = true;
      for (double i = 0; !over && i < down; i++)
        for (double j = 0; j < cell.across; j++) add(cell, place + i + 1, cell.column + j + 1);
    }
    row.clear();
    place += down;
    column = 0;
  }
  Rcpp::List given() const {
    return Rcpp::List::create(Rcpp::Named("row") = rows, Rcpp::Named("column") = columns,
                              Rcpp::Named("type") = as_texts(types, false),
                              Rcpp::Named("value") = as_texts(values, true),
                              Rcpp::Named("text") = as_texts(texts, false));
  }
};

void read_sheet_cells(Scanner &scanner, Cells &cells) {
  double down = 1;
  while (!cells.over && scanner.next(nullptr)) {
    R_CheckUserInterrupt();
    if (scanner.tag == "table" && scanner.closes) return;
    if (scanner.tag == "table-row") {
      if (!scanner.closes) down = scanner.times("number-rows-repeated");
      if (scanner.closes || scanner.alone) cells.end_row(down);
    } else if (scanner.tag == Cells::cell_tag && !scanner.closes) {
      cells.read_cell(scanner);
    } else if (scanner.tag == "covered-table-cell" && !scanner.closes) {
      cells.skip(scanner.times("number-columns-repeated"));
    }
  }
  if (!cells.over) throw Broken();
}

}  // namespace

// The names of the sheets; NULL where the bytes are no such document.
// [[Rcpp::export]]
SEXP document_sheets(Rcpp::RawVector bytes) {
  Scanner scanner(bytes);
  if (scanner.holds_zero()) return R_NilValue;
  Rcpp::CharacterVector out;
  bool whole = false;
  try {
    for (int depth = 0; scanner.next(nullptr);) {
      bool table = scanner.tag == "table";
      std::string name;
      if (table && !scanner.closes && depth == 0 && scanner.attribute("name", name))
        out.push_back(Rcpp::String(name, CE_UTF8));
      if (table && !scanner.alone) depth += scanner.closes ? -1 : 1;
      whole = scanner.closes && scanner.tag == "document-content";
    }
  } catch (const Broken &) {
    whole = false;
  }
  return whole ? static_cast<SEXP>(out) : R_NilValue;
}

// The cells of one sheet that hold something, one below the other, each as often as it is repeated:
// row and column, type, value (NA where none is stated), and the text that is shown. NULL where they
// cannot be read; TRUE where they would be more than `most`.
// [[Rcpp::export]]
SEXP document_cells(Rcpp::RawVector bytes, int sheet, double most) {
  Scanner scanner(bytes);
  if (scanner.holds_zero()) return R_NilValue;
  Cells cells(most);
  try {
    for (int depth = 0, place = 0; scanner.next(nullptr);) {
      if (scanner.tag != "table") continue;
      std::string name;
      bool outer = !scanner.closes && depth == 0 && scanner.attribute("name", name);
      if (outer && ++place == sheet) {
        if (!scanner.alone) read_sheet_cells(scanner, cells);
        break;
      }
      if (!scanner.alone) depth += scanner.closes ? -1 : 1;
    }
  } catch (const Broken &) {
    return R_NilValue;
  }
  return cells.over ? Rf_ScalarLogical(TRUE) : static_cast<SEXP>(cells.given());
}
