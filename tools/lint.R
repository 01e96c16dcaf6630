# lintr over the package and its scripts, and the complexity of functions, two files at a time;
# fails on any finding.
folders <- c("R", "tests", "tools", "data-raw", "bench")
files <- setdiff(list.files(folders, "[.]R$", recursive = TRUE, full.names = TRUE),
  "R/RcppExports.R")
most_ways <- 20

# Functions with more than `most_ways` ways through them. To count these takes longer than all else:
# where there are few branches they cannot be so many.
too_complex <- function(file) {
  branches <- "\\b(if|for|while|repeat|break|next|return)\\b|&&|[|][|]"
  code <- parse(file, keep.source = TRUE)
  texts <- vapply(attr(code, "srcref"), function(at) paste(as.character(at), collapse = "\n"), "")
  many <- lengths(regmatches(texts, gregexpr(branches, texts))) >= most_ways
  ways <- vapply(texts[many], function(text) cyclocomp::cyclocomp(parse(text = text)), 0)
  lines <- vapply(attr(code, "srcref")[many], `[`, 0L, 1L)
  sprintf("%s:%d: %g ways through one function, %d at most", file, lines, ways,
    most_ways)[ways > most_ways]
}

lines_of <- function(lints) {
  vapply(lints, function(at) sprintf("%s:%d: %s", at$filename, at$line_number, at$message), "")
}

cores <- if (.Platform$OS.type == "unix") max(1, min(2, parallel::detectCores()),
  na.rm = TRUE) else 1
found <- parallel::mclapply(files, function(file) {
  c(lines_of(lintr::lint(file)), too_complex(file))
}, mc.cores = cores)
broken <- files[!vapply(found, is.character, NA)]
for (file in broken) cat("could not be looked at:", file, "\n")
found <- unlist(found[!files %in% broken])
cat(found, sep = "\n")
cat(length(found), "lints\n")
quit(status = as.integer(length(found) + length(broken) > 0))
