# What the page is told, and what becomes of what it says, without a browser.

screen_of <- function(book = open_demo(), lesson = NULL) {
  core("new_screen")(core("as_book")(book), lesson)
}

# The screen after events, each a list, told one after the other.
after <- function(screen, ...) {
  Reduce(function(screen, event) core("answer_safely")(screen, event)$screen, list(...), screen)
}

told <- function(screen, ...) core("answer_safely")(screen, list(...))$says

test_that("every form can be shown, filled in from the page, and amended from its own fields", {
  for (form in core("all_desk_forms")()) {
    screen <- after(screen_of(), list(do = "choose", names = list("st_1", "st_2")))
    screen$state$form <- list(verb = form$verb, typed = list(), amends = NULL)
    html <- core("as_html")(core("form_html")(screen$state))
    for (argument in names(core("form_fields")(form$verb))) {
      expect_match(html, paste0("data-field=\"", argument, "\""), fixed = TRUE, info = form$verb)
      expect_match(html, paste0("id=\"f-", argument, "-error\""), fixed = TRUE)
    }
  }
})

# The table of values as the page sends it, and the rules it stands for.
grid <- function(values = list(), ranges = list(), cases = list(), rest = "none", code = "",
                 labels = list()) {
  list(values = values, ranges = ranges, cases = cases, rest = list(how = rest, code = code),
    labels = labels)
}
value <- function(value, becomes, kind = "number") {
  list(value = value, kind = kind, becomes = becomes)
}
range <- function(when, becomes) list(when = when, becomes = becomes)

rule_tries <- list(
  list(grid(list(value("1", "0"), value("2", "1"), value("3", "0"), value("4", ""))),
    list(list(code = 0, when = list(1, 3)), list(code = 1, when = 2))),
  list(grid(list(value("Refused", ".", "missing")), list(range("5 ..", "b"), range("", "")),
    rest = "keep", labels = list(list(".", "No"), list("b", " Many "))),
  list(list(code = NA, when = list(missing = "Refused"), label = "No"),
    list(code = "b", when = "5 ..", label = "Many"), list(keep = TRUE, rest = TRUE))),
  list(grid(list(value("1 .. 4", "x", "text")), list(range("holding: bus, coach", "y"),
    range("fits: ^A", "z"), range("\"3 ..\"; 7", "w"), range("missing", "m"), range("any number",
      "n")), rest = "code", code = "r"),
  list(list(code = "x", when = list(text = "1 .. 4")),
    list(code = "y", when = list(holding = list("bus", "coach"))),
    list(code = "z", when = list(holding = list(regex = "^A"))),
    list(code = "w", when = list(list(text = "3 .."), 7)), list(code = "m", when = list(missing =
      "any")), list(code = "n", when = list(number = "any")), list(code = "r", rest = TRUE))),
  list(grid(cases = list(list(becomes = "1", where = list(list("a", "1"), list("b", "< 40"),
    list("c", ""))))), list(list(code = 1, where = list(a = 1, b = "< 40"))))
)

test_that("rules filled in on the table of values are rules of a sheet, and come back to it", {
  for (try in rule_tries) {
    rules <- core("filled_rules")(try[[1]])
    expect_equal(rules, try[[2]])
    values <- do.call(rbind, lapply(try[[1]]$values, function(v) {
      data.frame(value = v$value, kind = v$kind)
    })) %||% data.frame(value = character(), kind = character())
    back <- core("rules_as_table")(rules, values)
    again <- grid(Map(function(v, becomes) value(v$value, becomes, v$kind), try[[1]]$values,
      back$values), back$ranges, lapply(back$cases, function(case) {
      list(becomes = case$becomes, where = unname(Map(list, names(case$where), case$where)))
    }), back$rest$how, back$rest$code, unname(Map(list, names(back$labels), back$labels)))
    expect_equal(core("filled_rules")(again), try[[2]])
  }
})

test_that("the table of values holds what was met, with its rows, and says what each became", {
  met <- core("rule_values")(open_demo(), "island")
  expect_equal(met$table$value, as.character(1:5))
  expect_equal(met$table$rows, as.integer(table(open_demo()$island)))
  expect_equal(core("rule_values")(open_demo(), "income", 10)$more,
    length(unique(open_demo()$income)) - 10, tolerance = 1)
  screen <- after(screen_of(), list(do = "choose", names = list("island")),
    list(do = "ask", verb = "recode"), list(do = "fill", verb = "recode",
      typed = list(rules = grid(list(value("1", "7"), value("2", "7"))))))
  now <- core("becomes_so_far")(screen$state)
  expect_equal(vapply(now, `[[`, "", "words"), rep(c("7", "not yet taken"), c(2, 3)),
    ignore_attr = TRUE)
})

test_that("values of every type can be told apart by rules, and dates are not asked for any", {
  data <- data.frame(l = c(TRUE, FALSE, NA, TRUE), f = factor(c("a", "b", "a", "c")),
    n = c(0.1 + 0.2, 2, 2, 1e15), t = c("x", "1 .. 4", "x", ""), d = Sys.Date() + 0:3)
  wanted <- list(l = c(2, 1, NA, 2), f = c(1, 2, 1, 2), n = c(1, 2, 2, 2), t = c(2, 1, 2, NA))
  for (name in names(wanted)) {
    screen <- after(screen_of(turnbook(data)), list(do = "choose", names = list(name)),
      list(do = "ask", verb = "recode"))
    met <- core("rule_values")(screen$state$book, name)$table[1, ]
    screen <- after(screen, list(do = "fill", verb = "recode", typed = list(as = "r", rules = grid(
      list(value(met$value, "1", met$kind)), rest = "code", code = "2"))), list(do = "keep"))
    expect_equal(as.numeric(screen$state$book$r), wanted[[name]], info = name)
  }
  asked <- core("fitting_forms")(core("chosen_facts")(turnbook(data), "d"))
  expect_false("recode" %in% vapply(asked, `[[`, "", "verb"))
})

test_that("what is of a user is text on the page, and what is typed is never run", {
  nasty <- c("<script>alert(1)</script>", "\"><img src=x onerror=alert(1)>", "a\033[31mb", "=1+1",
    "`system('x')`", "</pre><b>", "'; x")
  data <- data.frame(x = rep(1:7, 3), t = rep(nasty, 3))
  names(data)[1] <- nasty[2]
  book <- quietly(define(turnbook(data), 1, label = nasty[1], codes = setNames(1:7, nasty),
    note = nasty[6]))
  screen <- screen_of(book)
  spot <- file.path(tempdir(), "spot")
  code <- paste0("file.create(", deparse(spot), ")")
  events <- c(list(list(do = "hello")), lapply(names(book), function(name) {
    list(do = "choose", names = list(name))
  }), list(list(do = "ask", verb = "recode"), list(do = "ask", verb = "compute"),
    list(do = "fill", verb = "compute", typed = list(formula = code)), list(do = "keep"),
    list(do = "fill", verb = "compute", typed = list(formula = paste0("!!", code))),
    list(do = "fill", verb = "compute", typed = list(formula = paste0("{", code, "}"),
      as = code, label = nasty[1])), list(do = "ask", verb = "define"),
    list(do = "tab", tab = "codebook"), list(do = "search", text = nasty[1]),
    list(do = "picture", of = "look", name = nasty[2]),
    list(do = "working", name = "t", row = code),
    list(do = "send", way = "data", typed = list(path = code, columns = list(code))),
    list(do = code), list(do = c("undo", "undo")), list(do = "tab", tab = code), list(), 7))
  for (event in events) {
    answered <- core("answer_safely")(screen, event)
    screen <- answered$screen
    # names and values go back to R, so that they stand in the data of the page as they are
    html <- gsub("data-[a-z]+=\"[^\"]*\"", "", unlist(lapply(answered$says, `[[`, "html")))
    expect_false(any(grepl("<script|<img|<b>|onerror=alert[^&]*>[^&]*<img|\033", html)))
  }
  expect_false(file.exists(spot))
})

test_that("a file sent by the page is a table, in the words of the readers where it is none", {
  send <- function(bytes, name = "t.csv", verb = "crosswalk") {
    screen <- after(screen_of(), list(do = "choose", names = list("occupation")),
      list(do = "ask", verb = verb), list(do = "fill", verb = verb, typed = list(table = list(
        name = name, bytes = openssl::base64_encode(bytes)), from = "occupation", to = "status")))
    screen$state
  }
  file <- demo_file("status-score.csv")
  desk <- send(readBin(file, "raw", 1e6))
  expect_s3_class(desk$form$typed$table, "data.frame")
  expect_equal(names(desk$form$typed$table), names(read_data(file)))
  expect_equal(send(charToRaw("a,a\n1,2"))$tried$argument, "table")
  expect_equal(send(raw(6e6))$tried$argument, "table")
  expect_s3_class(send(raw(6e6))$tried$error, "ableturn_error_desk_file_large")
  expect_s3_class(send(charToRaw("a: 1"), "../../x.sh\ny")$tried$error, "error")
})

test_that("leaving writes where it was said, and never over a file without being asked", {
  room <- withr::local_tempdir()
  withr::local_dir(room)
  book <- quietly(turn_reverse(open_demo(), c(st_2, st_5), limits = c(1, 5)))
  typed <- list(data = list(path = "d.csv", columns = c("person", "st_2_r"), rename = list(list("a",
    "st_2_r"))), sheet = list(path = "s.turns.yaml"), script = list(path = "s.R",
    dialect = "ableturn"), report = list(path = "r.html", title = "T"),
  codebook = list(path = "c.html"), package = list(path = "p.zip", creators = "A\nB",
    licence = "CC-BY-4.0"))
  expect_setequal(c(names(typed), "prove"), names(core("ways_out")))
  for (way in sampled(names(typed), every = 2)) {
    send <- function(...) {
      told(screen_of(book), do = "send", way = way, typed = c(typed[[way]], ...))[[1]]
    }
    expect_match(send()$html, "Wrote ", info = way)
    before <- file.info(typed[[way]]$path)$mtime
    again <- send()
    expect_equal(again$argument, "path", info = way)
    expect_match(again$html, "exists already")
    expect_equal(file.info(typed[[way]]$path)$mtime, before)
    expect_match(send(overwrite = TRUE)$html, "Wrote ")
  }
  expect_equal(names(read.csv("d.csv")), c("person", "a"))
  strange <- core("leave_by")(book, "data", list(path = "e.csv", columns = "nobody"))
  expect_s3_class(strange$error, "ableturn_error_unknown_variable")
  expect_equal(strange$argument, "columns")
  lost <- core("leave_by")(book, "sheet", list(path = "no/where.yaml"))
  expect_equal(lost$argument, "path")
  expect_equal(core("leave_by")(book, "sheet", list(path = " "))$argument, "path")
})

test_that("steps that no sheet holds are told before the desk is closed, also after a save", {
  withr::local_dir(withr::local_tempdir())
  screen <- screen_of()
  close_says <- function() told(screen, do = "out", way = "close")[[1]]$html
  expect_no_match(close_says(), "is in no sheet of yours")
  for (name in c("income", "age")) {
    screen <- after(screen, list(do = "choose", names = list(name)),
      list(do = "ask", verb = "standardize"), list(do = "keep"))
    expect_match(close_says(), "is in no sheet of yours")
    screen <- after(screen, list(do = "send", way = "sheet", typed = list(overwrite = TRUE,
      path = "s.turns.yaml")), list(do = "teach", to = 1))
    expect_no_match(close_says(), "is in no sheet of yours")
  }
})

test_that("the port is one that browsers open", {
  expect_true(all(replicate(20, core("free_port")()) >= 20000))
})

test_that("each kind of field can be shown, typed and read from the page", {
  expect_setequal(names(core("fields_of_page")), names(core("typed_kinds")))
  kinds <- c(core("kinds_of_many"), names(core("kinds_of_page")), names(core("as_typed")))
  expect_equal(setdiff(kinds, names(core("typed_kinds"))), character())
})

test_that("the lesson goes on by what is done, and can be skipped, left and taken up", {
  screen <- screen_of(lesson = 1)
  screen <- after(screen, list(do = "choose", names = list("crossings")))
  expect_equal(screen$lesson, 2)
  screen <- after(screen, list(do = "ask", verb = "define", suspects = TRUE), list(do = "keep"))
  expect_equal(screen$lesson, 3)
  screen <- after(screen, list(do = "ask", verb = "standardize"), list(do = "keep"),
    list(do = "undo"), list(do = "redo"))
  expect_equal(screen$lesson, 5)
  withr::local_dir(withr::local_tempdir())
  screen <- after(screen, list(do = "send", way = "sheet", typed = list(path = "s.turns.yaml")))
  expect_equal(screen$lesson, 6)
  expect_equal(after(screen, list(do = "teach", to = 0))$lesson, 0)
  expect_equal(after(screen, list(do = "teach", to = "1"))$lesson, 1)
})

test_that("a thousand variables and steps come piece by piece, each once", {
  data <- as.data.frame(setNames(rep(list(c(1, 2, 3)), 250), paste0("q", 1:250)))
  screen <- screen_of(turnbook(data))
  found <- character()
  from <- 1
  while (length(from)) {
    html <- Find(function(m) !is.null(m$html), told(screen, do = "more", list = "variables",
      from = from))$html
    found <- c(found, regmatches(html, gregexpr("data-name=\"[^\"]+", html))[[1]])
    from <- as.integer(sub(".*data-from=\"", "", regmatches(html, regexpr("data-from=\"[0-9]+",
      html))))
  }
  expect_equal(sub(".*\"", "", found), names(data))
  searched <- told(screen, do = "list", search = "q24 ")
  expect_length(gregexpr("data-name", searched[[1]]$html)[[1]], 11)
})

test_that("frames that nobody here made: every list, form, look and row comes without trouble", {
  frames <- list(infert = infert[c(1, 7)], esoph = esoph[c(1, 4)], air = airquality["Ozone"],
    states = data.frame(region = state.region, name = state.name))
  fine <- function(says, info) {
    for (message in says) {
      expect_false(identical(message$do, "trouble"), info = paste(info, message$html))
      expect_null(if (identical(message$do, "grid")) message$error, info = info)
    }
  }
  for (frame in names(sampled(frames, 4))) {
    screen <- screen_of(frames[[frame]])
    do <- function(...) {
      answered <- core("answer_safely")(screen, list(...))
      fine(answered$says, paste(c(frame, unlist(list(...))), collapse = " "))
      screen <<- answered$screen
    }
    do(do = "hello")
    for (sort in names(core("list_orders"))) do(do = "list", sort = sort)
    for (show in names(core("list_filters"))) do(do = "list", show = show)
    for (name in names(frames[[frame]])) {
      do(do = "choose", names = list(name))
      do(do = "values", name = name, text = "1")
      do(do = "choices", id = "x", place = 0, name = name)
      do(do = "grid", from = 3, n = 4, column = 1, columns = 3, sort = name, down = TRUE)
      do(do = "grid", from = 1, n = 4, where = core("condition_text")(list(list(name = name,
        how = "valid", value = "")), "and", screen$state$book))
      facts <- core("chosen_facts")(screen$state$book, name)
      for (form in core("fitting_forms")(facts)) {
        do(do = "ask", verb = form$verb)
        do(do = "leave")
      }
      for (starter in core("starters_for")(screen$state)) {
        do(do = "ask", verb = starter$verb, starter = starter$starter)
        expect_null(screen$state$tried$error, info = paste(frame, name, starter$starter))
        do(do = "keep")
        do(do = "undo")
      }
    }
  }
})

test_that("a derived variable's set is listed at once, and work goes on beside other data", {
  screen <- screen_of(quietly(turn_standardize(open_demo(), income)))
  screen <- after(screen, list(do = "choose", names = list("income_z")),
    list(do = "ask", verb = "define"), list(do = "fill", verb = "define", typed = list(set = "S")))
  says <- told(screen, do = "keep")
  expect_equal(Find(function(m) m$do == "names", says)$sets, list("S"))
  screen$work <- list(way = "report")
  opened <- core("reopened_screen")(screen, core("as_book")(turnbook(data.frame(a = 1))))
  expect_equal(opened$work$way, "report")
  core("leave_rescue")(opened$state$book, TRUE)
})
