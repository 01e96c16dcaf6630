# What each command does.
cli_look <- function(given) {
  options <- given$options
  vars <- if (is.null(options$database)) given$args[-1] else given$args
  rows <- options[intersect(names(options), c("rows", "where", "sort-by", "seed", "working"))]
  rows <- Filter(function(given) !is.null(given) && !isFALSE(given), rows)
  if (is.null(options$database) && !length(given$args)) {
    return(cli_wrong("Name a data file, or --database and --table.", NULL))
  }
  at <- cli_connect(options)
  book <- cli_book(at %||% given$args[1], at, options)
  if (length(rows)) return(cli_look_rows(vars, book, rows, given))
  subjects <- lapply(vars, cli_subject, book = book)
  if (!length(subjects)) subjects <- lapply(names(book), subject_of_variable, book = book)
  else subjects <- unlist(subjects, recursive = FALSE)
  weight <- cli_name(options$weight, book)
  seen <- if (isTRUE(options$together)) look_together(book, vapply(subjects, `[[`, "", "name"),
    weight) else
    look_at(book, subjects, cli_name(options$by, book), weight)
  cli_show(seen, given)
}

# The data, and what a sheet makes of them where one is named.
cli_book <- function(data, at, options) {
  reading <- if (is.null(at)) cli_reading(options$reading)
  if (is.null(options$sheet)) return(as_book(turnbook(data, codebook = options$codebook,
    reading = reading, table = options$table)))
  withr::local_options(ableturn.quiet = TRUE)
  as_book(apply_turns(data, options$sheet, codebook = options$codebook, reading = reading,
    table = options$table))
}

cli_look_rows <- function(vars, book, rows, given) {
  names <- unlist(lapply(vars, function(text) {
    vapply(cli_subject(text, book), `[[`, "", "name")
  }))
  for (name in setdiff(names, names(book))) fail_unknown(name, names(book))
  order <- if (!is.null(rows$`sort-by`)) sorted_by(trimws(strsplit(rows$`sort-by`, ",")[[1]]), book)
  window <- list(n = cli_whole(rows$rows %||% "20", "rows", 1), from = 1,
    seed = if (!is.null(rows$seed)) cli_whole(rows$seed, "seed"))
  where <- if (!is.null(rows$where)) formula_text(items_written_out(parse_formula(rows$where),
    book))
  cli_show(look_at_rows(book, unique(names), where, order, window, isTRUE(rows$working)), given)
}

cli_whole <- function(text, option, least = 0) {
  number <- suppressWarnings(as.numeric(text))
  if (is.na(number)) fail("not-a-number", argument = paste0("--", option),
    size = paste("a whole number from", least, "on"), got = quote_text(text))
  check_whole(number, option, least)
}

# The database that is named, if any; it is left when the command has done its work.
cli_connect <- function(options, write = FALSE, frame = parent.frame()) {
  if (is.null(options$database)) return(NULL)
  connection <- connect_database(options$database, write)
  withr::defer(DBI::dbDisconnect(connection), envir = frame)
  connection
}

# A name, a range of names (q1:q5) or a formula.
cli_subject <- function(text, book) {
  if (text %in% names(book)) return(list(subject_of_variable(text, book)))
  ends <- strsplit(text, ":", fixed = TRUE)[[1]]
  if (length(ends) == 2 && all(ends %in% names(book))) {
    place <- match(ends, names(book))
    return(lapply(names(book)[place[1]:place[2]], subject_of_variable, book = book))
  }
  node <- parse_formula(text)
  if (is.symbol(node)) fail_unknown(text, names(book))
  list(subject_of_formula(items_written_out(node, book), book))
}

cli_name <- function(name, book) {
  if (!is.null(name) && !name %in% names(book)) fail_unknown(name, names(book))
  name
}

cli_run <- function(given) {
  options <- given$options
  wrong <- cli_run_lacks(options)
  if (!is.null(wrong)) return(cli_wrong(wrong, NULL))
  if (!is.null(options$out)) check_target(options$out, options$overwrite)
  renamed <- cli_pairs(options$rename)
  if (is.null(names(renamed)) && length(renamed)) {
    return(cli_wrong("Write --rename age=AGE_YRS,sex=GENDER.", NULL))
  }
  at <- cli_connect(options, write = !is.null(options$into))
  if (!is.null(options$into)) {
    check_place_free(at, place_for_table(at, options$into), options$overwrite)
  }
  in_table <- is.null(options[["data"]])
  book <- as_book(apply_turns(if (in_table) at else options[["data"]], given$args,
    codebook = options$codebook, learned = options$learned %||% "recorded", rename = renamed,
    skip = isTRUE(options$skip),
    reading = if (!in_table) cli_reading(options$reading), table = if (in_table) options$table))
  if (isTRUE(options$strict) && cli_strict(book)) {
    cli_write("Nothing was written, as findings are open.")
    return(1L)
  }
  cli_write_data(book, at, options)
  0L
}

# What is lacking of where the data come from and where they go.
cli_run_lacks <- function(options) {
  if (is.null(options$database)) {
    needed <- setdiff(c("data", "out"), names(options))
    if (length(needed)) return(paste0("Add --", needed[1], " FILE."))
    idle <- intersect(c("table", "into"), names(options))
    if (length(idle)) return(paste0("--", idle[1], " is for --database; add it, or leave it out."))
  }
  if (is.null(options$out) && !is.null(options$values)) return("--values is for --out.")
  if (is.null(options[["data"]]) && is.null(options$table)) return("Add --table NAME.")
  if (is.null(options$out) && is.null(options$into)) return("Add --into NAME, or --out FILE.")
}

cli_write_data <- function(book, at, options) {
  target <- options$out %||% options$into
  if (is.null(options$out)) write_data(book, at, table = target, overwrite = options$overwrite)
  else write_data(book, target, values = options$values %||% "codes", overwrite = options$overwrite)
  cli_write(paste0("Wrote ", target, ": ", grouped(row_count(book)), " rows, ",
    length(names(book)), " columns."))
}

# "age=AGE_YRS,sex=GENDER" as c(age = "AGE_YRS", sex = "GENDER"); without names where it is no such
# thing.
cli_pairs <- function(text) {
  if (is.null(text)) return(NULL)
  parts <- regmatches(pieces <- strsplit(text, ",", fixed = TRUE)[[1]], regexpr("=", pieces),
    invert = TRUE)
  if (!length(parts) || any(lengths(parts) != 2)) return(text)
  setNames(trimws(vapply(parts, `[[`, "", 2)), trimws(vapply(parts, `[[`, "", 1)))
}

# Whether there are findings above a note that nobody has accepted; they are shown.
cli_strict <- function(book) {
  open <- findings(book, accepted = FALSE)
  warned <- any(open$severity == "warn")
  if (warned) print(open)
  warned
}

cli_script <- function(given) {
  book <- cli_replay(given)
  dialect <- given$options$dialect
  out <- given$options$out
  if (is.null(out)) {
    cli_write(script_lines(book, dialect %||% "base", given$options$engine))
  } else {
    write_script(book, out, dialect, given$options$engine, overwrite = given$options$overwrite)
    cli_write(paste0("Wrote ", out, "."))
  }
  0L
}

cli_prove <- function(given) {
  proof <- prove(cli_replay(given))
  print(proof)
  if (isTRUE(attr(proof, "proved"))) 0L else 1L
}

# The sheet on its data: those named, or those it was made on.
cli_replay <- function(given, frame = parent.frame()) {
  withr::local_options(ableturn.quiet = TRUE)
  options <- given$options
  at <- cli_connect(options, frame = frame)
  data <- at %||% options[["data"]] %||% sheet_data_file(given$args)
  as_book(apply_turns(data, given$args, codebook = options$codebook,
    reading = if (is.null(at)) cli_reading(options$reading), table = options$table))
}

# How a file is read, typed as the entries of a mapping in a sheet.
cli_reading <- function(text) {
  if (!is.null(text)) check_stated_reading(cli_mapping(text, "reading-text"))
}

cli_mapping <- function(text, error) {
  if (is.null(text)) return(NULL)
  stated <- parse_yaml(paste0("{", gsub("^\\s*[{]|[}]\\s*$", "", text), "}"),
    function(why) fail(error, text = text))
  if (!is.list(stated) || !is_named(stated)) fail(error, text = text)
  lapply(stated, unlist)
}

# The data that a sheet names lie in its folder.
sheet_data_file <- function(sheet) {
  file <- read_sheet(sheet)$data$file
  if (is.null(file)) fail("no-data-file", path = sheet)
  file_beside(file, dirname(sheet), "data-outside", sheet)
}

cli_findings <- function(given) {
  told <- findings(cli_replay(given))
  shown <- cli_show(told, given)
  if (isTRUE(given$options$strict) && any(told$severity == "warn" & !nzchar(told$accepted))) {
    1L
  } else {
    shown
  }
}

cli_lineage <- function(given) {
  vars <- given$args[-1]
  given$args <- given$args[1]
  book <- cli_replay(given)
  for (name in vars) cli_name(name, book)
  cli_show(if (length(vars)) lineage(book, tidyselect::all_of(vars)) else lineage(book), given)
}

cli_report <- function(given) {
  options <- given$options
  check_target(options$out, options$overwrite)
  report(cli_replay(given), options$out, title = options$title, overwrite = options$overwrite)
  cli_write(paste0("Wrote ", options$out, "."))
  0L
}

cli_pack <- function(given) {
  options <- given$options
  check_target(options$out, options$overwrite)
  about <- check_about(cli_mapping(options$about, "about-text"))
  write_package(cli_replay(given), options$out, about, overwrite = options$overwrite)
  cli_write(paste0("Wrote ", options$out, "."))
  0L
}

# Without a folder and with --check, nothing is written.
cli_unpack <- function(given) {
  path <- given$args
  folder <- given$options$out %||% if (!given$options$check) sub("[.]zip$", "", path)
  if (!is.null(folder)) {
    unpack_package(path, folder)
    cli_write(paste0("Unpacked into ", folder, "; begin with README.md there."))
  }
  if (!given$options$check) return(0L)
  found <- check_package(path)
  print(found)
  as.integer(any(found$state != "as packed"))
}

# As text for people, or as a table for programs.
cli_show <- function(x, given) {
  format <- check_choice(given$options$format %||% "text", "format", c("text", "tsv", "json"))
  table <- structure(as.list(x), class = "data.frame", row.names = seq_len(nrow(x)))
  switch(format,
    text = print(x),
    tsv = cli_table(tsv_lines(table)),
    json = cli_table(jsonlite::toJSON(table, na = "null", digits = NA, pretty = TRUE))
  )
  0L
}

# What it shows are calls of R, so that what to do is said in such, too.
cli_demo <- function(given) {
  withr::local_options(ableturn.reader = NULL)
  run_demo(given$options$out %||% "ableturn-demo")
  0L
}

# On the desk the calls of R are shown, so that what to do is said in such, too.
cli_desk <- function(given) {
  withr::local_options(ableturn.reader = NULL, ableturn.desk_alone = TRUE)
  options <- given$options
  at <- cli_connect(options)
  if (!is.null(at)) {
    book <- rlang::inject(turnbook(at, table = options$table, codebook = options$codebook,
      id = !!options$id, sheet = options$sheet))
    desk(book, port = options$port, open = !options[["no-open"]])
    return(0L)
  }
  rlang::inject(desk(if (length(given$args)) given$args, codebook = options$codebook,
    id = !!options$id, sheet = options$sheet, reading = cli_reading(options$reading),
    port = options$port, open = !options[["no-open"]]))
  0L
}

# What the command line says when it is asked for help, or used wrongly.
cli_help <- function(lines) {
  writeLines(lines)
  0L
}

# Lines for people: nothing in them can steer the terminal.
cli_write <- function(lines, to = stdout()) writeLines(for_terminal(lines), to)

# Tables for programs are as they are, but on a terminal.
cli_table <- function(text) {
  lines <- strsplit(text, "\n", fixed = TRUE)[[1]]
  writeLines(if (isatty(stdout())) show_controls(lines, "\t") else lines)
}

cli_wrong <- function(message, help) {
  cli_write(c(paste("ableturn:", show_controls(message)),
    if (is.null(help)) "Try: ableturn --help" else help), stderr())
  2L
}
