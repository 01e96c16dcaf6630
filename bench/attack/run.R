# All attacks at once: Rscript bench/attack/run.R [times] [seed]. `make attack` runs them 20 times
# with a new seed; CI once with a fixed one, so that a failure can be seen again.
library(ableturn)
given <- commandArgs(TRUE)
times <- if (length(given)) as.numeric(given[1]) else 1
helpers <- "^helper-(data|awkward|attack|promises|forge).*R$"
for (file in list.files("tests/testthat", helpers, full.names = TRUE)) source(file)
for (file in c("programs", "kills", "full", "fuzz", "locales", "flips")) {
  source(file.path("bench/attack", paste0(file, ".R")))
}
seed <- if (length(given) > 1) as.numeric(given[2]) else as.integer(Sys.time()) %% 1e6
set.seed(seed)
cat("Seed", seed, "\n")

tried <- 0
found <- character()
attack <- function(what, count, told) {
  took <- system.time(told <- unlist(told))[[3]]
  cat(sprintf("%-44s %6d tried, %3d found, %5.0f s\n", what, count, length(told), took))
  if (length(told)) cat(paste0("  ", utils::head(told, 12)), sep = "\n")
  tried <<- tried + count
  found <<- c(found, told)
}
attack("random programs on awkward data", 60 * times, attack_programs(60 * times))
attack("the same on long data, two cores", 2 * times, attack_programs(2 * times, 60000))
attack("broken files, six readers", 6 * 40 * times, attack_fuzz(40 * times))
attack("kills while writing", 6 * times, attack_kills(6 * times))
if (is.null(with_small_disk(100, function(folder) TRUE))) {
  cat("Small disks may not be mounted here: not tried.\n")
} else {
  attack("small disks that fill up", 3 * times, attack_full(3 * times))
}
script <- normalizePath("bench/attack/locale.R")
names <- if (times > 1) locale_names else c("tr_TR.UTF-8", "ja_JP.EUC-JP", "de_DE.ISO-8859-1")
attack("locales, file by file", length(names) + 1, locale_differences(script, names))
for (what in c("zips", "sheets", "requests")) {
  found_by <- get(paste0("attack_flipped_", what))(3 * times)
  attack(paste("bytes flipped in", what), found_by$count, found_by$told)
}
sizes <- attack_sizes()
attack("ten times the size", sizes$count, sizes$told)
cat(tried, "tried,", length(found), "found\n")
quit(status = as.integer(length(found) > 0))
