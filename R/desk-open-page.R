#' @include desk-acts.R desk-work.R
NULL

# Data are opened from the page: a file with its codebook and sheet, a table of the database that
# the desk was opened on, or the same steps on other data. What was done before is kept aside, as
# when a desk is left.

open_fields <- function(screen) {
  tables <- tables_at_hand(screen)
  with_steps <- length(steps_of(screen$state$book)) > 0
  compact(list(
    data = desk_field("path", "Data", "A file: .csv, .xlsx, .ods, .parquet, a package, ..."),
    table = desk_field("text", "Table in it", "Where it holds several, such as a spreadsheet."),
    at_hand = if (length(tables)) desk_field("choice", "Or a table of the database that is open",
      choices = setNames(c("no", tables), c("", tables))),
    codebook = desk_field("path", "Codebook", "What the variables mean, if there is a file."),
    id = desk_field("text", "Row identifier", "The column that tells the rows apart, if any."),
    sheet = desk_field("path", "Turn sheet", "To go on with, or a new one to keep the steps in."),
    again = if (with_steps) desk_field("choice", "The steps that were made here", choices =
      choice_words(c("no", "recorded", "refit"), "are left aside",
        "are made again, with the means and cut points as on record",
        "are made again, and these are learned anew"))
  ))
}

# The tables of the database that the desk was opened on.
tables_at_hand <- function(screen) {
  connection <- site_of(screen$state$book)$connection %||% screen$connection
  if (is.null(connection)) character() else tables_in_sight(connection)
}

open_html <- function(screen) {
  tags <- htmltools::tags
  fields <- open_fields(screen)
  state <- list(form = list(verb = NULL, typed = list()), chosen = character(),
    book = screen$state$book)
  tags$form(id = "leave-form", `data-way` = "open", autocomplete = "off",
    tags$h2(id = "leave-title", "Open data"),
    tags$p(class = "quiet", kept_before_opening(screen)),
    recent_html(), fields_html(fields, state), folder_html(getwd()),
    tags$div(id = "left", `aria-live` = "polite"),
    tags$p(class = "buttons", tags$button(type = "submit", class = "main", "Open"),
      tags$button(type = "button", class = "close-dialog", "Back")))
}

kept_before_opening <- function(screen) {
  now <- kept_state(screen)
  switch(now$kept, nothing = "Nothing was done yet that is to be kept.",
    sheet = paste0("What was done here is in ", show_controls(now$where), "."),
    saved = paste0("What was done here is in ", show_controls(now$where), "."),
    aside = paste0("What was done here (", counted(now$steps, "step"), ") stays kept aside: it is ",
      "offered when these data are opened again."),
    paste0("What was done here (", counted(now$steps, "step"), ") is in no file: save the sheet ",
      "first, or it is gone."))
}

# Files that were opened before, the last first, in a list in the analyst's own folder.
recent_path <- function() file.path(tools::R_user_dir("ableturn", "data"), "recent.json")

recent_files <- function() {
  read <- tryCatch(jsonlite::fromJSON(recent_path(), simplifyVector = FALSE),
    error = function(e) list(), warning = function(w) list())
  fits <- function(one) is.list(one) && is_one(one$data, is.character) && file.exists(one$data)
  utils::head(Filter(fits, if (is.list(read)) read else list()), 8)
}

remember_file <- function(given) {
  if (!is_one(given$data, is.character)) return(invisible())
  one <- lapply(given[intersect(names(given), c("data", "codebook", "sheet"))], absolute_path)
  one$id <- given$id
  others <- Filter(function(other) !identical(other$data, one$data), recent_files())
  dir.create(dirname(recent_path()), recursive = TRUE, showWarnings = FALSE, mode = "0700")
  text <- jsonlite::toJSON(utils::head(c(list(compact(one)), others), 8), auto_unbox = TRUE,
    pretty = TRUE)
  tryCatch(write_lines_whole(text, recent_path(), TRUE), error = function(e) NULL)
  invisible()
}

recent_html <- function() {
  tags <- htmltools::tags
  files <- recent_files()
  if (!length(files)) return(NULL)
  tags$div(class = "recent", tags$div(class = "field-name", "Opened before"),
    lapply(files, function(one) {
      tags$button(type = "button", class = "link recent-file", `data-given` =
        as.character(jsonlite::toJSON(one, auto_unbox = TRUE)), title = show_controls(one$data),
        show_controls(basename(one$data)))
    }))
}

# The book that is asked for.
opened_book <- function(screen, given) {
  before <- screen$state$book
  at_hand <- given$at_hand
  connection <- if (!is.null(before)) site_of(before)$connection %||% screen$connection
  from_table <- is_one(at_hand, is.character) && at_hand != "no"
  if (!from_table && is.null(given$data)) {
    at_argument("data", fail("argument-needed", argument = "data"))
  }
  data <- if (from_table) connection else given$data
  table <- if (from_table) at_hand
  reading <- if (!is.null(given$table)) list(table = given$table)
  if (!is.null(given$again) && given$again != "no") return(again_on(before, data, table, reading,
    given))
  more <- compact(list(codebook = given$codebook, reading = reading, table = table))
  if (is_one(given$sheet, is.character) && file.exists(absolute_path(given$sheet))) {
    return(rlang::inject(go_on_with_sheet(data, given$sheet, !!!more, id = !!given$id)))
  }
  as_book(rlang::inject(turnbook(data, sheet = given$sheet, !!!more, id = !!given$id)))
}

# The steps of the record on other data.
again_on <- function(book, data, table, reading, given) {
  sheet <- tempfile(fileext = ".turns.yaml")
  on.exit(unlink(sheet))
  save_turns(book, sheet)
  more <- compact(list(codebook = given$codebook, reading = reading, table = table))
  as_book(rlang::inject(apply_turns(data, sheet, !!!more, id = !!given$id,
    learned = given$again)))
}

add_acts(list(
  open_dialog = function(screen, event) {
    with_message(screen, list(do = "dialog", html = as_html(open_html(screen))))
  },
  folder = function(screen, event) {
    with_message(screen, list(do = "folder", html = as_html(folder_html(event$path))))
  },
  open = function(screen, event) {
    fields <- open_fields(screen)
    opened <- tryCatch({
      typed <- typed_of_page(fields, event$typed)
      given <- compact(given_by(fields, typed, screen$state$book))
      if (is_long_to_open(given, screen)) return(opening_beside(screen, given, fields))
      list(book = collect_receipts(opened_book(screen, given))$value, given = given)
    }, error = identity)
    if (inherits(opened, "error")) return(with_message(screen, not_opened(opened, fields)))
    with_opened(screen, opened)
  },
  # a file that was read beside the desk
  open_ready = function(screen, event) {
    if (is.null(screen$ready)) return(list(screen = screen, says = list()))
    with_opened(screen, screen$ready)
  },
  # work that is done beside the desk
  stop_work = function(screen, event) {
    if (is.null(screen$work)) return(list(screen = screen, says = list()))
    stop_work(screen$work)
    words <- work_kinds[[screen$work$way]]$stopped
    screen["work"] <- list(NULL)
    with_message(screen, list(do = "left", html = as_html(htmltools::tags$p(words)),
      stopped = TRUE))
  },
  key_file = function(screen, event) {
    told <- tryCatch({
      table <- read_sent(one_typed(event$name), openssl::base64_decode(event$bytes))
      key_pairs(table, screen$state$chosen)
    }, error = identity)
    failed <- inherits(told, "error")
    with_message(screen, list(do = "key", pairs = if (!failed) told, error = if (failed)
      as.list(error_words_of(told))))
  }
), screen_acts)

# A desk on what was opened.
with_opened <- function(screen, opened) {
  fresh <- reopened_screen(screen, opened$book)
  remember_file(opened$given)
  list(screen = fresh, says = c(list(list(do = "opened", title = data_title(opened$book))),
    whole_page(fresh, "open")))
}

# Files that take seconds to read are read beside the desk, where nothing else is asked of them.
is_long_to_open <- function(given, screen) {
  path <- given$data
  if (!isTRUE(screen$beside) || !is_one(path, is.character) || !is.null(given$sheet)) return(FALSE)
  if (any(given[c("again", "at_hand")] %in% c("recorded", "refit", tables_at_hand(screen)))) {
    return(FALSE)
  }
  quick <- grepl("[.](csv|tsv|txt|parquet)$", path, ignore.case = TRUE)
  most <- getOption("ableturn.bytes_at_once", if (quick) 4e8 else 1e7)
  isTRUE(file.size(absolute_path(path)) > most) && requireNamespace("callr", quietly = TRUE)
}

opening_beside <- function(screen, given, fields) {
  screen <- begin_work(screen, "open", list(given = given, fields = fields,
    steps = length(steps_of(screen$state$book))))
  with_message(screen, working_message(screen))
}

work_kinds$open <- list(title = "Opening", stopped = "Stopped. Nothing was opened.",
  run = function(job) {
    tryCatch({
      book <- collect_receipts(opened_book(NULL, job$given))$value
      list(book = as_frame(book), given = job$given, steps = job$steps)
    }, error = function(e) list(wrong = not_opened(e, job$fields)))
  },
  end = function(screen, told) {
    if (!is.null(told$wrong)) return(with_message(screen, c(told$wrong, list(way = "open"))))
    opened <- list(book = as_book(told$book), given = told$given)
    at_rest <- is.null(screen$state$form) && length(steps_of(screen$state$book)) == told$steps
    if (at_rest) return(with_opened(screen, opened))
    screen$ready <- opened
    with_message(screen, list(do = "left", way = "open", html = as_html(htmltools::tags$p(
      paste(data_title(opened$book), "is read."), button_html("Open it now", "open_ready")))))
  })

not_opened <- function(error, fields) {
  is_of <- function(...) inherits(error, paste0("ableturn_error_", c(...)))
  argument <- error$argument %||% if (is_of("which_sheet", "which_table", "no_such_table"))
    "table" else if (is_of("sheet_locked")) "sheet" else "data"
  list(do = "left", html = as_html(error_html(error, fields = fields)), argument = argument,
    error = as.list(error_words_of(error, fields)))
}

# A desk on another book; what was kept aside before stays there.
reopened_screen <- function(screen, book) {
  before <- screen$state$book
  connection <- site_of(before)$connection %||% screen$connection
  if (is_rescued(before)) {
    leave_rescue(before, closed = !length(steps_of(before)))
  } else if (!is.null(info_of(before)$sheet)) {
    unlock_sheet(info_of(before)$sheet)
  }
  if (!is.null(screen$rescue)) unlock_sheet(screen$rescue$path)
  fresh <- new_screen(with_rescue(book), rescue = found_rescue(book))
  fresh["connection"] <- list(connection)
  fresh[c("beside", "work")] <- list(screen$beside, screen$work)
  fresh
}

# The right answers of items from a table: a column with their names, and one with the answers.
key_pairs <- function(table, items) {
  holds <- vapply(table, function(column) sum(items %in% as.character(column)), 0)
  place <- which.max(holds)
  if (!length(place) || !holds[place]) fail("key-file", items = items)
  answers <- table[[setdiff(seq_along(table), place)[1] %||% place]]
  rows <- match(items, as.character(table[[place]]))
  unname(Map(list, items[!is.na(rows)], show_value(answers)[rows[!is.na(rows)]]))
}

word_errors(list(
  "key-file" = c("No column of this file names the items {items}.",
    "It needs a column with their names and one with the right answers.")
))
