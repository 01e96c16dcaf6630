# Good files with something broken in them: each is read, or refused in words, in bounded time.
broken_bytes <- function(bytes) {
  for (i in seq_len(sample(1:4, 1))) {
    at <- sample(length(bytes), 1)
    piece <- bytes[seq(at, length.out = min(sample(1:40, 1), length(bytes) - at + 1))]
    odd <- list(charToRaw("\""), charToRaw("{"), charToRaw("]"), charToRaw("\n"), charToRaw("&a "),
      charToRaw("*a"), as.raw(0xff),
      charToRaw("1e999"), charToRaw("- "), charToRaw("\\"), charToRaw("null"), charToRaw(","),
      charToRaw("\t"), raw())
    bytes <- switch(sample(4, 1), append(bytes, sample(odd, 1)[[1]], at),
      bytes[-seq(at, length.out = length(piece))],
      append(bytes, piece, sample(length(bytes), 1)), replace(bytes, at, as.raw(sample(1:255, 1))))
  }
  bytes
}

fuzz_targets <- function() {
  data <- read_data(demo_file("ferry-survey.csv"))[1:60, ]
  work <- quietly(demo_work())
  sheet <- tempfile()
  save_turns(work, sheet)
  table <- tempfile()
  write_data(turnbook(data), table)
  formula <- tempfile()
  cat(
    "if (wait_min > median(wait_min, within = island) & !unanswered(age)) log(income / household)",
    " else row_mean(st_1, st_2, at_least = 1)", sep = "",
    file = formula)
  list(
    sheet = list(sheet, function(path) apply_turns(data, path)),
    codebook = list(demo_file("ferry-survey.codebook.json"),
      function(path) turnbook(data, codebook = path)),
    instrument = list(demo_file("ease-aboard.instrument.yaml"),
      function(path) turn_instrument(data, path)),
    table = list(table, function(path) turnbook(path)),
    rules = list(demo_file("rider-rules.csv"), function(path) {
      turn_recode(data, crossings,
                                                          rules = path, as = "r")
    }),
    formula = list(formula, function(path) {
      core("make_turn")(data, core("new_turn")("compute", "f",
        formula = rawToChar(core("file_bytes")(path))))
    })
  )
}

attack_fuzz <- function(times) {
  targets <- fuzz_targets()
  unlist(lapply(names(targets), function(name) {
    fuzz_one(name, targets[[name]][[1]],
                                           targets[[name]][[2]], times)
  }))
}

# A file whose refusal says something that no file before it was told is broken further: so the
# tries reach what lies behind the first checks. Comes back: what was found, in words.
fuzz_one <- function(name, good, read, times) {
  pool <- list(core("file_bytes")(good))
  said <- told <- character()
  for (i in seq_len(times)) {
    bytes <- broken_bytes(sample(pool, 1)[[1]])
    ended <- read_broken(bytes, read)
    if (!ended$words %in% said) pool <- c(pool, list(bytes))
    said <- unique(c(said, ended$words))
    if (length(ended$wrong)) {
      writeBin(bytes, kept <- tempfile(paste0("fuzz-", name, "-")))
      told <- c(told, paste0(name, " (", kept, "): ", ended$wrong))
    }
  }
  cat(sprintf("  %-12s %4d ways to be refused\n", name, length(said)))
  told
}

# `words`: what was said, without names and numbers; `wrong`: nothing, or why the end was no good
# one.
read_broken <- function(bytes, read, seconds = 20) {
  writeBin(bytes, path <- tempfile())
  on.exit(unlink(path))
  words <- function(e) {
    line <- sub("\n.*", "", gsub(basename(path), "", conditionMessage(e), fixed = TRUE))
    gsub("\"[^\"]*\"|`[^`]*`|[^ a-z]", "", paste(class(e)[1], line))
  }
  wrong <- NULL
  took <- system.time(said <- tryCatch({
    suppressWarnings(quietly(read(path)))
    "read"
  }, ableturn_error = words, error = function(e) {
    wrong <<- conditionMessage(e)
    words(e)
  }))[[3]]
  list(words = said, wrong = c(wrong, if (took > seconds) paste(round(took), "s")))
}
