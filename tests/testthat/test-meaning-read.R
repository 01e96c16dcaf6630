# Texts read as the analyst says: numbers and dates written by another rule and read back.
numbers <- c(0, 1, 12.5, 999, 1000, 1234.5, 1234567, -3.25, 98765432.125)
marked <- function(mark, point) {
  trimws(formatC(numbers, digits = 15, big.mark = mark, decimal.mark = point, format = "fg"))
}
days <- as.Date("2019-12-30") + c(0, 1, 2, 59, 60, 61, 425)
parts <- as.POSIXlt(days)
typed <- function(first, sep) {
  dm <- if (first == "day") list(parts$mday, parts$mon + 1) else list(parts$mon + 1, parts$mday)
  paste(dm[[1]], sprintf("%02d", dm[[2]]), parts$year + 1900, sep = sep)
}
read_as <- function(texts, way) core("read_texts_as")(texts, way)

test_that("numbers with either decimal sign, any thousands mark and a percent sign are read", {
  for (mark in c("", ".", " ", "'", "\u00a0", "\u202f", "\u2019")) {
    expect_equal(read_as(marked(mark, ","), "decimal comma"), numbers, info = mark)
    expect_equal(read_as(paste0(" ", marked(mark, ","), "\u00a0%"), "decimal comma"),
      numbers, info = mark)
  }
  for (mark in c("", ",", " ", "'")) {
    expect_equal(read_as(marked(mark, "."), "decimal point"), numbers, info = mark)
  }
  expect_equal(read_as(c(",5", "5,", "+7", "-1.000", "1,5e-05", "1E3"), "decimal comma"),
    c(0.5, 5, 7, -1000, 1.5e-5, 1000))
  for (odd in c("1.5", "1.23.456", "12.34", "1,2,3", "1.234 567", "n.a.", "1.000e3", "0.123",
    "--3", "%", ",", "", NA)) {
    expect_equal(read_as(odd, "decimal comma"), NA_real_, info = odd)
  }
})

test_that("dates are read by the place of the day, and none that does not exist", {
  for (first in c("day", "month")) for (sep in c(".", "/", "-", ". ")) {
    expect_equal(read_as(typed(first, sep), paste(first, "first")), days, info = paste(first, sep))
    timed <- read_as(paste(typed(first, sep), "8:05"), paste(first, "first with time"))
    expect_equal(timed, paste(days, "08:05:00"), info = paste(first, sep))
  }
  expect_equal(read_as(c("2020-02-29", "28.2.2020 23:59:58"), "day first with time"),
    c(NA, "2020-02-28 23:59:58"))
  odd <- c("31.02.2020", "29.02.2021", "1.13.2020", "28.02.20", "28.02.2020x", "", NA)
  expect_true(all(is.na(read_as(odd, "day first"))))
  expect_equal(read_as("2020-05-06", "day first"), as.Date("2020-05-06"))
})

# The patterns of the scripts are worked out apart from what reads the texts of a book.
test_that("whatever texts are made of, they are read as the script reads them", {
  pieces <- c("1", "12", "123", "000", "2031", "29", "02", ".", ",", "'", "\u2019", "\u00a0",
    "\u202f", " ", "%", "-", "+", "/", "\t", "e", "Z")
  texts <- withr::with_seed(5, replicate(6000, paste(sample(pieces, sample(7, 1), TRUE),
    collapse = "")))
  dates <- withr::with_seed(6, replicate(3000, paste(sample(c("29", "31", "2", "0", "12", "2032",
    "1900", "0000"), 3, TRUE), collapse = sample(c("-", ".", "/", ". ", "--"), 1))))
  texts <- unique(c(texts, dates, paste0(" ", dates, " \n")))
  for (way in c("decimal comma", "decimal point", "day first", "month first")) {
    script <- eval(parse(text = core("reader_lines")(way)))
    read <- read_as(texts, way)
    expect_identical(read, script(texts), info = way)
    expect_gt(sum(!is.na(read)), 50)
  }
})

data <- data.frame(
  inc = c("1.234,50", "999", "12,5", "n.a.", NA, "", " 2\u00a0345 ", "1.5"),
  pc = c("12 %", "5%", "7,5 %", "99", "-3%", "0", "1", "100"),
  day = c("28.02.2020", "1/3/2021", "2020-05-06", "31.02.2020", "5. 6. 2019", NA, "28.02.20",
    "01.01.1900"),
  tm = c("28.02.2020 14:05", "1.3.2021 8:05:30", "2020-05-06 07:00", "x", NA, NA, "",
    "29.02.2021 10:00"),
  f = factor(c("1,5", "2,5", NA, "1,5", "3", "4", "5", "6"))
)
book <- quietly(turnbook(data) |>
  define(inc, read = "decimal comma", missing = c("Not applicable" = "n.a.")) |>
  define(pc, read = "decimal comma", missing = c("Refused" = 99)) |>
  define(day, read = "day first", missing = c("Unknown" = "01.01.1900")) |>
  define(tm, read = "day first with time") |> define(f, read = "decimal comma") |>
  turn_compute(inc + 0, as = "inc0") |> turn_compute(pc * f, as = "s") |>
  turn_compute(year(day), as = "y") |>
  turn_compute(hour(tm), as = "h") |> turn_flag(day < "2020-06-01", as = "early") |>
  turn_recode(inc, as = "k", becomes(1, under(100)), becomes(7, unanswered("Not applicable")),
    becomes(8, unanswered("unreadable")), becomes(9, unanswered("blank")), the_rest(2)) |>
  turn_recode(pc, as = "k2", becomes(1, unanswered("Refused")), the_rest(0)))

test_that("what is read is worked with, the original stays, and every script reads it alike", {
  expect_equal(book$inc0, c(1234.5, 999, 12.5, NA, NA, NA, 2345, NA))
  expect_equal(why(book, "inc0"), c("Not applicable", "blank", "blank", "unreadable"))
  expect_equal(book$s, c(18, 12.5, NA, NA, -9, 0, 5, 600))
  expect_equal(book$y, c(2020, 2021, 2020, NA, 2019, NA, NA, NA))
  expect_equal(book$h, c(14, 8, 7, NA, NA, NA, NA, NA))
  expect_equal(book$k, c(2, 2, 1, 7, 9, 9, 2, 8))
  expect_equal(book$k2, c(0, 0, 0, 1, 0, 0, 0, 0))
  expect_equal(book$early, c(1, 0, 1, NA, 1, NA, NA, NA))
  expect_identical(as.data.frame(book, missing = "codes", values = "typed")[names(data)], data)
  expect_identical(as.data.frame(book, values = "typed")$inc, replace(data$inc, 4, NA))
  typed <- as.data.frame(book, missing = "codes")
  expect_equal(typed[c("inc", "pc", "day", "tm", "f")], data.frame(
    inc = c(1234.5, 999, 12.5, NA, NA, NA, 2345, NA), pc = typed$pc,
    day = as.Date(c("2020-02-28", "2021-03-01", "2020-05-06", NA, "2019-06-05", NA, NA,
      "1900-01-01")),
    tm = as.POSIXct(c("2020-02-28 14:05:00", "2021-03-01 08:05:30", "2020-05-06 07:00:00",
      rep(NA, 5)), tz = "UTC"), f = typed$f))
  expect_equal(typed$pc[4], 99)
  expect_equal(book$pc[4], NA_real_)
  expect_equal(coef(stats::lm(inc ~ 1, book))[[1]], mean(typed$inc, na.rm = TRUE))
  named <- quietly(define(book, pc, codes = c("None" = 0, "All" = 100)))
  expect_equal(as.character(as.data.frame(named, values = "labels")$pc[5:8]),
    c("-3", "None", "1", "All"))
  expect_proved(book)
  sheet <- tempfile(fileext = ".yaml")
  save_turns(book, sheet)
  expect_identical(as.data.frame(quietly(apply_turns(data, sheet))), as.data.frame(book))
})

test_that("a file is read by what stands in it, whatever its columns were taken for", {
  file <- temporary(c("a;d;t", "1.234;2.50;2020-01-02", "2.500;;03.02.2020", "999;12.000;"))
  made <- quietly(turnbook(file) |> define(a, read = "decimal comma",
    missing = c("Refused" = 999)) |>
    define(t, read = "day first") |> turn_compute(a, as = "a0") |> turn_compute(month(t), as = "m"))
  expect_equal(made$a0, c(1234, 2500, NA))
  expect_equal(made$m, c(1, 2, NA))
  expect_proved(made)
  out <- tempfile(fileext = ".csv")
  said <- receipts(write_data(made, out, columns = c(a, d, t)))
  expect_match(said, "Written as read: a, t. values = \"typed\" has the texts.", fixed = TRUE)
  expect_equal(read.csv(out)$a, c(1234, 2500, 999))
  quietly(write_data(made, out, values = "typed", overwrite = TRUE))
  expect_equal(read.csv(out, colClasses = "character")$a, c("1.234", "2.500", "999"))
  for (ending in c(".xlsx", ".ods", ".parquet", ".jsonl")) {
    other <- tempfile(fileext = ending)
    quietly(write_data(made, other))
    again <- quietly(turnbook(other))
    last <- if (ending %in% c(".xlsx", ".ods")) NA else 999
    expect_equal(as.numeric(again$a), c(1234, 2500, last), info = ending)
    expect_equal(as.Date(again$t), as.Date(made$t), info = ending)
  }
  told <- tempfile(fileext = ".json")
  write_codebook(made, told)
  expect_equal(read_codebook(told)$a$read, "decimal comma")
  standard <- temporary(
    paste0("{\"fields\": [{\"name\": \"a\", \"type\": \"number\", \"decimalChar\": \",\"},",
      "{\"name\": \"t\", \"type\": \"date\", \"format\": \"%d.%m.%Y\"}]}"), ".json")
  expect_equal(quietly(turn_compute(turnbook(file, codebook = standard), a, as = "a0"))$a0,
    c(1234, 2500, 999))
})

test_that("a reading is offered where a column looks so, told where it fails, else refused", {
  offers <- core("reading_offers")
  expect_equal(offers(c("1,5", "2,75", "3")), "decimal comma")
  expect_equal(offers(c("1,234", "2")), c("decimal comma", "decimal point"))
  expect_equal(offers("28.02.2020"), "day first")
  expect_equal(offers("03.04.2020"), c("day first", "month first"))
  plain <- list(c("1", "2"), c("a", "b"), c("none", "some", "100%"), "2020-05-06",
    "2020-05-06 08:15:00+0100", NA)
  for (none in plain) {
    expect_equal(offers(none), character(), info = none[1])
  }
  open <- turnbook(data.frame(x = c("1,5", "2,5"), d = c("28.02.2020", "1.3.2020"),
    n = 1:2, who = 1))
  expect_output(print(look(open, x)), "define\\(book, x, read = \"decimal comma\"\\)")
  said <- refused(turn_standardize(open, x), "text-not-numbers")
  expect_match(conditionMessage(said), "define(book, x, read = \"decimal comma\")", fixed = TRUE)
  expect_match(conditionMessage(refused(turn_change(open, n, unit = who, order = d), "order-text")),
    "day first")
  expect_match(receipts(define(turnbook(data), inc, read = "decimal comma")),
    "Not readable in `inc`: \"1.5\" (1)", fixed = TRUE, all = FALSE)
  expect_match(receipts(define(turnbook(data), pc, read = "decimal comma")),
    "percent sign in 4 rows", all = FALSE)
  refused(define(open, x, read = "day first"), "read-none")
  refused(define(open, n, read = "decimal comma"), "read-not-text")
  refused(define(quietly(turn_compute(open, n, as = "m")), m, read = "decimal comma"),
    "read-derived")
  refused(define(open, x, read = "comma"), "bad-choice")
})

test_that("texts that stand for blanks are stated once and kept in the sheet", {
  file <- temporary(c("a,t,u", "5,x,NA", "-,-,", ".,NA,y", "7,z,q"))
  for (blank in list(c("-", "."), character())) {
    made <- quietly(turnbook(file, reading = list(blank = blank)) |>
      turn_recode(t, as = "r", becomes(1, "x"), the_rest(0)))
    expect_equal(made$r, if (length(blank)) c(1, NA, 0, 0) else c(1, 0, 0, 0))
    expect_equal(is.numeric(made$a), length(blank) > 0)
    sheet <- tempfile(fileext = ".yaml")
    save_turns(made, sheet)
    expect_identical(as.data.frame(quietly(apply_turns(file, sheet))), as.data.frame(made))
    expect_proved(made)
  }
  refused(turnbook(data, reading = list(blank = "-")), "reading-frame")
})
