# Files are written whole or not at all: into a temporary file beside the target, every byte of
# which is checked, and which then takes the target's name. Nothing is written over a file that the
# work came from.

# `write` gets a function that takes pieces of the content, as text or bytes.
write_atomically <- function(path, overwrite, write) {
  target <- check_target(path, overwrite)
  clear_leftovers(target)
  half <- half_path(target)
  on.exit(unlink(half))
  size <- 0
  put <- function(piece, first = FALSE, last = FALSE) {
    bytes <- if (is.raw(piece)) piece else charToRaw(enc2utf8(piece))
    why <- put_bytes(half, bytes, first, last, mode_of(target))
    if (nzchar(why)) fail("file-unwritable", path = path, why = why)
    size <<- size + length(bytes)
  }
  put(raw(), first = TRUE)
  in_plain_settings(write(put))
  put(raw(), last = TRUE)
  if (!identical(file.size(half), as.double(size))) {
    fail("file-unwritable", path = path, why = "it was cut short")
  }
  take_name(half, target, overwrite, path)
  flush_folder(dirname(target))
  invisible(path)
}

# A file that was made meanwhile is not replaced without being asked for: a second name is never
# given over another file. Where a file system knows no second names, an empty file is put there
# first, which must be new.
take_name <- function(half, target, overwrite, path) {
  if (!overwrite && suppressWarnings(file.link(half, target))) return(invisible())
  if (!overwrite && nzchar(put_bytes(target, raw(), TRUE, TRUE, mode_of(target)))) {
    fail("file-exists", path = path)
  }
  if (!suppressWarnings(file.rename(half, target))) {
    fail("file-unwritable", path = path, why = "it cannot be replaced")
  }
}

write_lines_whole <- function(lines, path, overwrite) {
  force(lines)
  write_atomically(path, overwrite, function(put) put(paste0(enc2utf8(lines), "\n", collapse = "")))
}

# Where a path leads in the end; an error where nothing can be written to.
check_target <- function(path, overwrite) {
  check_text(path, "path", none = FALSE)
  check_flag(overwrite, "overwrite")
  target <- link_end(absolute_path(path))
  kind <- path_kind(target)
  if (kind == "folder") fail("file-folder", path = path)
  if (kind == "other") fail("file-odd", path = path)
  if (!dir.exists(dirname(target))) fail("no-folder", folder = dirname(path))
  if (kind == "file" && !overwrite) fail("file-exists", path = path)
  if (file.access(dirname(target), 2) != 0) {
    fail("file-unwritable", path = path, why = "the folder is closed to you")
  }
  if (kind == "file" && file.access(target, 2) != 0) {
    fail("file-unwritable", path = path, why = "it is closed to you")
  }
  invisible(target)
}

# Stops where a path leads to one of the files that a book was opened from, by whatever name.
refuse_sources <- function(path, sources) {
  if (!is.character(path) || length(path) != 1 || is.na(path)) return(invisible())
  for (source in sources) if (is_same_file(path, source)) fail("file-is-source", path = path)
}

# A further hard name of a file is not the same: what is written there takes that name alone.
is_same_file <- function(a, b) {
  real <- function(path) normalizePath(link_end(absolute_path(path)), "/", mustWork = FALSE)
  a <- real(a)
  b <- real(b)
  identical(a, b) || identical(tolower(a), tolower(b)) && same_inode(a, b)
}

# The files that are opened, until the book or the turn takes them that they are opened for.
opened_files <- new.env(parent = emptyenv())

note_opened <- function(path) {
  real <- normalizePath(absolute_path(path), "/", mustWork = FALSE)
  opened_files$paths <- union(opened_files$paths, real)
}

take_opened <- function(before = NULL) {
  paths <- opened_files$paths
  opened_files$paths <- NULL
  union(before, paths)
}

# A link is followed to what it stands for, whether or not that is there.
link_end <- function(path) {
  for (step in 1:40) {
    to <- Sys.readlink(path)
    if (is.na(to) || !nzchar(to)) return(path)
    path <- if (grepl("^(/|[A-Za-z]:)", to)) to else file.path(dirname(path), to)
  }
  fail("file-odd", path = path)
}

# A file keeps its mode; a new one gets the usual.
mode_of <- function(target) {
  if (path_kind(target) == "file") return(as.integer(file.mode(target)))
  bitwAnd(strtoi("666", 8L), bitwNot(as.integer(Sys.umask(NA))))
}

# The temporary file of a target, of this process.
half_path <- function(target) {
  for (try in 1:1000) {
    half <- file.path(dirname(target), paste0(half_start(target), process_name(), "-", try))
    if (!file.exists(half)) return(half)
  }
  fail("file-unwritable", path = target, why = "its folder is full of temporary files")
}

half_start <- function(target) {
  paste0(".ableturn-", substr(sha256(charToRaw(basename(target))), 1, 8), "-")
}

# What tells one content from another, of bytes and of a file: the only such sum there is.
sha256 <- function(bytes) paste0(openssl::sha256(bytes))

sum_of_file <- function(path) {
  con <- file(path, "rb", raw = TRUE)
  on.exit(close(con))
  sha256(con)
}

process_name <- function() {
  paste0(gsub("[^A-Za-z0-9]", "", Sys.info()[["nodename"]]), "-", Sys.getpid())
}

# What a process that no longer runs has left of this target.
clear_leftovers <- function(target) {
  folder <- dirname(target)
  start <- paste0(half_start(target), sub("[0-9]+$", "", process_name()))
  left <- list.files(folder, "^[.]ableturn-", all.files = TRUE)
  left <- left[startsWith(left, start)]
  process <- as.integer(sub("-.*", "", substring(left, nchar(start) + 1)))
  unlink(file.path(folder, left[!vapply(process, is_running, NA)]))
}

is_running <- function(process) !is.na(process) && suppressWarnings(tools::pskill(process, 0))
