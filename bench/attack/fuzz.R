# Good files with something broken in them: each is read, or refused in words, in bounded time.
broken_bytes <- function(bytes) {
  for (i in seq_len(sample(1:4, 1))) {
    at <- sample(length(bytes), 1)
    piece <- bytes[seq(at, length.out = min(sample(1:40, 1), length(bytes) - at + 1))]
    odd <- list(charToRaw("\""), charToRaw("{"), charToRaw("]"), charToRaw("\n"), charToRaw("&a "), charToRaw("*a"),
      as.raw(0xff),
      charToRaw("1e999"), charToRaw("- "), charToRaw("\\"), charToRaw("null"), charToRaw(","), charToRaw("\t"), raw())
    bytes <- switch(sample(4, 1), append(bytes, sample(odd, 1)[[1]], at), bytes[-seq(at, length.out = length(piece))],
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
  cat("if (wait_min > median(wait_min, within = island) & !unanswered(age)) log(income / household)",
    " else row_mean(st_1, st_2, at_least = 1)", sep = "",
    file = formula)
  list(
    sheet = list(sheet, function(path) apply_turns(data, path)),
    codebook = list(demo_file("ferry-survey.codebook.json"), function(path) turnbook(data, codebook = path)),
    instrument = list(demo_file("commuter-mood.instrument.yaml"), function(path) turn_instrument(data, path)),
    table = list(table, function(path) turnbook(path)),
    rules = list(demo_file("rider-rules.csv"), function(path) turn_recode(data, crossings, rules = path, as = "r")),
    formula = list(formula, function(path) {
      core("make_turn")(data, core("new_turn")("compute", "f", formula = rawToChar(core("file_bytes")(path))))
    })
  )
}

attack_fuzz <- function(times, seconds = 20) {
  told <- character()
  for (target in names(targets <- fuzz_targets())) {
    good <- core("file_bytes")(targets[[target]][[1]])
    for (i in seq_len(times)) {
      path <- tempfile()
      writeBin(broken_bytes(good), path)
      took <- system.time(ended <- tryCatch({
        suppressWarnings(quietly(targets[[target]][[2]](path)))
        "read"
      }, ableturn_error = function(e) "refused", error = conditionMessage))[[3]]
      if (!ended %in% c("read", "refused") || took > seconds) {
        kept <- tempfile(paste0("fuzz-", target, "-"))
        file.copy(path, kept)
        told <- c(told, paste0(target, " (", kept, "): ", ended, ", ", round(took), " s"))
      }
      unlink(path)
    }
  }
  told
}
