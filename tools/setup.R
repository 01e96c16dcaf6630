# Installs what is missing, and only that: Debian's built packages where they are new enough and
# may be installed, else CRAN.
# Use: Rscript tools/setup.R [figures] [desk] [test] [formats] [validators] [browser] [engines]
#   [lint] [check] [document] [fuzz] [coverage] [site] [format] [packages-only]
wanted <- commandArgs(TRUE)
fields <- read.dcf("DESCRIPTION")[1, ]

needs <- function(field) {
  entries <- trimws(strsplit(gsub("\n", " ", fields[[field]]), ",")[[1]])
  name <- sub("[ (].*", "", entries)
  least <- ifelse(grepl("(", entries, fixed = TRUE), gsub(".*>= *|\\).*", "", entries), "0")
  base <- rownames(installed.packages(priority = "base"))
  least <- setNames(least, name)
  least[!name %in% c("R", base)]
}

packages <- needs("Imports")
if ("figures" %in% wanted) {
  packages <- c(packages, needs("Suggests")[c("ggplot2", "htmltools", "svglite", "zip")])
}
# These are built from source, which takes minutes: only what tries file formats waits for them.
slow_to_build <- c("nanoparquet", "writexl", "shiny", "RPostgres", "adbi", "adbcdrivermanager")
suggested <- needs("Suggests")
if (any(c("test", "check") %in% wanted)) {
  packages <- c(packages, suggested[setdiff(names(suggested), slow_to_build)])
}
if ("formats" %in% wanted) packages <- c(packages, suggested[c("nanoparquet", "writexl")])
if ("desk" %in% wanted) packages <- c(packages, suggested["shiny"])
# What reads our files without us; the first three only so that they need not be built.
validators <- c(dplyr = "0", httr = "0", purrr = "0", frictionless = "1.0.0", iso8601 = "0",
  datapackage = "0.2.0", rddi = "0")
if ("validators" %in% wanted) packages <- c(packages, validators)
# How tests reach PostgreSQL and DuckDB; the first ones only so that they need not be built.
engine_drivers <- c(blob = "0", lubridate = "0", plogr = "0", suggested["RPostgres"],
  nanoarrow = "0.6.0", suggested[c("adbcdrivermanager", "adbi")])
if ("engines" %in% wanted) packages <- c(packages, engine_drivers)
if ("lint" %in% wanted) packages <- c(packages, lintr = "3.0.0")
if ("document" %in% wanted) packages <- c(packages, roxygen2 = "7.2.0")
if ("format" %in% wanted) packages <- c(packages, styler = "1.9.0")
if ("coverage" %in% wanted) packages <- c(packages, covr = "3.5.0")
if ("site" %in% wanted) {
  packages <- c(packages, pkgdown = "2.0.0", rmarkdown = "2.0", needs("Suggests")["knitr"])
}

enough <- function(version, least) !is.na(version) && utils::compareVersion(version, least) >= 0
have <- function(name) {
  tryCatch(as.character(packageVersion(name)), error = function(e) NA_character_)
}
missing_now <- function() packages[!mapply(enough, vapply(names(packages), have, ""), packages)]

# The library to install into: the first that may be written, else the user's own.
library_for <- function() {
  open <- .libPaths()[file.access(.libPaths(), 2) == 0]
  if (length(open)) return(open[1])
  own <- strsplit(Sys.getenv("R_LIBS_USER"), .Platform$path.sep)[[1]][1]
  dir.create(own, recursive = TRUE, showWarnings = FALSE)
  .libPaths(c(own, .libPaths()))
  own
}

debian_root <- function() {
  file.exists("/etc/debian_version") && nzchar(Sys.which("apt-get")) &&
    identical(Sys.info()[["user"]], "root")
}

# What Debian offers; its package numbers may carry an epoch and a revision.
offered <- function(debian) {
  said <- suppressWarnings(system2("apt-cache", c("policy", debian), stdout = TRUE, stderr = FALSE))
  line <- grep("Candidate:", said, value = TRUE)
  if (!length(line)) return(NA_character_)
  version <- gsub("^.*: *([0-9]+:)?|-[^-]*$", "", line)
  if (grepl("none", version)) NA_character_ else gsub("[^0-9.-].*$", "", version)
}

from_debian <- function(missing) {
  system2("apt-get", c("update", "-qq"), stdout = FALSE)
  debian <- paste0("r-cran-", tolower(names(missing)))
  good <- debian[mapply(enough, vapply(debian, offered, ""), missing)]
  if (length(good)) {
    system2("apt-get", c("install", "-y", "-qq", "--no-install-recommends", good), stdout = FALSE)
  }
}

from_cran <- function(missing) {
  if (identical(unname(getOption("repos")["CRAN"]), "@CRAN@")) utils::chooseCRANmirror(ind = 1)
  # Some need C++17 without saying so to older versions of R.
  if (getRversion() < "4.3" && any(names(missing) %in% names(validators))) {
    writeLines("CXX = g++ -std=gnu++17", makevars <- tempfile())
    Sys.setenv(R_MAKEVARS_USER = makevars)
  }
  install.packages(names(missing), lib = library_for(), Ncpus = 2, quiet = TRUE)
}

# The server, and what its driver is built with.
if ("engines" %in% wanted && debian_root() && !dir.exists("/usr/lib/postgresql")) {
  system2("apt-get", c("update", "-qq"), stdout = FALSE)
  system2("apt-get", c("install", "-y", "-qq", "--no-install-recommends", "postgresql",
    "libpq-dev"), stdout = FALSE, stderr = FALSE)
}
if (length(missing_now())) {
  cat("Installing:", names(missing_now()), "\n")
  if (debian_root()) from_debian(missing_now())
  if (length(missing_now())) from_cran(missing_now())
}
# A program that Debian has, installed where it lacks.
from_apt <- function(packages, lacks) {
  if (!lacks || !debian_root()) return(invisible())
  system2("apt-get", c("install", "-y", "-qq", "--no-install-recommends", packages),
    stdout = FALSE, stderr = FALSE)
}
lacks <- function(program) !any(nzchar(Sys.which(program)))
# What a folder of ours says it needs from npm.
from_npm <- function(folder) {
  from_apt(c("nodejs", "npm"), lacks("npm"))
  nodes <- names(jsonlite::read_json(file.path(folder, "package.json"))$dependencies)
  there <- dir.exists(file.path(folder, "node_modules", nodes))
  if (lacks("npm") || all(there)) return(invisible())
  system2("npm", c("install", "--prefix", folder, "--no-package-lock", "--no-audit", "--no-fund",
    "--silent"))
}
if ("validators" %in% wanted) {
  python <- suppressWarnings(system2("/usr/bin/python3", c("-c",
    shQuote("import odf, openpyxl, prov")), stdout = FALSE, stderr = FALSE))
  from_apt(c("python3-odf", "python3-openpyxl", "python3-prov"), python != 0)
  from_apt("default-jdk-headless", lacks("java"))
  from_npm("tools/validators")
}
# What drives a browser, and what checks a page for who cannot see it or use a mouse.
if ("browser" %in% wanted) from_npm("tools/browser")
# The library of DuckDB.
if ("engines" %in% wanted) from_npm("tools/engines")
# The page test drives a real browser; without one it is skipped.
if (any(c("test", "browser") %in% wanted)) {
  from_apt("chromium", lacks(c("chromium", "chromium-browser", "google-chrome")))
  # Locales are made in a temporary folder from what this package brings; without it those tries
  # are fewer.
  from_apt("locales", !dir.exists("/usr/share/i18n/locales"))
}
# The check compiles the same twice, which this remembers.
if ("check" %in% wanted) from_apt("ccache", lacks("ccache"))
# C++ is formatted by a program of its own.
if ("format" %in% wanted) from_apt("clang-format", lacks("clang-format"))
# The pages of the site are made by pandoc.
if ("site" %in% wanted) from_apt("pandoc", lacks("pandoc"))
# A compiler with a fuzzer, what runs beside the tried code, and what tells how much of it was
# reached.
if ("fuzz" %in% wanted && debian_root()) {
  said <- grep("Depends: clang-[0-9]+", system2("apt-cache", c("depends", "clang"), stdout = TRUE),
    value = TRUE)
  beside <- sub(".*clang-([0-9]+).*", "libclang-rt-\\1-dev", said)
  system2("apt-get", c("install", "-y", "-qq", "clang", "llvm", beside), stdout = FALSE,
    stderr = FALSE)
}
left <- missing_now()
if (length(left)) stop("These packages could not be installed: ",
  paste(names(left), collapse = ", "), call. = FALSE)

# Everything the package is made of, a line each. It is kept beside the installed package, and goes
# with it, so that the same is not installed twice.
made_of <- function() {
  folders <- c("R", "src", "inst", "exec", "man", "vignettes")
  files <- grep("[.](o|so|dll)$", list.files(folders, recursive = TRUE, full.names = TRUE),
    value = TRUE, invert = TRUE)
  files <- c("DESCRIPTION", "NAMESPACE", "NEWS.md", "LICENSE", files)
  c(R.version.string, paste(tools::md5sum(files), files))
}
install_package <- function() {
  Sys.setenv(MAKEFLAGS = paste0("-j", max(1, parallel::detectCores(), na.rm = TRUE)))
  code <- system2(file.path(R.home("bin"), "R"),
    c("CMD", "INSTALL", "--no-test-load", "--no-multiarch", "-l", shQuote(library_for()), "."),
    stdout = "setup.log", stderr = "setup.log")
  if (code != 0) {
    cat(readLines("setup.log"), sep = "\n")
    stop("The package could not be installed.", call. = FALSE)
  }
  unlink("setup.log")
}
if (!"packages-only" %in% wanted) {
  kept <- file.path(library_for(), "ableturn", "made-of.txt")
  now <- made_of()
  if (!file.exists(kept) || !identical(readLines(kept), now)) {
    install_package()
    writeLines(now, kept)
  }
}
