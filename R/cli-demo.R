# Runs the examples on the demo survey, showing each call and what comes back.
run_demo <- function(folder) {
  dir.create(folder, showWarnings = FALSE, recursive = TRUE)
  if (!dir.exists(folder)) fail("no-folder", folder = folder)
  for (file in demo_file()) file.copy(demo_file(file), file.path(folder, file), overwrite = TRUE)
  scripts <- list.files(system.file("examples", package = "ableturn"), full.names = TRUE)
  file.copy(scripts, folder, overwrite = TRUE)
  withr::local_dir(folder)
  for (script in scripts) show_script(script)
  made <- c("ferry.html", "ferry.turns.yaml", "derive.R", "ferry-derived.csv", "office.zip",
    basename(scripts))
  made <- made[file.exists(made)]
  writeLines(c("", rule_of("Where the results are"),
    paste0("  ", formatC(file.path(folder, made), width = -36), " ", demo_says(made))))
}

rule_of <- function(title) {
  line <- strrep(glyph("-"), max(3, page_width() - nchar(title) - 4))
  cli::style_bold(paste(glyph("-"), title, line))
}

demo_says <- function(files) {
  said <- c(
    "ferry.html" = "the report: every derived variable explained, to open in a browser",
    "ferry.turns.yaml" = "the turn sheet: the whole work, to read, amend and replay",
    "derive.R" = "the same in plain R, without any package",
    "ferry-derived.csv" = "the derived columns, with the identifier",
    "office.zip" = "a package to hand on: data, codebooks, turns, script and report in one file"
  )
  unname(said[files]) %|% "an example from above, to run and change"
}

# Shows remarks as headings, calls as they are written, and their output below.
show_script <- function(path) {
  parsed <- parse(path, keep.source = TRUE, encoding = "UTF-8")
  spots <- attr(parsed, "srcref")
  lines <- readLines(path, encoding = "UTF-8")
  room <- new.env(parent = globalenv())
  end <- 0
  for (i in seq_along(parsed)) {
    start <- spots[[i]][1]
    show_remarks(lines[setdiff(seq_len(start - 1), seq_len(end))])
    end <- spots[[i]][3]
    writeLines(as_code_text(paste(c(">", rep("+", end - start)), lines[start:end])))
    show_step(parsed[[i]], room)
  }
}

show_remarks <- function(lines) {
  remarks <- sub("^#+ ?", "", grep("^#", lines, value = TRUE))
  if (length(remarks)) writeLines(c("", rule_of(remarks[1]), remarks[-1]))
}

show_step <- function(call, room) {
  out <- withCallingHandlers(
    withVisible(eval(call, room)),
    ableturn_receipt = function(receipt) {
      writeLines(sub("\n$", "", conditionMessage(receipt)))
      tryInvokeRestart("muffleMessage")
    }
  )
  if (out$visible) print(out$value)
}
