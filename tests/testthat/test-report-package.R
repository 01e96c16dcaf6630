# A package to hand on: what goes in comes out, and what was changed is told.
skip_if_not_installed("zip")
skip_if_not_installed("svglite")

packed <- function(book, ..., path = tempfile(fileext = ".zip")) {
  quietly(write_package(book, path, ...))
  path
}

book <- quietly(open_demo() |> turn_reverse(c(st_2, st_5)) |>
  turn_composite(c(st_1, st_2_r, st_3), as = "strain", note = "<b>**bold**</b>") |>
  turn_standardize(strain, as = "strain_z") |>
  turn_bin(wait_min, as = "wait3", at = c(10, 30), accept = c(boundary = "whole minutes")) |>
  define(income, missing = c("Strange" = from(90000, upto = 99999))) |>
  must_hold(age >= 0, label = "age"))
path <- packed(book, about = list(title = "Ferry <i>panel</i>", creators = c("A. Berg", "=C()"),
  licence = "CC-BY-4.0", citation = "[x](javascript:1)"))
folder <- withr::local_tempdir()
utils::unzip(path, exdir = folder)
inside <- function(name) paste(readLines(file.path(folder, name)), collapse = "\n")

test_that("a package is opened with all turns, meanings and reasons", {
  told <- receipts(back <- turnbook(path))
  expect_match(told, "Replayed turns.yaml", all = FALSE)
  expect_identical(as.data.frame(back, missing = "reasons"), as.data.frame(book,
    missing = "reasons"))
  for (name in names(book)) {
    expect_identical(core("meaning_in")(back, name), core("meaning_in")(book, name), info = name)
  }
  expect_equal(findings(back)$accepted, findings(book)$accepted)
  expect_equal(checks(back)$fails, checks(book)$fails)
  expect_proved(back)
  expect_identical(quietly(turnbook(file.path(folder, "datapackage.json")))$strain_z,
    book$strain_z)
})

test_that("the same book gives the same bytes", {
  small <- quietly(turnbook(data.frame(a = 1:3, B = c("x", "\u00e9", NA))) |>
    turn_flag(a > 1, as = "f"))
  first <- packed(small)
  Sys.sleep(2.1) # a zip file tells times by two seconds
  expect_identical(core("file_bytes")(packed(small)), core("file_bytes")(first))
})

test_that("what is inside fits together, and no text of a user becomes markup", {
  expect_setequal(list.files(folder), c("README.md", names(core("files_of_package"))))
  sums <- read.table(file.path(folder, "checksums.sha256"), col.names = c("sum", "file"))
  expect_equal(sums$sum, vapply(file.path(folder, sums$file), function(at) {
    paste0(openssl::sha256(file(at)))
  }, "", USE.NAMES = FALSE))
  expect_match(inside("README.md"), "# Ferry &lt;i&gt;panel", fixed = TRUE)
  expect_no_match(inside("README.md"), "[x](", fixed = TRUE)
  for (page in c("codebook.html", "report.html")) expect_no_match(inside(page), "<i>|<b>")
  data <- read.csv(file.path(folder, "data.csv"), check.names = FALSE)
  expect_equal(data$strain_z, book$strain_z)
  expect_equal(sort(unique(data$strain_why[is.na(data$strain)])),
    sort(unique(core("told_reasons")(known_variable(book, "strain")))))
  withr::with_dir(folder, source("turns.R", local = run <- new.env()))
  expect_equal(run$survey$strain, book$strain)
})

test_that("columns of every kind come back the same", {
  odd <- data.frame(f = factor(c("low", "high", NA)), p = as.POSIXct("2031-03-01", tz = "UTC") +
    c(1, 90, NA), d = as.Date("2031-01-31") - 0:2, l = c(TRUE, NA, FALSE), x = c(1 / 3, NA, 1e10),
  digits = c("1", "22", NA), zeros = c("007", "", "NA"), comma = c("1.234,50", "7", "n.a."),
  q = c("=1+1", "a,\"b\"", "c\nd"), u = c("\u00e9", "e\u0301", NA))
  odd$s <- structure(c(1, 8, 9), labels = c(Yes = 1, Refused = 9), na_range = c(8, 9))
  odd$o <- factor(c("c", "a", NA), c("c", "b", "a"), ordered = TRUE)
  was <- quietly(turnbook(odd) |> define(comma, read = "decimal comma") |>
    turn_compute(comma + x, as = "sum") |> turn_dummy(o) |> turn_compute(nchar(digits), as = "n"))
  back <- quietly(turnbook(packed(was)))
  expect_identical(back$digits, odd$digits)
  for (name in core("derived_names")(was)) expect_identical(back[[name]], was[[name]], info = name)
  expect_equal(quietly(turnbook(packed(turnbook(odd))))$zeros, c("007", NA, "NA"))
  broken <- turnbook(data.frame(big = "\r"))
  expect_true(file.exists(packed(broken)))
})

test_that("whatever was changed in a package is told", {
  expect_true(all(check_package(path)$state == "as packed"))
  expect_output(print(check_package(path)), "Nothing changed")
  changed <- function(file, from, to) {
    at <- withr::local_tempdir(.local_envir = parent.frame())
    file.copy(list.files(folder, full.names = TRUE), at)
    where <- file.path(at, file)
    if (is.null(from)) unlink(where) else
      writeLines(sub(from, to, readLines(where), fixed = TRUE), where)
    check_package(file.path(at, "datapackage.json"))
  }
  differ <- function(found) found$name[found$state != "as packed"]
  expect_equal(differ(changed("README.md", "Ferry", "Fairy")), "README.md")
  expect_setequal(differ(changed("turns.yaml", "at: [10, 30]", "at: [10, 31]")),
    c("turns.yaml", "wait3"))
  expect_equal(differ(changed("report.html", NULL)), "report.html")
  expect_equal(differ(changed("data.csv", "strain_z", "strain_y")),
    c("data.csv", "strain_z", "strain_y"))
  lines <- readLines(file.path(folder, "originals.csv"))
  writeLines(sub(",[0-9.]+$", ",8", lines), file.path(folder, "originals.csv"))
  file.create(file.path(folder, "new.txt"))
  at <- file.path(folder, "datapackage.json")
  found <- check_package(at)
  expect_true(all(c("originals.csv", "opinion") %in% differ(found)))
  expect_equal(found$state[found$name == "new.txt"], "added")
  expect_match(receipts(turnbook(at)), "Changed since it was packed: originals.csv", all = FALSE)
})

test_that("what cannot be packed or opened is refused, and nothing is left behind", {
  expect_identical(list.files(dirname(path), "^[.]ableturn"), character())
  refused(write_package(book, path), "file-exists")
  refused(write_package(book, tempfile(fileext = ".rar")), "file-ending")
  for (about in list("x", list("x"), list(creators = 1), list(title = c("a", "b")))) {
    expect_error(write_package(book, tempfile(fileext = ".zip"), about), class = "ableturn_error")
  }
  expect_match(conditionMessage(refused(write_package(book, "x.zip", list(licens = "x")),
    "about-key")), "licence")
  refused(check_package(demo_file("ferry-survey.csv")), "package-broken")
  refused(read_data(path), "which-table")
  expect_equal(nrow(quietly(read_data(path, list(table = "data")))), 1200)
  plain <- packed(turnbook(data.frame(a = 1:2)))
  expect_equal(quietly(turnbook(plain))$a, 1:2)
  inside <- utils::unzip(plain, list = TRUE)$Name
  expect_false(any(c("turns.R", "report.html") %in% inside))
  for (turns in list("x", list(sheet = "../a"), list(sheet = "../a", of = "originals"),
    list(sheet = "none.yaml", of = "originals"), list(sheet = "turns.yaml", of = "nowhere"))) {
    at <- withr::local_tempdir()
    utils::unzip(plain, exdir = at)
    told <- jsonlite::read_json(file.path(at, "datapackage.json"))
    told$turns <- turns
    jsonlite::write_json(told, file.path(at, "datapackage.json"), auto_unbox = TRUE)
    expect_error(turnbook(file.path(at, "datapackage.json")), class = "ableturn_error")
  }
})
