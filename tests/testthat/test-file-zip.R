# Packed files: what is honest is read, what is forged, lying or damaged is refused in words.

one <- function(...) list(forged_member("a.csv", ...))
sum_of <- function(text) core("checksum_of_bytes")(charToRaw(text))
lies <- function(...) one(both = list(...))

test_that("the sum of bytes is that of the standard", {
  expect_equal(sum_of("123456789"), 0xcbf43926)
  expect_equal(sum_of(""), 0)
  expect_equal(core("checksum_of_bytes")(as.raw(0:255)), 0x29058c73)
})

# What is behind a member whose sizes were not known before it.
later <- function(text, mark = TRUE) {
  c(if (mark) as.raw(c(0x50, 0x4b, 7, 8)), bytes_of(sum_of(text), 4), bytes_of(nchar(text), 4),
    bytes_of(nchar(text), 4))
}
unknown <- list(sum = 0, packed = 0, size = 0)
table <- "a,b\n1,2\n"

honest <- list(
  "stored" = one(), "deflated" = one(method = 8),
  "sizes behind, with a mark" = one(both = list(flags = 8), local = unknown, behind = later(table)),
  "sizes behind, without" = one(both = list(flags = 8), local = unknown,
    behind = later(table, FALSE)),
  "sizes twice" = one(both = list(flags = 8), behind = later(table)),
  "a folder and others" = list(forged_member("in/", ""), forged_member("in/a.csv"),
    forged_member("read.me", "x")),
  "letters beyond ASCII" = list(forged_member("\u00fcber.csv")),
  "a remark at the end" = one()
)
test_each("an honest zip file is read", honest, function(members, name) {
  comment <- if (grepl("remark", name)) charToRaw("made by hand") else raw()
  expect_equal(read_data(forge_zip(members, comment = comment)), data.frame(a = 1L, b = 2L),
    ignore_attr = TRUE)
})

big <- strrep("1,2\n", 5e4)
forged <- list(
  "the same name twice" = list(c(one("a,b\n9,9\n"), one())),
  "the same but for capitals" = list(c(one(), list(forged_member("A.csv")))),
  "the same in another normal form" = list(list(forged_member("\u00e9.csv"),
    forged_member("e\u0301.csv"))),
  "a file that is a folder" = list(c(one(), list(forged_member("a.csv/b.csv")))),
  "another sum" = list(one(packed = charToRaw("a,b\n1,3\n"))),
  "another sum, deflated" = list(one(method = 8, packed = deflated(charToRaw("a,b\n1,3\n")))),
  "cut short inside" = list(one(big, method = 8,
    packed = utils::head(deflated(charToRaw(big)), 100))),
  "more than is stated" = list(one(big, method = 8, both = list(size = 100))),
  "less than is stated" = list(lies(size = 100)),
  "locked" = list(lies(flags = 1)), "locked in another way" = list(lies(flags = 64)),
  "a method that nobody has" = list(lies(method = 99)),
  "a link" = list(lies(made_by = 3, mode = 0xa1ff)),
  "on another disk" = list(lies(disk = 1)),
  "another name at its place" = list(one(local = list(name = "b.csv"))),
  "a second name beside" = list(lies(extra = as.raw(c(0x75, 0x70, 1, 0, 1)))),
  "a second name beside, at its place" = list(one(local = list(extra = as.raw(c(0x75, 0x70, 0,
    0))))),
  "another size at its place" = list(one(local = list(size = 4))),
  "another method at its place" = list(one(local = list(method = 8))),
  "sizes behind that lie" = list(one(both = list(flags = 8), local = unknown,
    behind = later("a,b\n1,3\n"))),
  "no sizes behind" = list(one(both = list(flags = 8), local = unknown)),
  "a member in a member" = list(c(one(), one(listed = list(at = 0, name = "b.csv")))),
  "a place beyond the end" = list(one(listed = list(at = 9e5))),
  "something before the first" = list(one(), before = charToRaw("MZ")),
  "something between" = list(c(one(), list(forged_member("b.me"))), between = raw(7)),
  "something after the end" = list(one(), after = raw(5)),
  "a second end in the remark" = list(one(), comment = c(as.raw(c(0x50, 0x4b, 5, 6)), raw(18))),
  "a remark longer than it is" = list(one(), comment_size = 9),
  "fewer members than there are" = list(c(one(), list(forged_member("b.me"))), count = 1),
  "more members than there are" = list(one(), count = 3),
  "of a kind for more than 4 GB" = list(one(), count = 65535),
  "no letters in a name" = list(list(forged_member(as.raw(c(0xff, 0x2e))))),
  "no name" = list(list(forged_member(""))),
  "a device" = list(list(forged_member("con.csv"))),
  "a name with a colon" = list(list(forged_member("a.csv:b"))),
  "a name that turns" = list(list(forged_member("\u202eb.csv"))),
  "a blank at the end" = list(list(forged_member("a.csv ")))
)
outside <- lapply(c("../a.csv", "/a.csv", "..\\a.csv", "C:/a.csv", "~/a.csv", "in/../../a.csv",
  "./a.csv"), function(name) list(list(forged_member(name))))

test_each("refused is a zip file with", forged, function(case, name) {
  promise("sums_checked")
  path <- do.call(forge_zip, case)
  if (!length(case$before)) refused(read_data(path, list(table = "a.csv")), "file-packed-broken")
  refused(core("checked_zip")(path) |> core("unzip_into")(withr::local_tempdir()),
    "file-packed-broken")
  # also where it says to be a spreadsheet
  file.copy(path, sheet <- tempfile(fileext = ".xlsx"))
  expect_error(read_data(sheet), class = "ableturn_error")
})

test_that("a file of a zip file lies in its own folder", {
  for (case in outside) refused(read_data(do.call(forge_zip, case)), "file-outside")
})

test_that("what would unpack to very much is refused before it is unpacked", {
  bomb <- forge_zip(one(charToRaw("x"), method = 8, both = list(size = 2e9)))
  refused(read_data(bomb), "file-bomb")
  many <- forge_zip(lapply(1:20, function(i) forged_member(paste0("m", i), "x")), count = 10001)
  refused(read_data(many), "file-packed-broken")
})

test_that("how far the cells of a sheet reach is known before room is made for them", {
  extent <- function(text) core("sheet_extent")(charToRaw(text))
  expect_equal(extent("<row r='3'><c r=\"B3\"/><c   r = 'AA2' t=\"s\"/></row>"), c(3, 27))
  expect_equal(extent("<c r=\"XFD1048576\"><v>1</v></c> r"), c(1048576, 16384))
  expect_equal(extent("<color rgb=\"FF\"/> or=\"Z9\" r=\"\" r="), c(0, 0))
  far <- forge_zip(list(forged_member("xl/worksheets/sheet1.xml", "<c r=\"XFD1048576\"/>")))
  refused(core("refuse_far_cells")(core("checked_zip")(far), far), "sheet-far")
})

test_that("any change of a byte gives the same table, or an error of ours", {
  promise("data_or_error")
  path <- forge_zip(c(one(method = 8), list(forged_member("read.me", "x"))))
  bytes <- readBin(path, "raw", 1e4)
  given <- vapply(seq_along(bytes), function(i) {
    writeBin(replace(bytes, i, xor(bytes[i], as.raw(sample(255, 1)))), path)
    tryCatch(identical(read_data(path, list(table = "a.csv"))$b, 2L), ableturn_error = function(e) {
      TRUE
    }, error = function(e) FALSE)
  }, NA)
  expect_equal(which(!given), integer())
})

# The files of a package of ours.
files_packed <- function(book) {
  quietly(write_package(book, path <- tempfile(fileext = ".zip")))
  zip <- core("checked_zip")(path)
  lapply(setNames(nm = zip$members$name), function(name) core("zip_member")(zip, name))
}

# Packed again, with some of them otherwise, or others before them.
repacked <- function(contents, change = list(), drop = character(), first = list(),
                     name = "other.zip") {
  contents <- contents[setdiff(names(contents), drop)]
  for (f in names(change)) {
    contents[[f]] <- charToRaw(sub(change[[f]][1], change[[f]][2], rawToChar(contents[[f]])))
  }
  members <- c(first, Map(forged_member, names(contents), contents))
  to <- file.path(withr::local_tempdir(.local_envir = parent.frame()), name)
  file.copy(forge_zip(members), to)
  to
}

test_that("a package that was changed is told, with an identifier and without, by any name", {
  promise(c("changes_told", "same_bytes"))
  skip_if_not_installed("zip")
  data <- data.frame(n = 1:4, x = c(1, 2, 3, 4))
  plain <- quietly(turn_compute(turnbook(data), x * 2, as = "y"))
  with_id <- quietly(turn_compute(turnbook(data, id = n), x * 2, as = "y"))
  for (book in lapply(list(plain, with_id), files_packed)) {
    expect_equal(quietly(turnbook(repacked(book)))$y, c(2, 4, 6, 8))
    whole <- repacked(book)
    expect_false(any(grepl("Changed", receipts(turnbook(whole)))))
    cases <- list(
      list(change = list("originals.csv" = c("4,4", "4,5")), tells = "originals.csv"),
      list(change = list("turns.yaml" = c("x [*] 2", "x * 3")), tells = "turns.yaml"),
      list(change = list("datapackage.json" = c("\"x\"", "\"x\" ")), tells = "datapackage.json"),
      list(drop = "checksums.sha256", tells = "checksums.sha256"),
      list(change = list("checksums.sha256" = c("originals", "originale")),
        tells = "originals.csv"))
    for (case in cases) for (name in c("other.zip", "datapackage.json", "real.csv")) {
      path <- repacked(book, case$change %||% list(), case$drop %||% character(), name = name)
      told <- receipts(opened <- turnbook(path))
      expect_match(paste(told, collapse = " "), paste0("Changed since it was packed:.*",
        case$tells), info = name)
      if (case$tells == "originals.csv" && length(case$change$originals.csv)) {
        expect_true("data-changed" %in% findings(opened)$id)
      }
    }
    forged <- repacked(book, first = list(forged_member("originals.csv", "n,x\n1,3\n")))
    refused(check_package(forged), "file-packed-broken")
    refused(turnbook(forged), "file-packed-broken")
  }
})

test_that("a package that names a package as its table is refused at once", {
  descriptor <- "{\"resources\": [{\"name\": \"r\", \"path\": \"datapackage.json\"}]}"
  writeLines(descriptor, at <- file.path(withr::local_tempdir(), "datapackage.json"))
  refused(turnbook(at), "package-broken")
  refused(turnbook(forge_zip(list(forged_member("datapackage.json", descriptor)))),
    "package-broken")
})
