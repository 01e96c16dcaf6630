# How texts of a file are typed is found out where one way alone fits, and asked for where two do.

# Of each column: its texts, the way that is found (NA: it stays as it is; ?: it is asked for), and
# the values that this gives.
typed_columns <- list(
  "comma" = list(c("1.234,50", "3,5"), "decimal comma", c(1234.5, 3.5)),
  "comma alone" = list(c("2,7", "0,25"), "decimal comma", c(2.7, 0.25)),
  "falling pairs" = list(c("5,1", "2,4"), "decimal comma", c(5.1, 2.4)),
  "zero before" = list(c("0,086", "1,250"), "decimal comma", c(0.086, 1.25)),
  "percent" = list(c("12 %", "7%"), "decimal comma", c(12, 7)),
  "percent and comma" = list(c("12,5 %", "-7%"), "decimal comma", c(12.5, -7)),
  "point" = list(c("1,234.50", "3.5"), "decimal point", c(1234.5, 3.5)),
  "apostrophes" = list(c("1'234.5", "2.5"), "decimal point", c(1234.5, 2.5)),
  "day" = list(c("28.02.2031", "01.03.2031"), "day first", c("2031-02-28", "2031-03-01")),
  "month" = list(c("02/28/2031", "03/01/2031"), "month first", c("2031-02-28", "2031-03-01")),
  "day and time" = list(c("28.02.2031 10:15", "1.3.2031 9:00:01"), "day first with time",
    c("2031-02-28 10:15:00", "2031-03-01 09:00:01")),
  "zones" = list(c("2031-03-04T10:00:00Z", "2031-03-04 23:30+02:00"), "time with zone",
    c("2031-03-04 10:00:00", "2031-03-04 21:30:00")),
  "fractions of seconds" = list(c("2031-03-04T10:00:00.123Z", "2031-12-31T23:30:01.5-0530"),
    "time with zone", c("2031-03-04 10:00:00", "2032-01-01 05:00:01")),
  "same either way" = list(c("03.03.2031", "05.05.2031"), "day first",
    c("2031-03-03", "2031-05-05")),
  "ticked answers" = list(c("1,3", "2,4", "2"), "?"), "groups" = list(c("1,234", "5,678"), "?"),
  "two groups" = list(c("1.234.567", "2.345.678"), "?"),
  "either first" = list(c("03.04.2031", "05.06.2031"), "?"),
  "plain numbers" = list(c("1.5", "2.25"), NA), "whole" = list(c("1", "20"), NA),
  "years first" = list(c("2031-02-28", "2031-03-01"), NA), "codes" = list(c("007", "0,5"), NA),
  "telephones" = list(c("030 123", "040 456"), NA), "versions" = list(c("1.2.3", "1.2.4"), NA),
  "words" = list(c("1,5", "n/a"), "?"), "lists" = list(c("1,2,3", "2"), NA),
  "impossible" = list(c("31.02.2031", "30.02.2031"), NA), "empty" = list(c("", ""), NA)
)

test_each("a column of a file is typed", typed_columns, function(case, name) {
  file <- temporary(c("id;x", paste0(1:2, ";", case[[1]])))
  told <- receipt_of(book <- turnbook(file))$turn
  way <- if (length(told$asked)) "?" else told$ways$x$way %||% NA
  # "7%" can be read by either; the point is no sign of it
  expect_true(way %in% c(case[[2]], if (name == "percent") "decimal point"))
  if (length(case) > 2) {
    expect_equal(as.character(known_variable(book, "x")$x), as.character(case[[3]]))
    expect_equal(as.character(quietly(read_data(file))$x), as.character(case[[3]]))
  } else {
    expect_null(core("meaning_in")(book, "x")$read)
  }
})

test_that("what is asked for is told with the call that answers, and read as was said", {
  file <- temporary(c("id;d;v;w;z", "1;03.04.2031;1.234;2,5;2031-03-04T10:00Z",
    "2;05.06.2031;2.500;7,25;2031-03-04T12:00+02:00"))
  said <- paste(receipts(turnbook(file)), collapse = " ")
  expect_match(said, "d stays text: \"03.04.2031\" may be day first or month first", fixed = TRUE)
  expect_match(said, "reading = list(columns = c(d = \"day first\" or \"month first\"))",
    fixed = TRUE)
  expect_match(said, "\"1.234\" may be decimal comma or decimal point", fixed = TRUE)
  stated <- list(decimal = ",", dates = "month first")
  read <- quietly(read_data(file, stated))
  expect_equal(read$d, as.Date(c("2031-03-04", "2031-05-06")))
  expect_equal(read$v, c(1234, 2500))
  expect_equal(quietly(read_data(file, list(decimal = ".")))$v, c(1.234, 2.5))
  expect_equal(quietly(read_data(file, list(columns = c(v = "decimal comma"))))$d[1], "03.04.2031")
  book <- quietly(turnbook(file, reading = stated) |> turn_compute(v * w, as = "s") |>
    turn_flag(d > as.Date("2031-04-01"), as = "f") |>
    turn_recode(z, as = "at_ten", becomes(1, "2031-03-04 10:00:00"), the_rest(0)))
  expect_equal(book$s, c(3085, 18125))
  expect_equal(book$at_ten, c(1L, 1L))
  expect_proved(book)
  sheet <- tempfile(fileext = ".yaml")
  save_turns(book, sheet)
  expect_identical(as.data.frame(quietly(apply_turns(file, sheet))), as.data.frame(book))
  again <- tempfile(fileext = ".yaml")
  save_turns(quietly(apply_turns(file, sheet)), again)
  expect_identical(readLines(again), readLines(sheet))
  # the next wave is read the same, although it alone would be read otherwise
  wave <- temporary(c("id;d;v;w;z", "1;28.04.2031;1,5;2,5;", "2;05.01.2031;2.000;1;"))
  later <- quietly(apply_turns(wave, sheet))
  expect_equal(later$f, c(NA, 1L))
  expect_equal(later$s, c(3.75, 2000))
})

test_that("what is said of the reading is checked", {
  file <- temporary(c("a,b", "1,2"))
  for (case in list(list("x", "bad-reading"), list(list(1), "bad-reading"),
    list(list(decimals = ","), "reading-key"), list(list(decimal = ";"), "bad-choice"),
    list(list(dates = "year first"), "bad-choice"), list(list(blank = 9), "bad-blank"),
    list(list(range = "B:C"), "bad-range"), list(list(range = "A1:B2"), "reading-unused"),
    list(list(columns = "day first"), "bad-reading-columns"),
    list(list(columns = c(a = "backwards")), "bad-choice"),
    list(list(columns = c(z = "day first")), "unknown-variable"),
    list(list(second_line = "units"), "bad-choice"), list(list(skip = 5), "skip-all"))) {
    refused(read_data(file, case[[1]]), case[[2]])
  }
  refused(turnbook(data.frame(a = 1), reading = list(decimal = ",")), "reading-frame")
})

test_that("numbers that surely have a comma are the same whether texts or values are read", {
  for (numbers in list(c("1,25", "-7,5555", "12", ""), c("1234,5", "2,25e-05", "", "3e+10"))) {
    file <- temporary(c("v;k", paste0(numbers, ";1")))
    values <- as.numeric(sub(",", ".", numbers))
    expect_identical(quietly(read_data(file))$v, values)
    expect_match(receipts(read_data(file)), "decimal comma: v", fixed = TRUE, all = FALSE)
    book <- quietly(turnbook(file))
    expect_identical(as.data.frame(book)$v, values)
    expect_identical(as.data.frame(book, values = "typed")$v, replace(numbers, numbers == "", NA))
    expect_identical(quietly(turn_compute(book, v + 0, as = "n"))$n, values)
    expect_identical(quietly(read_data(file, list(columns = c(k = "decimal point"))))$v, values)
    expect_type(quietly(read_data(file, list(columns = character())))$v, "character")
  }
})

test_that("where nearly all texts fit one way it is asked, and the others are read as before", {
  file <- temporary(c("id;w;d", "1;0,25;03.04.2031", "2;none;15.06.2031", "3;7,5;05.06.2031"))
  said <- receipts(turnbook(file))
  expect_match(said, "w stays text: \"0,25\" may be a number (decimal comma) or", fixed = TRUE,
    all = FALSE)
  expect_match(said, "(\"none\" is none)", fixed = TRUE, all = FALSE)
  book <- quietly(turnbook(file, reading = list(columns = c(w = "decimal comma"))))
  expect_equal(book$w, c(0.25, NA, 7.5))
  expect_equal(book$d, as.Date(c("2031-04-03", "2031-06-15", "2031-06-05")))
  expect_false(any(grepl("stays text", receipts(turnbook(temporary(c("a;b", "A1;x 2", "B2;y")))))))
})

test_that("a second line under the names is found, told, and read as labels or left out", {
  skip_if_not_installed("readxl")
  skip_if_not_installed("writexl")
  table <- data.frame(id = c("Number, of person", 1:4), q1 = c("How\nhappy?", 1, 5, NA, 2),
    born = c("Day of birth", "1990-02-03", "", "1991-12-31", "2001-01-01"),
    say = c("Own words", "abc", "d", "", "e"))
  files <- c(csv = tempfile(fileext = ".csv"), xlsx = tempfile(fileext = ".xlsx"),
    ods = tempfile(fileext = ".ods"))
  utils::write.csv(table, files[["csv"]], row.names = FALSE, na = "")
  typed <- table
  typed[] <- lapply(table, as.character)
  writexl::write_xlsx(typed, files[["xlsx"]])
  quietly(write_data(turnbook(typed), files[["ods"]], columns = c(id, q1, born, say)))
  for (kind in names(files)) {
    at <- if (kind == "ods") list(table = "data") else list()
    said <- paste(receipts(turnbook(files[[kind]], reading = at)), collapse = " ")
    expect_match(said, "looks like a second line under the names: id \"Number, of *person\"")
    expect_match(said, "reading = list(second_line = \"labels\")", fixed = TRUE)
    at$second_line <- "labels"
    said <- paste(receipts(book <- turnbook(files[[kind]], reading = at)), collapse = " ")
    expect_match(said, "A second line under the names is no row of data: id, q1, born, say",
      fixed = TRUE)
    expect_equal(nrow(book), 4)
    expect_equal(as.numeric(book$q1), c(1, 5, NA, 2))
    expect_match(paste(format(codebook(book)), collapse = " "), "How happy?", fixed = TRUE)
    made <- quietly(turn_compute(book, q1 * 2, as = "s") |> turn_compute(year(as.Date(born)),
      as = "y"))
    expect_equal(made$y, c(1990, NA, 1991, 2001))
    expect_proved(made)
    at$second_line <- "left out"
    expect_equal(quietly(turnbook(files[[kind]], reading = at))$say, book$say)
  }
  data <- temporary(c("a,b", "1,2", "3,4"))
  expect_match(paste(receipts(turnbook(data, reading = list(second_line = "labels"))),
    collapse = " "), "It holds numbers or dates, as a row of data does: a 1, b 2", fixed = TRUE)
  expect_no_match(paste(receipts(turnbook(data)), collapse = " "), "second line")
  refused(turnbook(temporary("a,b"), reading = list(second_line = "labels")), "second-line-none")
})
