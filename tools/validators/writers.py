"""Writes one table in several formats by libraries for Python, for us to open.

Use: python3 writers.py FOLDER
"""
import csv
import datetime
import gzip
import json
import os
import sys

import odf.opendocument
import odf.table
import odf.text
import openpyxl

folder = sys.argv[1]
names = ["id", "q", "cost", "when", "sure", "said"]
rows = [
    ["007", 1, 1234.5, datetime.date(2031, 2, 28), True, "\u00e9t\u00e9; \"good\""],
    ["008", 9, 0.1, datetime.date(2031, 3, 1), False, "two\nlines"],
    ["009", 2, None, None, None, None],
]


def at(name):
    return os.path.join(folder, name)


def write_csv(file, comma):
    def shown(value):
        if isinstance(value, float):
            return "{:,}".format(value).translate(str.maketrans(",.", ".,")) if comma else value
        if isinstance(value, datetime.date):
            return value.strftime("%d.%m.%Y") if comma else value.isoformat()
        return str(value).upper() if isinstance(value, bool) else value

    writer = csv.writer(file, delimiter=";" if comma else ",")
    writer.writerow(names)
    writer.writerows([[shown(value) for value in row] for row in rows])


with open(at("comma.csv"), "w", encoding="utf-16", newline="") as file:
    write_csv(file, True)
with gzip.open(at("plain.csv.gz"), "wt", encoding="utf-8", newline="") as file:
    write_csv(file, False)
with open(at("lines.jsonl"), "w", encoding="utf-8") as file:
    for row in rows:
        file.write(json.dumps(dict(zip(names, row)), default=str) + "\n")

book = openpyxl.Workbook()
book.active.title = "Answers"
for row in [names] + rows:
    book.active.append(row)
book.create_sheet("Other").append(["x"])
book.save(at("table.xlsx"))


def cell(value):
    kinds = {bool: ("boolean", "booleanvalue"), int: ("float", "value"), float: ("float", "value"),
             datetime.date: ("date", "datevalue")}
    kind, key = kinds.get(type(value), ("string", None))
    if value is None:
        return odf.table.TableCell()
    held = {key: str(value).lower()} if key else {}
    out = odf.table.TableCell(valuetype=kind, **held)
    for line in str(value).split("\n"):
        out.addElement(odf.text.P(text=line))
    return out


document = odf.opendocument.OpenDocumentSpreadsheet()
table = odf.table.Table(name="Answers")
for row in [names] + rows:
    line = odf.table.TableRow()
    for value in row:
        line.addElement(cell(value))
    table.addElement(line)
document.spreadsheet.addElement(table)
document.save(at("table.ods"))
