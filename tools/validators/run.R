# Writes a book in every format and has it read by programs that others made; what they read is
# compared with the book. Then files that others wrote are opened.
# The last line is: N passed, N failed
# Use: Rscript tools/validators/run.R
folder <- tempfile("validated-")
dir.create(folder)
here <- function(name) file.path("tools", "validators", name)
rscript <- file.path(R.home("bin"), "Rscript")

# What a program says, as a table; one that cannot run is a failure.
said_by <- function(program, arguments, reader) {
  lines <- suppressWarnings(tryCatch(system2(program, shQuote(arguments), stdout = TRUE),
    error = function(e) structure(conditionMessage(e), status = 127)))
  told <- grep("^(ok|FAILED)\t", lines, value = TRUE)
  parts <- do.call(rbind, strsplit(c(told, if (length(attr(lines, "status"))) paste("FAILED",
    reader, program, "it stopped", sep = "\t")), "\t"))
  if (is.null(parts)) parts <- rbind(c("FAILED", reader, program, "it said nothing"))
  stats::setNames(as.data.frame(parts), c("state", "file", "reader", "compared"))
}

if (system2(rscript, c(here("make.R"), folder)) != 0) stop("The files could not be written.")
made_elsewhere <- file.path(folder, "elsewhere")
dir.create(made_elsewhere)
system2("/usr/bin/python3", c(here("writers.py"), made_elsewhere))
system2("node", c(here("writers.mjs"), made_elsewhere))
schema <- file.path("inst", "schema", "turn-sheet.schema.json")
results <- rbind(
  said_by("/usr/bin/python3", c(here("readers.py"), folder), "readers.py"),
  said_by(rscript, c(here("package.R"), folder), "package.R"),
  said_by("java", c(here("Ddi.java"), folder, system.file("codebook.xsd", package = "rddi")),
    "Ddi.java"),
  said_by("node", c(here("readers.mjs"), folder, schema), "readers.mjs"),
  said_by(rscript, c(here("opened.R"), made_elsewhere), "opened.R")
)
unlink(folder, recursive = TRUE)
cat(sub(" +$", "", do.call(paste, c(lapply(results, format), sep = "  "))), sep = "\n")
failed <- sum(results$state != "ok")
cat(sprintf("%d passed, %d failed\n", nrow(results) - failed, failed))
quit(status = as.integer(failed > 0))
