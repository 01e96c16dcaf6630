# A book among other packages: what they make of it with their own functions is a plain data frame.

# Packages that copy the attributes of data frames by this one's functions give plain data frames.
#' @exportS3Method vctrs::vec_restore
vec_restore.turnbook <- function(x, to, ...) vctrs::vec_restore(x, plain_frame(to), ...)

#' @exportS3Method vctrs::vec_proxy
vec_proxy.turnbook <- function(x, ...) vctrs::vec_proxy(plain_frame(x), ...)

#' @exportS3Method vctrs::vec_ptype2
vec_ptype2.turnbook.turnbook <- function(x, y, ...) {
  vctrs::vec_ptype2(plain_frame(x), plain_frame(y), ...)
}

#' @exportS3Method vctrs::vec_ptype2
vec_ptype2.turnbook.data.frame <- function(x, y, ...) vctrs::vec_ptype2(plain_frame(x), y, ...)

#' @exportS3Method vctrs::vec_ptype2
vec_ptype2.data.frame.turnbook <- function(x, y, ...) vctrs::vec_ptype2(x, plain_frame(y), ...)

#' @exportS3Method vctrs::vec_cast
vec_cast.turnbook.turnbook <- function(x, to, ...) {
  vctrs::vec_cast(plain_frame(x), plain_frame(to), ...)
}

#' @exportS3Method vctrs::vec_cast
vec_cast.turnbook.data.frame <- function(x, to, ...) vctrs::vec_cast(x, plain_frame(to), ...)

#' @exportS3Method vctrs::vec_cast
vec_cast.data.frame.turnbook <- function(x, to, ...) vctrs::vec_cast(plain_frame(x), to, ...)

#' @exportS3Method tibble::as_tibble
as_tibble.turnbook <- function(x, ...) tibble::as_tibble(plain_frame(x), ...)

# Functions of S4 classes that write tables into databases take it as a data frame; they are told
# when their package comes, since to load this one with such a class takes a third longer.
tell_databases <- function() {
  tell <- function(...) methods::setOldClass(c("turnbook", "data.frame"), where = class_room)
  if (isNamespaceLoaded("DBI")) tell() else setHook(packageEvent("DBI", "onLoad"), tell)
}

class_room <- new.env()

.onLoad <- function(libname, pkgname) {
  pack_keepers_by(pack_book)
  tell_databases()
}
