#' @include desk-call.R desk-form.R desk-typed.R sql-engines.R
NULL

# The dialects of R, and the engines that SQL is written for.
script_choices <- function() {
  titles <- vapply(engine_names(), function(name) paste0("SQL, for ", engines[[name]]$title), "")
  choice_words(c("base", "ableturn", engine_names()), "R alone, without this package",
    "R with this package", titles)
}

# The ways to leave the desk with something: each asks for what it needs, calls the function that a
# programmer would call, and says what was written and where.

#   word         on its button
#   title, when  above its fields
#   ending       of the file that is proposed
#   fields       see desk_field(); a file is never replaced without being asked for
#   call         a function of the book and of what was typed, by argument, that gives the call
ways_out <- list(
  sheet = list(word = "Sheet", title = "Save the sheet", ending = ".turns.yaml",
    when = "Every step, to go on later or to do the same with other data.",
    call = function(book, given) rlang::call2(save_turns, book, !!!given)),
  data = list(word = "Data", title = "Write the data", ending = "-derived.csv",
    when = paste("The originals as they came, and what was made. The ending names the format:",
      ".csv, .xlsx, ..."),
    fields = list(
      columns = desk_field("names", "Only these columns, in this order", "Left empty, all."),
      values = desk_field("choice", "Values as",
        choices = choice_words(c("codes", "labels"), "codes", "labels")),
      missing = desk_field("choice", "Missing answers as", choices = choice_words(c("codes", "na"),
        "the codes they had", "empty"), seldom = TRUE),
      rename = desk_field("pairs", "Other names in the file", seldom = TRUE)
    ), call = function(book, given) rlang::call2(write_data, book, !!!given)),
  script = list(word = "Script", title = "Write a script", ending = "-derive.R",
    when = "The same work as a program that anybody can read and run.",
    fields = list(dialect = desk_field("choice", "For", choices = script_choices())),
    call = function(book, given) {
      if (isTRUE(given$dialect %in% engine_names())) {
        given[c("dialect", "engine")] <- c("sql", given$dialect)
      }
      rlang::call2(write_script, book, !!!given)
    }),
  report = list(word = "Report", title = "Write the report", ending = "-report.html",
    when = "A page that explains every derived variable, to read and to hand on.",
    fields = list(title = desk_field("text", "Title")),
    call = function(book, given) rlang::call2(report, book, !!!given)),
  codebook = list(word = "Codebook", title = "Write the codebook", ending = "-codebook.html",
    when = "What every variable means, and how often each answer came.",
    call = function(book, given) rlang::call2(write_codebook, book, !!!given)),
  package = list(word = "Package", title = "Pack it all", ending = ".zip",
    when = "Data, sheet, codebook, scripts and report in one file for a stranger.",
    fields = list(creators = desk_field("texts", "Who made it", "One name on each line."),
      licence = desk_field("text", "What others may do with it"),
      title = desk_field("text", "Title", seldom = TRUE)),
    call = function(book, given) {
      about <- compact(given[c("title", "creators", "licence")])
      rlang::call2(write_package, book, path = given$path, overwrite = isTRUE(given$overwrite),
        about = if (length(about)) about)
    }),
  prove = list(word = "Prove it", title = "Prove it",
    when = "Runs every script in a fresh R process and compares all columns, row by row.",
    call = function(book, given) rlang::call2(prove, book))
)

way_fields <- function(way) {
  way <- ways_out[[way]]
  path <- if (!is.null(way$ending)) list(path = desk_field("path", "File", paste("In",
    show_controls(getwd()), "unless a whole path is typed.")))
  c(path, way$fields, if (!is.null(way$ending)) list(overwrite = desk_field("flag",
    "Replace the file if it is there already")))
}

# What is proposed: a name made from that of the data.
proposed_path <- function(book, way) {
  ending <- ways_out[[way]]$ending
  if (is.null(ending)) return(NULL)
  name <- sub("\\.[^.]*$", "", basename(info_of(book)$file %||% info_of(book)$name))
  paste0(name, ending)
}

# Leaves by a way: `says`, lines about what was done; or the `error`, with its `argument`.
leave_by <- function(book, way, typed) {
  fields <- way_fields(way)
  tryCatch({
    given <- compact(given_by(fields, typed, book))
    if (!is.null(fields$path) && is.null(given$path)) {
      at_argument("path", fail("argument-needed", argument = "path"))
    }
    done <- collect_receipts(rlang::eval_tidy(ways_out[[way]]$call(book, given)))
    list(says = as_on_page(left_in_words(done, given$path)))
  }, error = function(e) list(error = e, argument = e$argument %||% argument_of_path(e)))
}

argument_of_path <- function(e) {
  if (inherits(e, paste0("ableturn_error_", c("file_exists", "no_folder", "file_unwritable",
    "file_ending", "file_folder", "file_is_source")))) "path" else e$detail$argument
}

left_in_words <- function(done, path) {
  told <- unlist(lapply(done$receipts, receipt_lines))
  if (is.null(path)) return(c(told, utils::capture.output(print(done$value))))
  size <- file.size(path)
  c(paste0("Wrote ", absolute_path(path), if (!is.na(size)) paste0(" (", size_in_words(size), ")"),
    "."), told)
}

# The fields of a way, in a dialogue.
leave_html <- function(state, way) {
  tags <- htmltools::tags
  told <- ways_out[[way]]
  fields <- way_fields(way)
  state$form <- list(verb = NULL, typed = list(path = proposed_path(state$book, way)))
  tags$form(id = "leave-form", `data-way` = way, autocomplete = "off",
    tags$h2(id = "leave-title", told$title), tags$p(class = "quiet", told$when),
    fields_html(fields, state), if (!is.null(fields$path)) folded_html("Choose a folder",
      folder_html(getwd())),
    tags$div(id = "left", `aria-live` = "polite"),
    tags$p(class = "buttons", tags$button(type = "submit", class = "main", if (way == "prove")
      "Run the scripts" else "Write"),
    tags$button(type = "button", class = "close-dialog", "Back")))
}
