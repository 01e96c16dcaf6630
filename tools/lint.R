# lintr over the package and its scripts; fails on any lint.
found <- c(
  lintr::lint_dir("R", exclusions = list("R/RcppExports.R")), lintr::lint_dir("tests"), lintr::lint_dir("tools"),
  lintr::lint_dir("data-raw"), lintr::lint_dir("bench")
)
for (lint in found) cat(sprintf("%s:%d: %s\n", lint$filename, lint$line_number, lint$message))
cat(length(found), "lints\n")
quit(status = as.integer(length(found) > 0))
