# The desk without a browser: what is done on it leaves what the calls leave.

act <- function(desk, do, ...) core("desk_do")(desk, list(do = do, ...))

test_that("a first session on the desk leaves the sheet that the same calls leave", {
  room <- withr::local_tempdir()
  at <- function(name) file.path(room, name)
  data <- data.frame(id = 1:6, a = c(1, 2, 5, 4, 99, 3), b = c(5, 4, 1, NA, 2, 3))
  desk <- core("new_desk")(quietly(turnbook(data, sheet = at("desk.yaml"), id = "id")))
  desk <- act(desk, "choose", names = "a") |> act("ask", verb = "define") |>
    act("fill", typed = list(missing = list(Refused = "99"))) |> act("keep")
  expect_null(desk$error)
  desk <- act(desk, "choose", names = "a") |> act("ask", verb = "recode")
  desk <- act(desk, "fill", typed = list(as = "a2", rules = list(list(code = 1, when = "1 .. 2"),
    list(code = 2, when = "3 .."))))
  expect_equal(names(desk$book), c("id", "a", "b"))
  expect_equal(desk$tried$book$a2, c(1, 1, 2, 2, NA, 2))
  expect_equal(desk$tried$receipt$turn$verb, "recode")
  expect_false(any(grepl("recode", readLines(at("desk.yaml")))))
  desk <- act(desk, "keep")
  expect_equal(desk$chosen, "a2")
  desk <- act(desk, "choose", names = "b") |> act("ask", verb = "reverse") |>
    act("fill", typed = list(limits = "1 5")) |> act("keep")
  desk <- act(desk, "choose", names = list("a", "b_r")) |> act("ask", verb = "composite") |>
    act("fill", typed = list(how = "mean", as = "s", at_least = "1")) |> act("keep")
  desk <- act(desk, "amend", name = "s")
  expect_equal(desk$chosen, c("a", "b_r"))
  desk <- act(desk, "fill", typed = replace(desk$form$typed, "at_least", "2")) |> act("keep")
  desk <- act(desk, "undo") |> act("redo") |> act("undo")
  made <- act(desk, "choose", names = "b") |> act("ask", verb = "standardize") |> act("keep")
  expect_equal(made$chosen, "b_z")
  expect_equal(act(made, "undo")$chosen, "b")
  shown <- findings(desk$book, accepted = FALSE)
  shown <- shown[shown$variable == "s", ]
  expect_gt(nrow(shown), 0)
  desk <- act(desk, "accept", name = "s", finding = shown$id[1], reason = " as planned ")
  desk <- act(desk, "drop", name = "a2")
  desk <- act(desk, "rename", name = "s", to = " score ")
  expect_equal(desk$chosen, "score")
  desk <- act(desk, "ask", verb = "must_hold") |>
    act("fill", typed = list(condition = "a <= 5", label = "a scale")) |> act("keep")
  expect_null(desk$error)

  book <- quietly({
    book <- turnbook(data, sheet = at("calls.yaml"), id = "id")
    book <- define(book, a, missing = c(Refused = 99))
    book <- turn_recode(book, a, as = "a2", becomes(1, from(1, upto = 2)), becomes(2, from(3)))
    book <- turn_reverse(book, b, limits = c(1, 5))
    book <- turn_composite(book, c(a, b_r), as = "s", at_least = 1)
    book <- amend(book, s, accept = setNames("as planned", shown$id[1]))
    book <- drop_turn(book, a2)
    book <- rename_turn(book, score = s)
    must_hold(book, a <= 5, label = "a scale")
  })
  expect_identical(readLines(at("desk.yaml")), readLines(at("calls.yaml")))
  expect_equal(as.data.frame(desk$book), as.data.frame(book))
})

test_that("what fails changes nothing, and what no page of ours would say is refused", {
  desk <- core("new_desk")(open_demo())
  expect_s3_class(act(desk, "undo")$error, "ableturn_error_nothing_to_undo")
  open <- act(desk, "choose", names = "income") |> act("ask", verb = "bin") |>
    act("fill", typed = list(at = "x", book = "y", "y"))
  expect_equal(open$tried$argument, "at")
  expect_equal(open$form$typed, list(at = "x"))
  failed <- act(open, "keep")
  expect_match(conditionMessage(failed$error), "is no list of numbers")
  expect_identical(failed$book, desk$book)
  expect_equal(failed$form, open$form)
  expect_null(act(failed, "leave")$form)
  expect_equal(act(desk, "fill", typed = list(at = "1")), desk)
  refused(act(desk, "choose", names = "nobody"), "unknown-variable")
  refused(act(act(desk, "choose", names = "income"), "ask", verb = "system"), "bad-choice")
  for (do in c("amend", "drop", "accept")) {
    refused(act(desk, do, name = "income", finding = "open-range", reason = "x"), "not-derived")
    for (name in list(NULL, c("age", "income"))) refused(act(desk, do, name = name), "desk-act")
  }
  for (odd in list("", "quit", NULL, c("undo", "undo"), 1, "new_desk")) {
    refused(core("desk_do")(desk, list(do = odd)), "desk-act")
  }
})

test_that("what the page shows is what the book says", {
  book <- quietly(must_hold(demo_work(), crossings >= 0))
  shown <- core("desk_variables")(book)
  expect_equal(names(shown), names(book))
  field <- function(key) vapply(shown, `[[`, shown[[1]][[key]], key)
  valid <- vapply(names(book), function(name) mean(!is.na(known_variable(book, name)$x)), 0)
  expect_equal(field("valid"), valid)
  expect_equal(names(shown)[field("derived")], turns(book)$name)
  expect_equal(shown$birth_date$kind, "date")
  expect_equal(core("desk_variables")(open_demo(), "age")$age$suspects, "999")
  steps <- core("desk_steps")(book)
  expect_length(steps, length(core("steps_of")(book)))
  expect_true(all(nzchar(vapply(steps, `[[`, "", "says"))))
  made <- unlist(lapply(steps, function(step) names(step$valid)))
  expect_setequal(made, turns(book)$name)
  open <- findings(book, accepted = FALSE)
  told <- unlist(lapply(steps, function(step) vapply(step$findings, `[[`, "", "what")))
  expect_setequal(told, open$what[open$variable %in% made])
})
