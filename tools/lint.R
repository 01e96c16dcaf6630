# lintr over the package and its scripts, two files at a time; fails on any lint.
folders <- c("R", "tests", "tools", "data-raw", "bench")
files <- setdiff(list.files(folders, "[.]R$", recursive = TRUE, full.names = TRUE),
  "R/RcppExports.R")
cores <- if (.Platform$OS.type == "unix") max(1, min(2, parallel::detectCores()),
  na.rm = TRUE) else 1
found <- parallel::mclapply(files, lintr::lint, mc.cores = cores)
broken <- files[!vapply(found, inherits, NA, "lints")]
for (file in broken) cat("could not be looked at:", file, "\n")
found <- unlist(found[!files %in% broken], recursive = FALSE)
for (lint in found) cat(sprintf("%s:%d: %s\n", lint$filename, lint$line_number, lint$message))
cat(length(found), "lints\n")
quit(status = as.integer(length(found) + length(broken) > 0))
