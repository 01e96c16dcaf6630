# Tables in whatever files wrap them: packed, in another encoding, below other lines.

table_lines <- c("id|name|cost", "1|\u00e9t\u00e9|2.5", "2|b|", "3|\"a|\nb\"|4")
as_bytes <- function(lines, to = "UTF-8") {
  iconv(list(charToRaw(enc2utf8(paste0(lines, "\n", collapse = "")))), "UTF-8", to,
    toRaw = TRUE)[[1]]
}
bytes_in <- function(bytes, ending = ".csv") {
  path <- tempfile(fileext = ending)
  writeBin(bytes, path)
  path
}
packed_by <- function(open, ending) {
  path <- tempfile(fileext = ending)
  con <- open(path, "wb")
  on.exit(close(con))
  writeBin(as_bytes(table_lines), con)
  path
}
zip_of <- function(files) {
  path <- tempfile(fileext = ".zip")
  room <- withr::local_tempdir()
  for (name in names(files)) {
    dir.create(dirname(file.path(room, name)), FALSE, TRUE)
    writeBin(files[[name]], file.path(room, name))
  }
  withr::with_dir(room, utils::zip(path, names(files), flags = "-qr9X"))
  path
}

wrapped <- list(
  "plain" = list(function() bytes_in(as_bytes(table_lines))),
  "Latin-1" = list(function() bytes_in(as_bytes(table_lines, "latin1"))),
  "UTF-16 with a mark" = list(function() {
    bytes_in(c(as.raw(c(0xff, 0xfe)), as_bytes(table_lines, "UTF-16LE")))
  }),
  "UTF-16, the other way round" = list(function() {
    bytes_in(c(as.raw(c(0xfe, 0xff)), as_bytes(table_lines, "UTF-16BE")))
  }),
  "UTF-16 without a mark" = list(function() bytes_in(as_bytes(table_lines, "UTF-16LE"))),
  "gzip" = list(function() packed_by(gzfile, ".csv.gz")),
  "bzip2" = list(function() packed_by(bzfile, ".csv.bz2")),
  "xz" = list(function() packed_by(xzfile, ".csv.xz")),
  "zip" = list(function() {
    zip_of(list("in/a.csv" = as_bytes(table_lines), "read.me" = as_bytes("x")))
  }),
  "one of several" = list(function() {
    zip_of(list("a.csv" = as_bytes(table_lines), "b.csv" = as_bytes("x")))
  }, list(table = "a.csv")),
  "lines above" = list(function() bytes_in(as_bytes(c("# of; what", " # \"more", table_lines))),
    list(skip = "#")),
  "titles above" = list(function() bytes_in(as_bytes(c("A, title", "", table_lines))),
    list(skip = 2)),
  "stated" = list(function() bytes_in(as_bytes(table_lines, "latin1")),
    list(separator = "|", encoding = "Latin-1"))
)

test_each("a table is read that is wrapped", sampled(wrapped), function(case, name) {
  skip_if(grepl("zip|several", name) && !nzchar(Sys.which("zip")), "no zip")
  path <- case[[1]]()
  stated <- if (length(case) > 1) case[[2]]
  book <- turnbook(path, reading = stated)
  expect_equal(as.list(as.data.frame(book)), list(id = 1:3, name = c("\u00e9t\u00e9", "b", "a|\nb"),
    cost = c(2.5, NA, 4)))
  book <- quietly(turn_flag(book, name == "\u00e9t\u00e9", as = "f") |>
    turn_compute(cost * 2, as = "c2"))
  expect_equal(book$f, c(1L, 0L, 0L))
  expect_proved(book)
  sheet <- tempfile(fileext = ".yaml")
  save_turns(book, sheet)
  expect_identical(as.data.frame(quietly(apply_turns(path, sheet))), as.data.frame(book))
})

test_that("a first column without a name holds the names of rows", {
  book <- turnbook(temporary(c("\"\",\"a\"", "\"r1\",1", "\"r2\",5")))
  expect_equal(as.list(as.data.frame(book)), list(row = c("r1", "r2"), a = c(1L, 5L)))
  book <- quietly(turn_recode(book, row, as = "k", becomes(1, "r2"), the_rest(0)))
  expect_proved(book)
  refused(turnbook(temporary(c("a,\"\"", "1,2"))), "column-unnamed")
  refused(turnbook(temporary(c("a,b", "1,2,3", "4,5,6"))), "short-header")
  expect_equal(names(turnbook(temporary(c(",a,b", "1,2,3", "4,5,6")))), c("row", "a", "b"))
  refused(turnbook(temporary(c("a,b", "1,2,3", "4,5"))), "ragged")
})

test_that("what is packed badly, or to do harm, is refused in words", {
  skip_if(!nzchar(Sys.which("zip")), "no zip")
  whole <- readBin(packed_by(gzfile, ".gz"), "raw", 1e4)
  refused(read_data(bytes_in(utils::head(whole, 20), ".csv.gz")), "file-packed-broken")
  refused(read_data(bytes_in(utils::head(readBin(wrapped$zip[[1]](), "raw", 1e5), 60), ".zip")),
    "file-packed-broken")
  two <- zip_of(list("a.csv" = as_bytes("x"), "b.csv" = as_bytes("x")))
  expect_match(conditionMessage(refused(read_data(two), "which-table")), "a.csv, b.csv")
  refused(read_data(two, list(table = "c.csv")), "no-such-table")
  bomb <- tempfile(fileext = ".csv.gz")
  con <- gzfile(bomb, "wb")
  for (i in 1:15) writeBin(raw(1e7), con)
  close(con)
  expect_lt(system.time(refused(read_data(bomb), "file-bomb"))[["elapsed"]], 20)
  refused(read_data(bytes_in(as.raw(c(1, 0, 2, 0, 0, 9)))), "file-binary")
})

test_that("bytes that are no letters in the encoding that was stated are told", {
  latin <- bytes_in(as_bytes(c("a", "b", "\u00e9"), "latin1"))
  told <- refused(read_data(latin, list(encoding = "UTF-8")), "no-letters")
  expect_match(conditionMessage(told), "line 3, holds bytes that are no letters in UTF-8")
  odd <- bytes_in(c(as_bytes(c("a", "b")), as.raw(c(0x81, 10))))
  refused(read_data(odd, list(encoding = "Windows-1252")), "no-letters")
  expect_equal(read_data(odd)$a, c("b", "\u0081"))
  some <- c(0x20, 0x7f:0x80, 0xbf:0xc3, 0xe0, 0x9f:0xa0, 0xed, 0xf0, 0x8f:0x90, 0xf4:0xf5)
  bytes <- replicate(3000, as.raw(sample(some, sample(9, 1), TRUE)), simplify = FALSE)
  first <- vapply(bytes, core("first_no_letter"), 0)
  expect_equal(first == 0, vapply(bytes, function(b) validUTF8(rawToChar(b)), NA))
  sound <- vapply(seq_along(bytes), function(i) {
    validUTF8(rawToChar(bytes[[i]][seq_len(max(0, first[i] - 1))]))
  }, NA)
  expect_true(all(sound))
})
