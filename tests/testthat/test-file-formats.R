# Tables in formats of their own: what goes out comes back, and what is broken is refused.

few_rows <- data.frame(n = c(1.5, NA, -3), i = c(1:2, NA), t = c("\u00e9t\u00e9", "=1+1", NA),
  d = as.Date("2031-02-28") + c(0, 1, NA), y = c(TRUE, NA, FALSE))

table_formats <- c(xlsx = "readxl writexl", ods = "zip", parquet = "nanoparquet", jsonl = "")
need <- function(packages) {
  for (package in strsplit(packages, " ")[[1]]) skip_if_not_installed(package)
}

test_each("a book is written and opened again as", self_named(names(table_formats)),
  function(ending, name) {
    need(table_formats[[ending]])
    book <- quietly(turnbook(few_rows) |> turn_recode(i, as = "k", becomes(9, 1), the_rest(0)) |>
      define(k, codes = c("Nine" = 9, "None" = 0)))
    path <- tempfile(fileext = paste0(".", ending))
    expect_silent(write_data(book, path))
    refused(write_data(book, path), "file-exists")
    stated <- if (ending %in% c("xlsx", "ods")) list(table = "data")
    read <- turnbook(path, reading = stated)
    came <- as.list(as.data.frame(read))
    if (ending == "jsonl") came$d <- as.Date(came$d)
    expect_equal(came, as.list(as.data.frame(book)), ignore_attr = TRUE)
    made <- quietly(read |> turn_compute(n * 2, as = "m") |>
      turn_flag(t == "=1+1", as = "f") |> turn_recode(y, as = "r", becomes(1, TRUE), the_rest(0)))
    expect_proved(made)
    expect_match(core("script_lines")(made, "base")[2],
      if (nzchar(table_formats[[ending]])) "but for the package" else "Plain R")
    sheet <- tempfile(fileext = ".yaml")
    save_turns(made, sheet)
    expect_identical(as.data.frame(quietly(apply_turns(path, sheet))), as.data.frame(made))
    # the bytes tell, not the ending
    if (ending %in% c("xlsx", "ods", "parquet")) {
      file.copy(path, odd <- tempfile(fileext = ".csv"))
      expect_equal(read_data(odd, stated)$n, few_rows$n)
    }
    writeBin(utils::head(readBin(path, "raw", 1e6), 40), path)
    expect_error(turnbook(path, reading = stated), class = "ableturn_error")
    refused(read_data(path, list(separator = ";")), "reading-unused")
  }
)

test_that("a spreadsheet is read where its table stands, and told by cells where it is odd", {
  need("readxl writexl")
  path <- tempfile(fileext = ".xlsx")
  answers <- data.frame(id = 1:30, q = replace(as.character(1:30 / 4), c(7, 20), c("n/a", "?")))
  writexl::write_xlsx(list(Answers = answers,
    Other = data.frame(Title = c(NA, "a", "1", "3"), x = c(NA, "b", "2", "4")),
    Gap = setNames(data.frame(1, 2), c("a", " "))), path)
  expect_match(conditionMessage(refused(turnbook(path), "which-sheet")), "Answers, Other, Gap")
  refused(turnbook(path, reading = list(table = "Answer")), "no-such-table")
  told <- receipts(book <- turnbook(path, reading = list(table = "Answers")))
  expect_match(paste(told, collapse = " "),
    "q holds text among its numbers.*B8 \"n/a\", B21 \"\\?\"")
  expect_equal(nrow(as.data.frame(book)), 30)
  for (stated in list(list(table = "Other", skip = 2), list(table = "Other", range = "A3:B5"))) {
    book <- turnbook(path, reading = stated)
    expect_equal(lapply(as.list(as.data.frame(book)), as.numeric), list(a = c(1, 3), b = c(2, 4)))
    book <- quietly(turn_recode(book, a, as = "r", becomes(1, 1), the_rest(0)))
    expect_proved(book)
  }
  expect_equal(core("cell_name")(17, c(2)), "B17")
  for (n in c(1, 26, 27, 52, 702, 703, 16384)) {
    expect_equal(core("column_number")(core("column_letters")(n)), n)
  }
})

# R itself reads a few decimals another way than the C library and all others do.
test_that("numbers are written so that every program reads the same ones", {
  x <- c(0.44217776220169003, withr::with_seed(3, rnorm(20000) / 3), -1e-300, 1e15 / 3)
  texts <- c("a\\\"b\n\u00e9\u0001", NA, "x")
  book <- turnbook(data.frame(x = x, t = rep(texts, length.out = length(x))))
  for (ending in c(".csv", ".jsonl")) {
    path <- tempfile(fileext = ending)
    quietly(write_data(book, path))
    lines <- readLines(path, encoding = "UTF-8")
    told <- if (ending == ".csv") sub(",.*", "", grep("^[-0-9]", lines, value = TRUE)) else
      sub("^.\"x\":([^,]*),.*", "\\1", lines)
    expect_identical(unlist(jsonlite::parse_json(paste0("[", toString(told), "]"))), x)
    expect_identical(as.numeric(told), x)
    expect_identical(as.list(as.data.frame(turnbook(path))), as.list(as.data.frame(book)))
  }
})

test_that("a table with separators is written with others, and a decimal comma", {
  book <- quietly(turnbook(few_rows) |> turn_compute(n / 3, as = "m"))
  path <- tempfile(fileext = ".csv")
  quietly(write_data(book, path, separator = ";", decimal = ","))
  expect_equal(readLines(path, encoding = "UTF-8")[2], paste0("\"1,5\";1;\u00e9t\u00e9;2031-02-28;",
    "TRUE;\"0,5\""))
  read <- quietly(read_data(path))
  expect_equal(read$m, c(0.5, NA, -1))
  refused(write_data(book, tempfile(fileext = ".csv"), decimal = ","), "writing-clash")
  refused(write_data(book, tempfile(fileext = ".rds"), separator = ";"), "writing-unused")
})

document <- function(..., head = "") {
  at <- withr::local_tempdir()
  text <- paste0("<?xml version='1.0'?>", head, "<o:document-content xmlns:o='o' xmlns:t='t'>",
    "<o:body><o:spreadsheet><t:table t:name='A&amp;B'>", ..., "</t:table><t:table t:name='c'/>",
    "</o:spreadsheet></o:body></o:document-content>")
  writeLines(text, file.path(at, "content.xml"))
  path <- tempfile(fileext = ".ods")
  zip::zip(path, "content.xml", root = at, mode = "cherry-pick")
  path
}
cells <- function(type, ...) {
  paste0("<t:table-row>", paste0("<t:table-cell o:value-type='", type, "' ", c(...),
    "</t:table-cell>", collapse = ""), "</t:table-row>")
}

test_that("an OpenDocument sheet is read by what stands behind its cells", {
  need("zip")
  first <- list(table = "A&B")
  path <- document(cells("string", "><p>a</p>", "><p>b</p><x:annotation><p>no</p></x:annotation>"),
    "<t:table-row t:number-rows-repeated='2'><t:table-cell o:value-type='float' o:value='1.5'",
    " t:number-columns-repeated='2'><p>1,50</p></t:table-cell></t:table-row>",
    "<t:table-row t:number-rows-repeated='1048000'><t:table-cell/></t:table-row>")
  expect_match(conditionMessage(refused(turnbook(path), "which-sheet")), "A&B, c")
  expect_equal(as.list(as.data.frame(turnbook(path, reading = first))), list(a = c(1.5, 1.5),
    b = c(1.5, 1.5)))
  path <- document(cells("string", "><p>Title</p>"), cells("string", "><p>when</p>",
    "><p>what</p>", "><p>sure</p>"), "<t:table-row>",
  "<t:table-cell o:value-type='date' o:date-value='2031-02-28'><p>28/02/31</p></t:table-cell>",
  "<t:table-cell o:value-type='string'><p><s s:c='2'/>x<b>y</b> &lt;&#233;&#x1F600;<tab/></p><p>",
  "<![CDATA[<z>]]></p></t:table-cell><t:table-cell o:value-type='boolean' o:boolean-value='true'/>",
  "</t:table-row><!-- > -->")
  book <- turnbook(path, reading = c(first, skip = 1))
  expect_equal(as.list(as.data.frame(book)), list(when = as.Date("2031-02-28"),
    what = "  xy <é😀	
<z>", sure = TRUE))
  told <- receipts(turnbook(document(cells("string", "><p>q</p>"), cells("float", "o:value='1'>"),
    cells("float", "o:value='2'>"), cells("string", "><p>n/a</p>")), reading = first))
  expect_match(told, "q holds text among its numbers.*A4 \"n/a\"", all = FALSE)
  refused(turnbook(path, reading = first), "header-empty")
  refused(turnbook(path, reading = list(table = "c")), "sheet-empty")
  full <- "<t:table-row t:number-rows-repeated='1e6'><t:table-cell t:number-columns-repeated='1e4' "
  refused(turnbook(document(full, "o:value-type='float' o:value='1'/></t:table-row>"),
    reading = first), "file-bomb")
  for (broken in list("<t:table-row", "<!-- ", "&lol;", "<a b='>")) {
    refused(turnbook(document(cells("string", paste0("><p>", broken, "</p>"))), reading = first),
      "opendocument-locked")
  }
  refused(turnbook(document(head = "<!DOCTYPE a [<!ENTITY b SYSTEM 'file:///etc/hostname'>]>"),
    reading = first), "opendocument-locked")
})

descriptor <- function(...) {
  jsonlite::toJSON(list(resources = list(list(name = "main", path = "in/a.csv",
    dialect = list(delimiter = ";"), schema = list(missingValues = c("", "-"), fields = list(
      list(name = "q", title = "Trust", categories = list(list(value = 1, label = "No"))),
      list(name = "c", type = "number", decimalChar = ",", missingValues = list(
        list(value = "-9", label = "Refused")))))), ...)), auto_unbox = TRUE)
}

test_that("a Data Package is opened with what its descriptor says", {
  room <- withr::local_tempdir()
  at <- file.path(room, "datapackage.json")
  dir.create(file.path(room, "in"))
  writeLines(c("q;c", "1;2,5", "-;-9", "5;3"), file.path(room, "in", "a.csv"))
  writeLines(descriptor(), at)
  paths <- at
  if (nzchar(Sys.which("zip"))) {
    withr::with_dir(room, utils::zip("p.zip", c("datapackage.json", "in/a.csv"), flags = "-q"))
    paths <- c(at, file.path(room, "p.zip"))
  }
  for (path in paths) {
    book <- quietly(turnbook(path) |> turn_compute(q + c, as = "s"))
    expect_equal(book$s, c(3.5, NA, 8))
    expect_equal(core("meaning_in")(book, "q")$label, "Trust")
    expect_equal(names(core("meaning_in")(book, "c")$missing), "Refused")
    expect_proved(book)
  }
  writeLines(descriptor(list(name = "other", path = "b.csv")), at)
  expect_match(conditionMessage(refused(turnbook(at), "which-table")), "main, other")
  expect_equal(quietly(turnbook(at, reading = list(table = "main")))$q, c(1L, NA, 5L))
  outside <- withr::local_tempfile(lines = "a,b", fileext = ".csv")
  for (case in list(list(file.path("..", basename(outside)), "file-outside"),
    list("http://127.0.0.1:9/a", "package-broken"),
    list(c("a.csv", "b.csv"), "package-broken"), list("none.csv", "file-missing"))) {
    writeLines(jsonlite::toJSON(list(resources = list(list(name = "r", path = case[[1]]))),
      auto_unbox = TRUE), at)
    refused(turnbook(at), case[[2]])
  }
  writeLines("{", at)
  refused(turnbook(at), "package-broken")
})

test_that("files that hold no table, or are no file that is read here, are refused", {
  for (text in c("{\"a\": 1}", "\"http://127.0.0.1:9/a.json\"", "[1, 2]")) {
    refused(turnbook(temporary(text, ".json")), "file-no-table")
  }
  refused(turnbook(temporary("[{\"a\": ", ".json")), "file-unreadable")
  expect_equal(read_data(temporary("[{\"a\": 1, \"b\": \"x\"}, {\"a\": null}]", ".json")),
    data.frame(a = c(1L, NA), b = c("x", NA)), ignore_attr = TRUE)
})

test_each("a spreadsheet that was written opens again, with its codebook", c(xlsx = "writexl",
  ods = "xml2"), function(package, ending) {
  skip_if_not_installed(package)
  skip_if_not_installed("readxl")
  path <- withr::local_tempfile(fileext = paste0(".", ending))
  work <- demo_work()
  quietly(write_data(work, path))
  said <- receipts(again <- turnbook(path))
  expect_match(said[1], "sheet data, with the codebook beside it")
  expect_setequal(names(again), names(work))
  expect_equal(again$strain, work$strain)
  for (name in c("rider3", "st_2")) {
    expect_equal(core("meaning_in")(again, name)[c("label", "codes")],
      core("meaning_in")(work, name)[c("label", "codes")], info = name)
  }
})
