# Codebooks as tables and in DDI.

test_that("a codebook table means what its rows say, whatever its columns are called", {
  path <- temporary(c("Name;Variable label;Question;Value;Value label;Missing;Level;Min;Max;Who",
    "q1;Trust;How much?;1;None;;ordinal;1;5;x", ";;;5;Full;no;;;;", ";;;9;Refused;yes;;;;",
    ";;;99;;Not shown;;;;", "sex;Sex;;\"1 = Woman; 2 = Man\";;;;;;", "age;;Your age?;;;;;;;"))
  told <- receipts(book <- read_codebook(path))
  expect_match(told, "Not used of .*: Who", all = FALSE)
  expect_equal(names(book), c("q1", "sex", "age"))
  expect_equal(book$q1[c("label", "note", "level", "limits")],
    list(label = "Trust", note = "How much?", level = "ordinal", limits = c(1L, 5L)))
  expect_equal(book$q1$codes, c(None = 1L, Full = 5L))
  expect_equal(names(book$q1$missing), c("Refused", "Not shown"))
  expect_equal(book$sex$codes, c(Woman = 1L, Man = 2L))
  expect_equal(book$age$label, "Your age?")
  opened <- quietly(turnbook(data.frame(q1 = c(1, 9, 99, 3)), codebook = path))
  expect_equal(why(opened, "q1"), c("Refused", "Not shown"))
  refused(read_codebook(temporary(c("a,b", "1,2"))), "codebook")
  refused(read_codebook(temporary(c("variable,level", "x,high"))), "codebook")
})

test_that("a codebook is written as a table and read back the same", {
  book <- define(open_demo(), income, missing = c("Strange" = from(90000, upto = 99999)))
  for (ending in c(".csv", ".tsv")) {
    path <- tempfile(fileext = ending)
    write_codebook(book, path)
    back <- quietly(read_codebook(path))
    for (name in setdiff(names(book), "income")) {
      was <- core("meaning_in")(book, name)
      expect_identical(unclass(back[[name]])[names(was)], unclass(was), info = name)
    }
  }
})

ddi <- function(...) {
  temporary(c("<?xml version=\"1.0\"?>",
    "<!DOCTYPE codeBook [<!ENTITY far SYSTEM \"file:///etc/hostname\">]>",
    "<codeBook xmlns=\"ddi:codebook:2_5\"><dataDscr>", ..., "</dataDscr></codeBook>"), ".xml")
}

test_that("a DDI codebook means what its variables say, and nothing from elsewhere", {
  skip_if_not_installed("xml2")
  path <- ddi("<var name=\"q1\" nature=\"ordinal\"><labl>Trust &amp; hope&far;</labl>",
    "<qstn><qstnLit>How", "  much?</qstnLit></qstn><sumStat>3</sumStat>",
    "<invalrng><item VALUE=\"98\"/><range min=\"90\" max=\"95\"/></invalrng>",
    "<valrng><range min=\"1\" max=\"5\"/></valrng>",
    "<catgry><catValu>1</catValu><labl>No</labl></catgry>",
    "<catgry missing=\"Y\"><catValu>9</catValu><labl>Refused</labl></catgry></var>",
    "<var name=\"w\" wgt=\"wgt\"/>")
  told <- receipts(book <- read_codebook(path))
  expect_match(told, "the weight w, sumStat of 1 variable", all = FALSE)
  expect_equal(book$q1[c("label", "note", "level", "limits", "codes")], list(label = "Trust & hope",
    note = "How much?", level = "ordinal", limits = c(1L, 5L), codes = c(No = 1L)))
  opened <- quietly(turnbook(data.frame(q1 = c(1, 9, 98, 92)), codebook = path))
  expect_equal(why(opened, "q1"), c("Refused", "Code 98", "Not valid"))
  for (text in c("<a/>", "<a><b>", "<codeBook><dataDscr><var/></dataDscr></codeBook>")) {
    refused(read_codebook(temporary(text, ".xml")), "codebook")
  }
  refused(read_codebook(ddi("<var name=\"a\"/><var name=\"a\"/>")), "codebook")
})

test_that("a codebook is written in DDI and read back the same", {
  skip_if_not_installed("xml2")
  book <- quietly(open_demo() |> turn_bin(age, as = "age3", at = c(30, 60)) |>
    define(income, label = "<b> & \001", missing = c("Strange" = from(90000), "Low" = under(0))) |>
    turn_recode(ticket, as = "kind", becomes(1, "Single"), the_rest(2)))
  path <- tempfile(fileext = ".xml")
  write_codebook(book, path)
  back <- quietly(read_codebook(path))
  expect_equal(names(back), names(book))
  for (name in setdiff(names(book), "income")) {
    was <- core("meaning_in")(book, name)
    same <- intersect(names(was), c("label", "codes", "missing", "level", "limits", "note"))
    expect_identical(unclass(back[[name]])[same], unclass(was)[same], info = name)
  }
  expect_equal(back$income$label, "<b> & \ufffd")
  opened <- turnbook(data.frame(income = c(-1, 0, 89999, 90000)), codebook = path)
  expect_equal(known_variable(opened, "income")$x, c(NA, 0, 89999, NA))
  parsed <- xml2::xml_ns_strip(xml2::read_xml(path))
  derivation <- xml2::xml_find_first(parsed, "//var[@name='age3']/derivation")
  source <- xml2::xml_find_first(parsed, paste0("//var[@ID='",
    xml2::xml_attr(derivation, "var"), "']"))
  expect_equal(xml2::xml_attr(source, "name"), "age")
  expect_match(xml2::xml_text(derivation), "in 3 bands.*clean\\$age3 <- ")
})
