# Files on disk: read only what can be read, write whole or not at all.

check_readable <- function(path) {
  check_text(path, "path", none = FALSE)
  if (!file.exists(path)) fail("file-missing", path = path, hint = near_file(path))
  if (dir.exists(path)) fail("file-folder", path = path)
  if (file.access(path, 4) != 0) fail("file-closed", path = path)
  if (file.size(path) == 0) fail("file-empty", path = path)
}

near_file <- function(path) near_hint(basename(path), list.files(dirname(path)))

# Writes by way of a temporary file beside the target, so that no half-written file is left.
write_whole <- function(path, overwrite, write) {
  check_target(path, overwrite)
  half <- tempfile(".ableturn-", dirname(path))
  on.exit(unlink(half))
  written <- tryCatch(suppressWarnings(write(half)), error = identity)
  moved <- !inherits(written, "error") && suppressWarnings(file.rename(half, path))
  if (!moved) fail("file-unwritable", path = path)
  invisible(path)
}

check_target <- function(path, overwrite) {
  check_text(path, "path", none = FALSE)
  check_flag(overwrite, "overwrite")
  if (dir.exists(path)) fail("file-folder", path = path)
  if (!dir.exists(dirname(path))) fail("no-folder", folder = dirname(path))
  if (file.exists(path) && !overwrite) fail("file-exists", path = path)
  if (file.access(dirname(path), 2) != 0) fail("file-unwritable", path = path)
}

write_lines_whole <- function(lines, path, overwrite) {
  force(lines)
  write_whole(path, overwrite, function(file) {
    con <- file(file, "wb")
    on.exit(close(con))
    writeLines(enc2utf8(lines), con, useBytes = TRUE)
  })
}
