#' The same work in the browser
#'
#' Opens a page in the browser on which variables are looked at, defined and turned into others,
#' with the receipt and a picture of what each choice would come to before it is kept. What is done
#' there is what the functions of this package do: the same record, sheet, scripts and report.
#' Without data the demo survey is opened, with a lesson of five short steps.
#'
#' The page can be reached on this machine only, and only by the browser that first opens the
#' address with its key, which is printed. R waits until the desk is closed, by its button or by
#' interrupting R (Esc, or Ctrl-C). Closing the browser loses nothing: the address without the key
#' opens the page again while that browser runs; half a minute after the last page is gone, a new
#' address is printed.
#'
#' Other data are opened from the page: a file with its codebook and sheet, a table of the database
#' that the desk was opened on, or the steps of the desk once more on new data. Reports, packages
#' and proofs are made beside the desk, by a process of their own where the package callr is
#' installed, and can be stopped. Files that were opened, and steps that were kept as templates, are
#' remembered in your own folder for such data ([tools::R_user_dir()]).
#'
#' Without `sheet`, every step is kept aside in a sheet in that folder, until the desk is closed
#' properly. After a lost process or an interrupt it is offered when the same data are opened again.
#'
#' @param data A turnbook, a data frame, or the path of a file, see [turnbook()].
#' @param codebook,id,reading As in [turnbook()], where `data` is no turnbook yet.
#' @param sheet The path of a turn sheet, to which every step is written as it is made. Where it is
#'   there already, the work goes on from what stands in it.
#' @param ... Not used; the arguments after it are written in full.
#' @param port The port of this machine; left out, one that is free.
#' @param open Whether the browser is opened; else the address is only printed.
#' @return The turnbook as it stands when the desk is closed, invisibly.
#' @section Errors: `ableturn_error_package_needed` where shiny, htmltools, ggplot2 or svglite is
#'   not installed; `ableturn_error_sheet_locked` where another desk or process writes the sheet;
#'   and those of [turnbook()] and [apply_turns()].
#' @examplesIf interactive()
#' book <- desk()
#' book <- desk(demo_file("ferry-survey.csv"), codebook = demo_file("ferry-survey.codebook.json"),
#'   id = person, sheet = tempfile(fileext = ".turns.yaml"))
#' @export
desk <- function(data = NULL, ..., codebook = NULL, id = NULL, sheet = NULL, reading = NULL,
                 port = NULL, open = interactive()) {
  refuse_dots(...)
  check_flag(open, "open")
  for (package in c("shiny", "htmltools", "ggplot2", "svglite")) need_package(package, "the desk")
  name <- substitute(data)
  given <- list(codebook = codebook, reading = reading)
  book <- desk_book(data, name, rlang::enquo(id), sheet, given)
  if (is.character(data)) remember_file(compact(list(data = data, codebook = codebook,
    sheet = sheet, id = info_of(book)$id)))
  invisible(run_desk(book, port, open, lesson = if (is.null(data)) 1))
}

# The book that is laid on the desk.
desk_book <- function(data, name, id, sheet, given) {
  if (is.null(data)) {
    data <- demo_file("ferry-survey.csv")
    given <- list(codebook = demo_file("ferry-survey.codebook.json"))
    id <- rlang::quo("person")
  }
  if (inherits(data, c("turnbook", "ableturn_book"))) {
    if (!is.null(sheet)) fail("desk-sheet")
    return(as_book(data))
  }
  if (is.character(sheet) && file.exists(absolute_path(sheet))) {
    return(rlang::inject(go_on_with_sheet(data, sheet, !!!compact(given), id = !!id)))
  }
  book <- as_book(rlang::inject(turnbook(data, sheet = sheet, !!!given, id = !!id)))
  if (is.character(data)) return(book)
  with_parts(book, info = replace(info_of(book), "name", data_name(name, names(data))))
}

# Serves the desk until it is closed; gives the book as it then stands.
run_desk <- function(book, port = NULL, open = FALSE, lesson = NULL) {
  port <- check_port(port) %||% free_port()
  gate <- new_gate(port)
  on.exit(close_gate(gate))
  book <- as_book(book)
  rescue <- found_rescue(book)
  room <- new.env(parent = emptyenv())
  room$screen <- new_screen(with_rescue(book), lesson, rescue)
  room$screen$beside <- TRUE
  on.exit(if (!is.null(room$screen$rescue)) unlock_sheet(room$screen$rescue$path), add = TRUE)
  on.exit(if (!is.null(room$screen$work)) stop_work(room$screen$work), add = TRUE)
  withr::local_options(shiny.maxRequestSize = most_bytes, shiny.sanitize.errors = TRUE)
  tell_address(gate)
  look <- if (open) function(url) utils::browseURL(gate_page(gate)) else FALSE
  tryCatch(suppressPackageStartupMessages(shiny::runApp(desk_app(room, gate), port = port,
    host = "127.0.0.1", quiet = TRUE, launch.browser = look)), interrupt = function(e) NULL)
  as_frame(leave_rescue(room$screen$state$book, isTRUE(room$closed)))
}

# Tried from a random one on, so that two desks opened at once seldom meet. Those below 20,000 are
# left out, as browsers refuse some of them (2049, 6000, 10080).
free_port <- function() {
  for (port in 20000 + (strtoi(substr(random_token(), 1, 4), 16L) + 0:200 * 37) %% 29000) {
    free <- tryCatch(serverSocket(port), error = function(e) NULL)
    if (!is.null(free)) {
      close(free)
      return(port)
    }
  }
  fail("desk-no-port")
}

check_port <- function(port) {
  if (is.null(port)) return(NULL)
  port <- suppressWarnings(as.integer(port))
  if (length(port) != 1 || is.na(port) || port < 1024 || port > 65535) {
    fail("desk-port", port = show_value(port)[1] %|% "no number")
  }
  port
}

word_errors(list(
  "desk-sheet" = c("A turnbook keeps the sheet it was opened with, and gets no other on the desk.",
    paste("Leave out sheet, or open the file itself:",
      "desk(\"survey.csv\", sheet = \"survey.turns.yaml\").")),
  "desk-no-port" = c("No port of this machine is free.", "Name one: port = 8080."),
  "desk-port" = c("The port must be a whole number from 1024 to 65535, not {port}.",
    "Leave it out, and one that is free is taken.")
))
