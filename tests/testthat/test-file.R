test_that("files are read as they are", {
  book <- turnbook(temporary(c("id;name;when;n;code;on;half",
    "1;J\u00f3s;2031-02-03;1.50;007;TRUE;", "2;\"a;b\";2031-02-30;2;010;FALSE;x")))
  data <- as.data.frame(book)
  expect_equal(data$name, c("J\u00f3s", "a;b"))
  expect_type(data$when, "character")
  expect_equal(data$n, c(1.5, 2))
  expect_equal(data$code, c("007", "010"))
  expect_equal(data$on, c(TRUE, FALSE))
  expect_equal(data$half, c(NA, "x"))
  latin <- temporary(c(charToRaw("n\xe4me,x\nJos\xe9,1\n")))
  expect_equal(as.data.frame(turnbook(latin)),
    data.frame("n\u00e4me" = "Jos\u00e9", x = 1L, check.names = FALSE))
  marked <- temporary(c(as.raw(c(0xef, 0xbb, 0xbf)), charToRaw("a\tb\r\n1\t\"two\nlines\"\r\n")))
  expect_equal(as.data.frame(turnbook(marked)), data.frame(a = 1L, b = "two\nlines"))
  expect_equal(dim(turnbook(temporary("a,b"))), c(0L, 2L))
  expect_equal(as.data.frame(turnbook(temporary(c("a,b", ",", ","))))$a, c(NA, NA))
})

test_that("what is no table is refused, with the line", {
  refused(turnbook(temporary(c("a,b,a", "1,2,3"))), "column-twice")
  refused(turnbook(temporary(c("a,,b", "1,2,3"))), "column-unnamed")
  expect_match(conditionMessage(refused(turnbook(temporary(c("a,b", "1,2", "3", "4,5"))),
    "ragged")), "line 3")
  expect_match(conditionMessage(refused(turnbook(temporary(c("a,b", "1,2", "3,4,5"))), "ragged")),
    "line 3")
  refused(turnbook(temporary(raw())), "file-empty")
  refused(turnbook(temporary(as.raw(c(1, 0, 2)))), "file-binary")
  refused(turnbook(tempdir()), "file-folder")
  expect_match(conditionMessage(refused(turnbook(file.path(dirname(demo_file("quiz-key.csv")),
    "quiz-kei.csv")), "file-missing")), "quiz-key.csv")
})

test_that("one row, only missing values and many columns are no trouble", {
  n <- if (tries_all()) 2000 else 800
  wide <- temporary(c(paste0("v", 1:n, collapse = ","), paste(rep_len(1:4, n), collapse = ",")))
  book <- quietly(turn_reverse(turnbook(wide), where(is.numeric), limits = c(1, 5)))
  expect_equal(dim(book), c(1L, 2 * n))
  expect_equal(book[[paste0("v", n, "_r")]], 2)
  empty <- quietly(turn_composite(turnbook(temporary(c("a,b,c", "1,,", "2,,"))), a:b, as = "s",
    at_least = 1))
  expect_equal(empty$s, c(1, 2))
  expect_output(print(look(empty, b)), "blank")
})

test_that("names with spaces, accents and reserved words work everywhere", {
  data <- data.frame(`if` = 1:3, label = 2:4, code = 3:5, `my var` = c(4, 5, 1),
    "\u00e9t\u00e9" = 3:1, items = 1:3, n_valid = 9:7, check.names = FALSE)
  path <- temporary(c(paste0("\"", names(data), "\"", collapse = ","),
    do.call(paste, c(unname(as.list(data)), sep = ","))))
  book <- quietly(turnbook(path) |> turn_compute(`if` + label * code, as = "new name") |>
    turn_reverse(`my var`, limits = c(1, 5), as = "in") |>
    turn_recode(as = "w", becomes(1, when(label = 2, code = 3)),
      the_rest(0, label = "Other \"quoted\"")) |>
    turn_composite(c(`if`, `my var`, "\u00e9t\u00e9", items, n_valid), as = "TRUE", at_least = 2))
  expect_proved(book)
  sheet <- tempfile()
  save_turns(book, sheet)
  expect_equal(as.data.frame(quietly(apply_turns(path, sheet))), as.data.frame(book))
})

test_that("originals are written as they came, derived columns in their shortest form", {
  lines <- c("id,code,n,t", "1,007,1.50,\"a,b\"", "2,010,-0.1,", "3,,1e3,x")
  book <- quietly(turnbook(temporary(lines)) |> define(id, missing = c("No" = 3)) |>
    turn_compute(n / 3, as = "third") |>
    turn_recode(id, as = "r", becomes(1, 1, label = "One"), the_rest(2, label = "Two")))
  out <- tempfile(fileext = ".csv")
  write_data(book, out, columns = c(id, code, n, t))
  expect_equal(readLines(out), sub("\"a,b\"", "\"a,b\"", lines))
  write_data(book, out, columns = c(r, third), values = "labels", overwrite = TRUE)
  expect_equal(readLines(out)[1:2], c("r,third", "One,0.5"))
  expect_equal(as.numeric(sub(".*,", "", readLines(out)[3])), -0.1 / 3)
  write_data(book, out, columns = id, missing = "na", overwrite = TRUE)
  expect_equal(readLines(out), c("id", "1", "2", ""))
})

test_that("an output that exists or cannot be written is left alone", {
  book <- quietly(turn_compute(data.frame(x = 1), x + 1, as = "y"))
  for (way in list(list(write_data, ".csv"), list(save_turns, ".yaml"), list(write_script, ".R"),
    list(write_codebook, ".csv"))) {
    path <- temporary("mine", way[[2]])
    refused(way[[1]](book, path), "file-exists")
    expect_equal(readLines(path), "mine")
  }
  refused(write_data(book, file.path(tempdir(), "no", "such.csv")), "no-folder")
  refused(write_data(book, tempdir()), "file-folder")
  folder <- tempfile()
  dir.create(folder)
  write_data(book, file.path(folder, "a.csv"))
  expect_equal(list.files(folder, all.files = TRUE, no.. = TRUE), "a.csv")
})

test_that("a codebook survives being written and read, and says what is wrong with it", {
  book <- demo_work()
  path <- tempfile(fileext = ".json")
  write_codebook(book, path)
  again <- turnbook(demo_file("ferry-survey.csv"), codebook = path)
  originals <- seq_along(core("original_names")(book))
  expect_equal(codebook(again)[originals, ], codebook(book)[originals, ])
  strained <- Filter(function(f) f$name == "strain",
    jsonlite::fromJSON(path, simplifyVector = FALSE)$resources[[1]]$schema$fields)[[1]]
  expect_equal(strained[c("title", "type")], list(title = "Mean of 6 items", type = "number"))
  expect_setequal(unlist(strained$derivedFrom),
    c("st_1", "st_2_r", "st_3", "st_4", "st_5_r", "st_6"))
  refused(read_codebook(temporary("{\"fields\": [")), "codebook")
  refused(read_codebook(temporary("{}")), "codebook")
  refused(read_codebook(temporary("{\"fields\": [{\"title\": \"x\"}]}")), "codebook")
  bad <- "{\"fields\": [{\"name\": \"x\", \"level\": \"high\"}]}"
  expect_match(conditionMessage(refused(read_codebook(temporary(bad)), "codebook")), "field x")
})

test_that("NA is blank where programs write it so, and asked for where nothing tells", {
  marks <- temporary(c("id,n,t", "1,NA,NA", "2,3.50,x"))
  book <- quietly(turn_compute(turnbook(marks), n + id, as = "s"))
  expect_equal(as.data.frame(book),
    data.frame(id = 1:2, n = c(NA, 3.5), t = c(NA, "x"), s = c(NA, 5.5)))
  expect_output(print(book), "NA stands for a blank answer")
  expect_true(attr(prove(book, "base"), "proved"))
  out <- tempfile(fileext = ".csv")
  write_data(book, out, columns = id:t)
  expect_equal(readLines(out), readLines(marks))
  # what comes of NA in texts: blank beside quoted ones, kept in quotes, else told and found
  ways <- list(
    list(c("1,\"left\"", "2,NA"), "x NA", 0), list(c("1,\"left\"", "2,\"NA\""), "x x", 0),
    list(c("1,left", "2,NA"), "x NA", 1), list(c("1,DE", "2,NA"), "x x", 1),
    list(c("1,\"DE\"", "2,\"NA\"", "3,NA"), "x x NA", 0), list(c("1,2.50", "2,NA"), "x NA", 0),
    list(c("1,left", "2,N/A"), "x x", 1))
  for (way in ways) {
    path <- temporary(c("id,t", way[[1]]))
    told <- paste(receipts(book <- turnbook(path)), collapse = " ")
    expect_equal(paste(ifelse(is.na(book$t), "NA", "x"), collapse = " "), way[[2]])
    expect_equal(grepl("blank or an answer", told), way[[3]] == 1)
    made <- quietly(turn_flag(book, !is.na(t), as = "f"))
    expect_equal(sum(findings(made)$id == "blank-or-answer"), way[[3]])
    copy <- tempfile(fileext = ".csv")
    write_data(book, copy)
    # what was asked is asked again, and nothing changes on the way
    expect_true(identical(quietly(turnbook(copy))$t, book$t))
  }
  stated <- turnbook(path, reading = list(blank = "N/A"))
  expect_equal(nrow(findings(quietly(turn_flag(stated, !is.na(t), as = "f")))), 0)
})

test_that("digits that are names stay text, with their last figure", {
  book <- turnbook(temporary(c("card,zip,n", "12345678901234567,00420,0",
    "12345678901234568,10000,0.5")))
  expect_equal(book$card, c("12345678901234567", "12345678901234568"))
  expect_equal(book$zip, c("00420", "10000"))
  expect_equal(book$n, c(0, 0.5))
})

types <- list(
  list(c("1", "2"), c(1L, 2L)), list(c("1", " 2"), c(1L, 2L)),
  list(c("1.5", "-2e3"), c(1.5, -2000)),
  list(c("1", "x"), c("1", "x")), list(c("1", "0x1A"), c("1", "0x1A")), list(c("1,5", "2"),
    c("1,5", "2")),
  list(c("TRUE", "FALSE"), c(TRUE, FALSE)), list(c("TRUE", "T"), c("TRUE", "T")),
  list(c("Inf", "1"),
    c("Inf", "1")),
  list(c("2031-01-31", ""), as.Date(c("2031-01-31", NA))), list(c("2031-1-31", "2031-02-01"),
    c("2031-1-31", "2031-02-01")),
  list(c("3000000000", "1"), c(3e9, 1)), list(c("", ""), c(NA, NA)), list(c("#1", "a#b"),
    c("#1", "a#b"))
)

names(types) <- vapply(types, function(case) paste(case[[1]], collapse = " and "), "")
test_each("a column has the type of all its values", types, function(case, name) {
  fields <- ifelse(grepl(",", case[[1]]), paste0("\"", case[[1]], "\""), case[[1]])
  path <- temporary(c("id,v", paste(1:2, fields, sep = ",")))
  book <- turnbook(path)
  expect_identical(book$v, case[[2]])
  out <- tempfile(fileext = ".csv")
  write_data(book, out)
  expect_equal(readLines(out), readLines(path))
})

test_that("a codebook in the open standard is understood in its usual forms", {
  path <- temporary(c(
    "{\"resources\": [{\"schema\": {\"missingValues\": [\"\"], \"fields\": [",
    paste("{\"name\": \"q\", \"type\": \"integer\", \"title\": \"Question\", \"description\":",
      "\"Asked twice\","),
    " \"categories\": [{\"value\": 1, \"label\": \"No\"}, {\"value\": 2, \"label\": \"Yes\"}],",
    " \"categoriesOrdered\": true, \"constraints\": {\"minimum\": 1, \"maximum\": 2},",
    " \"missingValues\": [\"\", \"-9\", {\"value\": \"99\", \"label\": \"Refused\"}]},",
    paste("{\"name\": \"t\", \"type\": \"string\", \"categories\": [\"a\", \"b\"]}, {\"name\":",
      "\"gone\"}]}}]}")
  ), ".json")
  book <- turnbook(data.frame(q = c(1, 2, -9, 99), t = c("a", "b", "c", NA)), codebook = path)
  expect_equal(why(book, "q"), c("Code -9", "Refused"))
  told <- codebook(book)
  expect_equal(told$codes, c("1 = No; 2 = Yes", "a; b"))
  expect_equal(
    unlist(told[1, c("label", "level", "limits", "note")], use.names = FALSE),
    c("Question", "ordinal", "1 to 2", "Asked twice")
  )
})

test_that("a large table has the numbers that its texts say", {
  set.seed(12)
  n <- 30000
  digits <- function(k) vapply(k, function(k) paste(sample(0:9, k, TRUE), collapse = ""), "")
  kinds <- list(
    whole = sample(-5:400, n, TRUE), long = sub("^0+", "1", digits(rep(10, n))),
    decimals = sprintf("%.15g", round(rnorm(n) * 10^sample(-2:8, n, TRUE), 5)),
    fifteen = paste0(sample(9, n, TRUE), ".", sub("0$", "3", digits(rep(14, n)))),
    blank = ifelse(runif(n) < 0.1, "", sample(90, n, TRUE)),
    lacking = ifelse(runif(n) < 0.1, "NA", sample(c("0", "0.5", "-7.25"), n, TRUE)),
    both = sample(c("", "NA", "3"), n, TRUE), padded = sample(c("1.50", "2"), n, TRUE),
    zeros = sprintf("%03d", sample(200, n, TRUE)), minus = sample(c("-0", "1"), n, TRUE),
    late = c(rep("5", n - 1), "x"), power = c(rep("5", n - 1), "1e3"), day = rep("2031-03-01", n),
    quoted = paste0("\"", sample(5, n, TRUE), "\""), tiny = sample(c("0.00001", "0.0001"), n, TRUE),
    huge = sample(c("1000000000000000", "123456789012345"), n, TRUE), empty = rep("", n)
  )
  for (codes in list(NULL, sample(c("NA", "DE", "FR"), n, TRUE))) {
    columns <- lapply(c(kinds, list(land = codes)[length(codes) > 0]), as.character)
    path <- withr::local_tempfile(fileext = ".csv")
    rows <- do.call(paste, c(unname(columns), sep = ","))
    writeLines(c(paste(names(columns), collapse = ","), rows), path)
    expect_gt(file.size(path), 2e6)
    read <- read_data(path)
    columns$quoted <- gsub("\"", "", columns$quoted)
    for (name in names(columns)) {
      right <- core("guess_texts")(columns[[name]], c("", if (name != "land") "NA"))$x
      if (is.character(right)) right[right == ""] <- NA
      expect_identical(read[[name]][seq_len(n)], right, info = name)
    }
    copy <- withr::local_tempfile(fileext = ".csv")
    quietly(write_data(turnbook(path), copy))
    again <- readLines(copy)
    expect_identical(gsub("\"", "", again), gsub("\"", "", readLines(path)))
  }
})
