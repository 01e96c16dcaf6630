"""Reads what make.R wrote by libraries for Python, and compares it with expected.json.

Use: python3 readers.py FOLDER. Each line says ok or FAILED, the file, who read it, and what was
compared.
"""
import csv
import datetime
import json
import os
import sys
import xml.etree.ElementTree as tree

import odf.opendocument
import odf.table
import odf.text
import openpyxl
import prov.model

folder = sys.argv[1]
with open(os.path.join(folder, "expected.json"), encoding="utf-8") as file:
    expected = json.load(file)
columns, reasons = expected["columns"], expected["reasons"]


def tell(file, reader, problems, what):
    print("FAILED" if problems else "ok", file, reader, "; ".join(problems[:3]) or what, sep="\t")


def same(given, value, kind):
    """Whether what was read is the value; digits: how many of a number the format holds."""
    if value is None:
        return given in (None, "")
    if kind == "number":
        return float(given) == float(value)
    return str(given) == value


def compare(file, reader, wanted, read, same=same):
    problems = []
    for column in wanted:
        given = read.get(column["name"])
        if given is None:
            problems.append("there is no column " + column["name"])
            continue
        if len(given) != len(column["values"]):
            problems.append("%s has %d rows" % (column["name"], len(given)))
            continue
        for row, (a, b) in enumerate(zip(given, column["values"])):
            if not same(a, b, column["type"]):
                problems.append("%s, row %d: %r, not %r" % (column["name"], row + 1, a, b))
                break
    cells = sum(len(column["values"]) for column in wanted)
    tell(file, reader, problems, "%d columns, %d values" % (len(wanted), cells))


def read_csv(name, delimiter=","):
    with open(os.path.join(folder, name), encoding="utf-8", newline="") as file:
        rows = list(csv.reader(file, delimiter=delimiter))
    return {name: [row[i] for row in rows[1:]] for i, name in enumerate(rows[0])}


def with_comma(given, value, kind):
    return same(given.replace(",", ".") if kind == "number" else given, value, kind)


def in_sheet(given, value, kind):
    """A spreadsheet holds 16 figures of a number, and a day as a moment."""
    if value is not None and kind == "number":
        return abs(float(given) - float(value)) <= abs(float(value)) * 1e-15
    if isinstance(given, datetime.datetime):
        given = given.date()
    return same(given, value, kind)


def read_xlsx(sheet):
    book = openpyxl.load_workbook(os.path.join(folder, "table.xlsx"))
    rows = list(book[sheet].iter_rows(values_only=True))
    return {name: [row[i] for row in rows[1:]] for i, name in enumerate(rows[0])}


def text_of(node):
    if node.nodeType == node.TEXT_NODE:
        return node.data
    if node.qname[1] == "s":
        return " " * int(node.getAttribute("c") or 1)
    return "".join(text_of(child) for child in node.childNodes)


def cell_of(cell):
    kind = cell.getAttribute("valuetype")
    key = {"float": "value", "date": "datevalue", "boolean": "booleanvalue"}.get(kind)
    if key:
        return cell.getAttribute(key)
    return "\n".join(text_of(p) for p in cell.getElementsByType(odf.text.P)) if kind else None


def read_ods(sheet):
    document = odf.opendocument.load(os.path.join(folder, "table.ods"))
    for table in document.spreadsheet.getElementsByType(odf.table.Table):
        if table.getAttribute("name") == sheet:
            rows = [[cell_of(cell) for cell in row.getElementsByType(odf.table.TableCell)]
                    for row in table.getElementsByType(odf.table.TableRow)]
            return {name: [row[i] for row in rows[1:]] for i, name in enumerate(rows[0])}
    return {}


def compare_codes(file, reader, read):
    """`read`: by variable, its labels and its reasons, each by code."""
    problems = []
    for column in columns:
        for what, given in zip(("labels", "missing"), read.get(column["name"], ({}, {}))):
            wanted = dict(column[what] or {})
            if given != wanted:
                problems.append("%s of %s: %r, not %r" % (what, column["name"], given, wanted))
    labels = sum(len(column["labels"] or {}) for column in columns)
    kinds = sum(len(column["missing"] or {}) for column in columns)
    tell(file, reader, problems, "%d labels, %d codes with a reason" % (labels, kinds))


def codes_of_sheet(sheet):
    """The codes on a sheet of the codebook."""
    found, name = {}, None
    for i, variable in enumerate(sheet["variable"]):
        name = variable or name
        code, label, gone = sheet["code"][i], sheet["code label"][i], sheet["missing"][i]
        if code in (None, "") or " " in str(code):
            continue
        labels, reasons = found.setdefault(name, ({}, {}))
        (reasons if gone else labels)[str(code)] = label
    return found


def codes_of_ddi(name):
    space = {"d": "ddi:codebook:2_5"}
    found = {}
    for var in tree.parse(os.path.join(folder, name)).getroot().iterfind(".//d:var", space):
        labels, reasons = found.setdefault(var.get("name"), ({}, {}))
        for category in var.iterfind("d:catgry", space):
            into = reasons if category.get("missing") == "Y" else labels
            into[category.findtext("d:catValu", None, space)] = category.findtext(
                "d:labl", None, space)
    return found


def check_provenance(name):
    with open(os.path.join(folder, name), encoding="utf-8") as file:
        document = prov.model.ProvDocument.deserialize(file, format="json")
    document.get_provn()
    label = {str(entity.identifier): str(entity.label)
             for entity in document.get_records(prov.model.ProvEntity)}
    sources, made = {}, {}
    for relation in document.get_records(prov.model.ProvDerivation):
        new, old = [str(value) for _, value in relation.formal_attributes[:2]]
        sources.setdefault(label[new], set()).add(label[old])
    for relation in document.get_records(prov.model.ProvGeneration):
        entity = str(relation.formal_attributes[0][1])
        made[label[entity]] = made.get(label[entity], 0) + 1
    problems = ["%s: from %r, not %r" % (name, sources.get(name), set(reads))
                for name, reads in expected["derived"].items()
                if sources.get(name) != set(reads) or made.get(name) != 1]
    if set(made) != set(expected["derived"]):
        problems.append("made: %r" % sorted(made))
    tell(name, "prov (Python)", problems, "%d derived variables with their sources" % len(made))


compare("package/data.csv", "csv (Python)", columns + reasons, read_csv("package/data.csv"))
compare("table.csv", "csv (Python)", columns, read_csv("table.csv"))
compare("comma.csv", "csv (Python)", columns, read_csv("comma.csv", ";"), with_comma)
compare("table.xlsx", "openpyxl (Python)", columns, read_xlsx("data"), in_sheet)
compare_codes("table.xlsx", "openpyxl (Python)", codes_of_sheet(read_xlsx("codebook")))
compare("table.ods", "odf (Python)", columns, read_ods("data"))
compare_codes("table.ods", "odf (Python)", codes_of_sheet(read_ods("codebook")))
compare_codes("package/codebook.xml", "ElementTree (Python)", codes_of_ddi("package/codebook.xml"))
check_provenance("package/provenance.json")
