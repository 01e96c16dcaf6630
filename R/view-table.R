# A table as lines of text: numbers to the right, texts to the left, no wider than the page.
table_lines <- function(table, indent = 2, headings = names(table), width = page_width()) {
  cells <- lapply(table, function(column) {
    text <- if (is.numeric(column)) show_cell(column) else show_controls(as.character(column))
    ifelse(is.na(text), "", text)
  })
  headings <- show_controls(headings)
  cells <- fit_cells(cells, headings, width - indent)
  right <- vapply(table, reads_as_number, NA)
  padded <- Map(pad_column, cells, headings, right)
  lines <- do.call(paste, c(unname(padded), sep = "  "))
  if (text_width(lines[1]) + indent > width) return(block_lines(padded, 1, width))
  sub("\\s+$", "", paste0(strrep(" ", indent), lines))
}

# Columns that do not fit side by side stand in blocks, each with the first `labels` columns in
# front.
block_lines <- function(padded, labels, width = page_width()) {
  wide <- vapply(padded, function(p) text_width(p[1]) + 2L, 1L)
  block <- blocks_of(wide[seq_along(wide) > labels], width - 2 - sum(wide[seq_len(labels)]))
  unlist(lapply(seq_len(max(block)), function(b) {
    lines <- do.call(paste,
      c(unname(padded[c(seq_len(labels), labels + which(block == b))]), sep = "  "))
    lines <- sub("\\s+$", "", paste0("  ", lines))
    c(if (b > 1) "", lines[cumsum(nzchar(lines)) > 0])
  }))
}

# Which block each column goes into, filling one after the other.
blocks_of <- function(wide, room) {
  block <- integer(length(wide))
  now <- 1
  used <- 0
  for (i in seq_along(wide)) {
    if (used > 0 && used + wide[i] > room) {
      now <- now + 1
      used <- 0
    }
    used <- used + wide[i]
    block[i] <- now
  }
  block
}

reads_as_number <- function(x) is.numeric(x) || (any(nzchar(x)) && all(grepl("^[-+0-9.,]*$", x)))

page_width <- function() max(60, min(getOption("width"), 160))

pad_column <- function(cells, heading, right) {
  text <- show_controls(c(heading, cells))
  wide <- max(text_width(text))
  space <- strrep(" ", wide - text_width(text))
  if (right) paste0(space, text) else paste0(text, space)
}

# The widest text columns give way, one step at a time.
fit_cells <- function(cells, headings, width) {
  whole <- cells
  least <- text_width(headings)
  wide <- unlist(Map(widest, headings, cells), use.names = FALSE)
  for (round in 1:100) {
    over <- sum(wide) + 2 * (length(wide) - 1) - width
    spare <- wide - pmax(least, 8)
    most <- which.max(spare)
    if (over <= 0 || spare[most] <= 0) return(cells)
    cells[[most]] <- shorten_apart(whole[[most]], wide[most] - min(over, ceiling(spare[most] / 2)))
    wide[most] <- widest(headings[most], cells[[most]])
  }
  cells
}

widest <- function(heading, cells) max(text_width(c(heading, cells)))

# Text no wider than that, its end cut off where it must be.
shorten <- function(text, width, end = glyph("...")) {
  text <- show_controls(beginning_of(text))
  long <- which(text_width(text) > width)
  text[long] <- paste0(vapply(text[long], cut_width, "", width = width - text_width(end)), end)
  text
}

# Of texts far longer than any line the beginning, so that no work is done on what is cut off.
beginning_of <- function(text) {
  endless <- which(nchar(text, "bytes") > 20000)
  text[endless] <- substr(readable(text[endless]), 1, 5000)
  text
}

# Texts that differ stay different: where the cut would make some of them alike, what they all begin
# with gives way.
shorten_apart <- function(text, width) {
  short <- shorten(text, width)
  for (alike in unique(short[duplicated(short)])) {
    here <- which(short == alike)
    told <- without_start(show_controls(text[here]), width - nchar(glyph("...")))
    better <- anyDuplicated(text[here]) == 0 && anyDuplicated(told) == 0 && width >= 8
    if (better) short[here] <- told
  }
  short
}

# A few letters, and then what comes after the start that all have.
without_start <- function(text, width) {
  letters <- strsplit(text, "")
  most <- min(lengths(letters))
  same <- vapply(seq_len(most), function(i) length(unique(vapply(letters, `[`, "", i))) == 1, NA)
  rest <- substring(text, sum(cumprod(same)) + 1)
  kept <- pmin(text_width(rest), 2 * width %/% 3)
  mapply(function(t, r, k) paste0(cut_width(t, width - k), glyph("..."), shorten(r, k)),
    text, rest, kept, USE.NAMES = FALSE)
}

# A small bar, its full length standing for `most` percent.
bar <- function(share, most = max(c(share, 1), na.rm = TRUE), size = 16) {
  length <- round(size * share / most)
  length[is.na(length)] <- 0
  length[share > 0 & length == 0] <- 1
  strrep(glyph("#"), length)
}

# Signs of our own where the terminal has them, plain ones where not.
glyph <- function(plain) {
  if (!cli::is_utf8_output()) return(plain)
  c("..." = "\u2026", "#" = "\u2586", "-" = "\u2500", "*" = "\u00b7", "!" = "\u25b2",
    "->" = "\u2192")[[plain]]
}

# Two tones that read on dark and on light terminals alike, and differ in lightness too.
warned <- function(text) cli::make_ansi_style("#b3541e")(text)

as_code_text <- function(text) cli::make_ansi_style("#0a7a8c")(text)

title_line <- function(..., side = NULL) {
  left <- shorten(show_controls(paste0(...)), page_width())
  if (length(side)) side <- show_controls(side)
  room <- page_width() - text_width(left) - text_width(side %||% "")
  if (is.null(side) || room < 2) return(cli::style_bold(left))
  paste0(cli::style_bold(left), strrep(" ", room), cli::col_grey(side))
}

# One paragraph, folded to the page, its later lines indented.
folded <- function(..., indent = 2) {
  text <- show_controls(paste0(...))
  width <- min(page_width(), 100)
  if (length(text) == 1 && text_width(text) + indent < width - 1 &&
    !grepl("^\\s|\\s\\s|[\t\n]", text)) {
    return(paste0(strrep(" ", indent), text))
  }
  unlist(lapply(text, fold_words, width = width, indent = indent))
}

fold_words <- function(text, width, indent) {
  wrap_words(text, width - indent, strrep(" ", indent + c(0, 2)), width - indent - 2)
}

listed <- function(counts) paste(names(counts), grouped(counts), collapse = ", ")

# A part of a printed table, taken by the analyst, is the plain data frame that it is, but for whole
# rows of a table that has nothing beside its columns.
#' @export
`[.ableturn_table` <- function(x, ...) {
  own <- c("names", "row.names", "class")
  plain <- x
  class(plain) <- "data.frame"
  attributes(plain) <- attributes(plain)[own]
  out <- plain[...]
  whole <- is.data.frame(out) && identical(names(out), names(x)) &&
    all(names(attributes(x)) %in% own)
  if (whole) class(out) <- class(x)
  out
}

say <- function(lines) cat(for_terminal(lines), sep = "\n")

# Counts shown as text but set to the right, under headings of several lines; more columns than fit
# go into blocks below each other, each with the labels.
right_aligned <- function(table, headings, labels) {
  blank <- which(!vapply(table[seq_len(labels)], function(x) any(nzchar(x)), NA))
  if (length(blank)) return(right_aligned(table[-blank], headings[-blank], labels - length(blank)))
  counts <- seq_along(table) > labels
  table[!counts] <- lapply(table[!counts], shorten, 28)
  heads <- lapply(show_controls(headings), function(h) if (nzchar(h)) strwrap(h, 13) else "")
  deep <- max(lengths(heads))
  padded <- Map(function(cells, head, right) {
    cells <- c(rep("", deep - length(head)), head, cells)
    pad_column(cells[-1], cells[1], right)
  }, table, heads, counts)
  block_lines(padded, labels)
}
