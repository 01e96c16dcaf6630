# Spaces and indention as they are everywhere here: R by styler, C++ by clang-format, whose settings
# are in .clang-format. Lines are broken by hand, at most 100 letters long; lintr looks after that.
# Use: Rscript tools/format.R [files]; without files all that differ from the last commit.
given <- commandArgs(TRUE)
changed <- function() {
  system2("git", c("diff", "--name-only", "--diff-filter=d", "HEAD"), stdout = TRUE)
}
files <- if (length(given)) given else changed()
files <- files[!grepl("RcppExports", files)]

style <- styler::tidyverse_style(scope = I(c("spaces", "indention")), strict = FALSE)
R.cache::setCacheRootPath(tempfile("styler"))
in_r <- grep("[.]R$", files, value = TRUE)
if (length(in_r)) invisible(styler::style_file(in_r, transformers = style))
in_cpp <- grep("[.](cpp|h)$", files, value = TRUE)
if (length(in_cpp)) system2("clang-format", c("-i", in_cpp))
