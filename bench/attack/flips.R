# Bytes flipped at random in zip files, sheets and what a page says: what comes of it is the same
# data, an error of ours, or a change that is told.

until_over <- function(seconds, try) {
  end <- proc.time()[["elapsed"]] + seconds
  count <- 0
  told <- character()
  while (proc.time()[["elapsed"]] < end) {
    count <- count + 1
    wrong <- tryCatch(suppressMessages(try()), ableturn_error = function(e) NULL,
      warning = function(w) paste("a warning:", conditionMessage(w)),
      error = function(e) paste("a raw error:", conditionMessage(e)))
    told <- c(told, wrong)
  }
  list(count = count, told = told)
}

flipped <- function(bytes, most = 4) {
  at <- sample(length(bytes), sample(most, 1))
  replace(bytes, at, xor(bytes[at], as.raw(sample(255, length(at), TRUE))))
}

# Of a package: what was changed must be refused or told; of a table, what is read is the same.
attack_flipped_zips <- function(seconds) {
  room <- tempfile("flips-")
  dir.create(room)
  at <- function(name) file.path(room, name)
  book <- quietly(turn_compute(turnbook(data.frame(n = 1:9, x = 9:1)), x * 2, as = "y"))
  quietly(write_package(book, at("package.zip")))
  writeLines(c("a,b", "1,2", "3,4"), at("t.csv"))
  withr::with_dir(room, zip::zip("t.zip", "t.csv"))
  quietly(write_data(book, at("s.ods")))
  sources <- lapply(c(zip = "package.zip", zip = "t.zip", ods = "s.ods"), function(name) {
    readBin(at(name), "raw", 1e7)
  })
  open <- list(function(path) {
    told <- character()
    opened <- withCallingHandlers(turnbook(path), message = function(m) {
      told <<- c(told, conditionMessage(m))
    })
    if (!any(grepl("Changed since", told))) as.list(as.data.frame(opened))
  }, function(path) as.list(read_data(path)),
  function(path) as.list(read_data(path, list(table = "data"))))
  was <- Map(function(how, name) suppressMessages(how(at(name))), open,
    c("package.zip", "t.zip", "s.ods"))
  until_over(seconds, function() {
    i <- sample(3, 1)
    writeBin(flipped(sources[[i]]), path <- at(paste0("odd.", names(sources)[i])))
    got <- open[[i]](path)
    if (!is.null(got) && !identical(got, was[[i]])) paste("other data from", basename(path), i)
  })
}

attack_flipped_sheets <- function(seconds) {
  quietly(save_turns(demo_work(), path <- tempfile(fileext = ".turns.yaml")))
  bytes <- readBin(path, "raw", 1e6)
  data <- read_data(demo_file("ferry-survey.csv"))[1:60, ]
  until_over(seconds, function() {
    writeBin(flipped(bytes), path)
    quietly(apply_turns(data, path))
    NULL
  })
}

attack_flipped_requests <- function(seconds) {
  screen <- core("new_screen")(quietly(turnbook(data.frame(x = 1:9, g = rep(c("a", "b", "c"), 3)))))
  say <- function(...) jsonlite::toJSON(list(...), auto_unbox = TRUE)
  says <- c(say(do = "choose", names = list("x")), say(do = "ask", verb = "bin"),
    say(do = "fill", verb = "bin", typed = list(at = "3 6", as = "b")), say(do = "keep"),
    say(do = "tab", tab = "calls"), say(do = "search", text = "x"), say(do = "undo"),
    say(do = "working", name = "x", row = "2"), say(do = "more", list = "record", from = 1),
    say(do = "rescue", what = "leave"), say(do = "picture", of = "look", name = "x"))
  gate <- core("new_gate")(7000)
  cookie <- sub(";.*", "", core("gate_cookie")(gate))
  until_over(seconds, function() {
    said <- rawToChar(setdiff(flipped(charToRaw(sample(says, 1))), as.raw(0)))
    event <- core("event_in")(iconv(said, "latin1", "UTF-8"))
    if (length(event)) screen <<- core("answer")(screen, event)$screen
    odd <- rawToChar(flipped(charToRaw(cookie)) |> setdiff(as.raw(0)))
    request <- list(HTTP_HOST = "127.0.0.1:7000", HTTP_COOKIE = odd)
    if (core("gate_says")(gate, request) != "refused") "a wrong cookie was let in"
  })
}

# What is ten times as large takes about ten times as long. Thirty are let pass, as other work on
# the machine may fall on one of the two; what grows by the square takes a hundred.
attack_sizes <- function() {
  promise("size_is_time")
  took <- function(code) min(vapply(1:3, function(i) system.time(code())[[3]], 1))
  long <- function(n) data.frame(t = c(strrep("ab c,1 ", n / 7), "b", "c"), x = 1:3)
  rules <- function(n) {
    sheet <- tempfile(fileext = ".yaml")
    writeLines(c("able_turn: 1", "turns:", sprintf(
      "  - {recode: r%d, from: x, rules: [{code: 1, when: [1, 2]}, {code: 0, rest: true}]}",
      seq_len(n))), sheet)
    function() core("read_sheet")(sheet)
  }
  zipped <- function(n) {
    path <- tempfile(fileext = ".csv")
    writeLines(c("a,b", paste0(seq_len(n), ",2")), path)
    withr::with_dir(dirname(path), zip::zip(to <- tempfile(fileext = ".zip"), basename(path)))
    function() read_data(to)
  }
  looked <- function(n) {
    data <- long(n)
    function() capture.output(print(look(turnbook(data))))
  }
  cases <- list("rules of a sheet" = list(rules, 100), "a cell" = list(looked, 2e5),
    "a packed table" = list(zipped, 2e5))
  told <- lapply(names(cases), function(name) {
    case <- cases[[name]]
    times <- vapply(c(1, 10), function(by) quietly(took(case[[1]](case[[2]] * by))), 1)
    if (times[2] > 30 * max(times[1], 0.05)) sprintf("%s: %.2f s, ten times as large %.2f s", name,
      times[1], times[2])
  })
  list(count = length(cases), told = unlist(told))
}
