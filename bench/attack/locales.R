# Files must not depend on the locale, its decimal mark, options or width: the same work in several
# locales, byte by byte. Locales are made in a temporary folder, where the system has what they are
# made of.
locale_names <- c("tr_TR.UTF-8", "ja_JP.UTF-8", "de_DE.UTF-8", "zh_CN.UTF-8", "de_DE.ISO-8859-1",
  "ja_JP.EUC-JP")

make_locales <- function(names = locale_names) {
  folder <- tempfile("locales-")
  dir.create(folder)
  made <- vapply(names, function(name) {
    part <- strsplit(name, ".", fixed = TRUE)[[1]]
    if (!nzchar(Sys.which("localedef"))) return(FALSE)
    suppressWarnings(system2("localedef", c("-i", part[1], "-f", part[2],
      shQuote(file.path(folder, name))), stdout = FALSE, stderr = FALSE))
    dir.exists(file.path(folder, name))
  }, NA)
  list(folder = folder, names = names[made])
}

# The files of one run, each with its sum; NULL, and what it said, where it stopped.
run_in_locale <- function(script, name, locales, numeric = "", encoding = "native.enc") {
  out <- tempfile("out-")
  said <- processx::run(file.path(R.home("bin"), "Rscript"),
    c("--vanilla", script, out, numeric, encoding),
    error_on_status = FALSE, timeout = 300, stderr = "2>&1",
    env = c("current", LC_ALL = name, LOCPATH = locales$folder,
      R_LIBS = paste(.libPaths(), collapse = ":")))
  if (said$status != 0) return(utils::tail(said$stdout, 1))
  tools::md5sum(list.files(out, full.names = TRUE)) |> stats::setNames(list.files(out))
}

# The differences of each locale from the first run; none is a list of empty texts.
locale_differences <- function(script, names = locale_names) {
  locales <- make_locales(names)
  base <- run_in_locale(script, "C.UTF-8", locales)
  if (is.null(names(base))) return(list(base = base))
  runs <- c(lapply(stats::setNames(locales$names, locales$names), function(name) {
    run_in_locale(script, name, locales, name, if (grepl("de_DE", name)) "latin1" else "native.enc")
  }), list(C = run_in_locale(script, "C", list(folder = ""), "", "UTF-8")))
  lapply(runs, function(run) {
    if (is.null(base::names(run))) return(paste("stopped:", run))
    base::names(base)[!base == run[base::names(base)] | is.na(run[base::names(base)])]
  })
}
