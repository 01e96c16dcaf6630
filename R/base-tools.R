# Small pieces that every room uses. The first two are as rlang has them, which is not loaded for
# them: it takes longer than all that asking for help needs.

`%||%` <- function(a, b) if (is.null(a)) b else a

is_named <- function(x) !is.null(names(x)) && all(nzchar(names(x)) & !is.na(names(x)))

# The first where it is known, else the second, value by value.
`%|%` <- function(a, b) ifelse(is.na(a), b, a)

self_named <- function(x) {
  names(x) <- x
  x
}

# A table of columns that fit each other, made without asking.
quick_table <- function(...) {
  columns <- list(...)
  structure(columns, class = "data.frame", row.names = .set_row_names(length(columns[[1]])))
}

# The rows of tables with the same plain columns, one table below the other.
rows_of_all <- function(tables) {
  names <- names(tables[[1]])
  columns <- lapply(self_named(names), function(name) {
    unlist(lapply(tables, `[[`, name), use.names = FALSE)
  })
  do.call(quick_table, columns)
}

# A table with a form of its own in print; a part that the analyst takes of it is a plain data
# frame.
as_table <- function(data, class, ...) {
  structure(data, class = c(class, "ableturn_table", "data.frame"), ...)
}

# Groups of `x` in the order in which their keys first come.
split_in_order <- function(x, key) split(x, factor(key, unique(key)))

# A text for each combination of values that stand side by side in `columns`: equal for equal ones
# and for no others, whatever signs the texts hold, as each comes with its length. Missing is a
# value of its own; 0 and -0 are one number.
key_texts <- function(columns) {
  parts <- lapply(unname(columns), function(x) {
    if (is.factor(x)) x <- as.character(x)
    if (is.character(x)) return(ifelse(is.na(x), "", paste0(nchar(x, "bytes"), "=", x)))
    ifelse(is.na(x), "", sprintf("%a", as.double(x) + 0))
  })
  do.call(paste, c(parts, sep = "\r"))
}

# A list without what is not there.
compact <- function(x) x[!vapply(x, is.null, NA)]

# The places of steps in an order in which each comes after those that give what it reads, else as
# they stand; steps that wait for each other are left out. `own`: whether a step may read what it
# gives itself.
ordered_by_need <- function(gives, reads, own = FALSE) {
  done <- integer()
  waiting <- seq_along(gives)
  repeat {
    open <- unlist(gives[waiting])
    ready <- Position(function(i) {
      !any(reads[[i]] %in% if (own) setdiff(open,
        gives[[i]]) else open)
    }, waiting)
    if (is.na(ready)) return(done)
    done <- c(done, waiting[ready])
    waiting <- waiting[-ready]
  }
}
