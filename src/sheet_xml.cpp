#include <Rcpp/Lightest>
#include <R_ext/Utils.h>
#include <algorithm>
#include <string>
#include <vector>

#include "xml.h"

// The cells of a sheet in OpenDocument, from the bytes of its XML.

namespace {

using xml::Broken;
using xml::Scanner;

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
  Scanner scanner(bytes.begin(), bytes.size());
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
  Scanner scanner(bytes.begin(), bytes.size());
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
