# The desk's forms: each turn and each argument has its place, and a form makes what its call makes.

test_that("each kind of turn has a form, and each of its arguments a place in it", {
  forms <- vapply(core("all_desk_forms")(), `[[`, "", "verb")
  expect_setequal(forms, c(core("turn_verbs")(), "define", "must_hold"))
  for (verb in forms) {
    form <- core("desk_forms")[[verb]]
    fields <- core("form_fields")(verb)
    takes <- if (is.function(form$takes)) c(form$takes(list()), form$takes(list(unit = "u"))) else
      form$takes
    asked <- c(takes, names(fields))
    expect_equal(setdiff(core("verb_arguments")(verb), asked),
      if ("..." %in% asked) character() else intersect("...", core("verb_arguments")(verb)),
      info = verb)
    beyond <- setdiff(asked, core("verb_arguments")(verb))
    expect_equal(beyond, if (verb == "collapse") "rules" else character(), info = verb)
    for (argument in names(fields)[vapply(fields, `[[`, "", "kind") == "choice"]) {
      usual <- formals(core("verb_of_form")(verb))[[argument]]
      expect_true(is.null(usual) || usual %in% names(fields[[argument]]$choices),
        info = paste(verb, argument))
    }
  }
})

rule <- function(...) list(...)

# What is chosen and typed, and the call that it stands for.
desk_tries <- list(
  recode = list("crossings", list(as = "rider", label = "Rider", rules = list(
    rule(code = 0, when = 0, label = "Never"), rule(code = 1, when = "1 .. 4"),
    rule(code = 2, rest = TRUE))), quote(turn_recode(b, crossings, as = "rider", label = "Rider",
    becomes(0, 0, label = "Never"), becomes(1, from(1, upto = 4)), the_rest(2)))),
  collapse = list("ticket", list(rarer_than = "0.05", as = "t"),
    quote(turn_collapse(b, ticket, rarer_than = 0.05, as = "t"))),
  collapse = list("island", list(as = "i", rules = list(rule(code = "Outer",
    when = list("Sallow", "Merrin")))), quote(turn_collapse(b, island, as = "i",
    becomes("Outer", "Sallow", "Merrin")))),
  bin = list("income", list(at = "1500, 3000.5", labels = "low\nmiddle\n\nhigh ", as = "i3"),
    quote(turn_bin(b, income, at = c(1500, 3000.5), labels = c("low", "middle", "high"),
      as = "i3"))),
  bin = list("income", list(groups = "4", by = "width", weight = "weight"),
    quote(turn_bin(b, income, groups = 4, by = "width", weight = weight))),
  reverse = list(c("st_2", "st_5"), list(limits = "1 5", as = ""),
    quote(turn_reverse(b, c(st_2, st_5), limits = c(1, 5)))),
  composite = list(paste0("st_", 1:6), list(how = "mean", at_least = "5", as = "strain",
    reversed = c("st_2", "st_5"), valid_count = TRUE, high = "more strain", prorate = FALSE),
  quote(turn_composite(b, st_1:st_6, at_least = 5, as = "strain", reversed = c(st_2, st_5),
    valid_count = TRUE, high = "more strain"))),
  dummy = list(c("island", "ticket"), list(reference = list(island = "Northholm", ticket = "")),
    quote(turn_dummy(b, c(island, ticket), reference = c(island = "Northholm")))),
  dummy = list("island", list(all_levels = TRUE, missing = "level"),
    quote(turn_dummy(b, island, all_levels = TRUE, missing = "level"))),
  flag = list(NULL, list(condition = " wait_min > median(wait_min)", as = "long"),
    quote(turn_flag(b, wait_min > median(wait_min), as = "long"))),
  compute = list(NULL, list(formula = "log10(each)", each = c("income", "wait_min"),
    as = "{name}_log"), quote(turn_compute(b, log10(each), each = c(income, wait_min),
    as = "{name}_log"))),
  standardize = list("income", list(how = "percentile", within = "island"),
    quote(turn_standardize(b, income, how = "percentile", within = island))),
  standardize = list("hours", list(how = "t", reference = "40 10"),
    quote(turn_standardize(b, hours, how = "t", reference = c(mean = 40, sd = 10)))),
  rescale = list(c("ea_1", "ea_2"), list(shift = "-1"),
    quote(turn_rescale(b, c(ea_1, ea_2), shift = -1))),
  tally = list(c("tr_1", "tr_2", "tr_3"), list(of = "1; 4 ..", as = "n"),
    quote(turn_tally(b, tr_1:tr_3, of = list(1, from(4)), as = "n"))),
  key = list(c("qz_1", "qz_2"), list(key = list(qz_1 = "2", qz_2 = "4"), unanswered = "wrong"),
    quote(turn_key(b, c(qz_1, qz_2), key = c(qz_1 = 2, qz_2 = 4), unanswered = "wrong"))),
  crosswalk = list("occupation", list(table = demo_file("status-score.csv")),
    quote(turn_crosswalk(b, occupation, table = demo_file("status-score.csv")))),
  group = list("income", list(within = "household_id", how = "max"),
    quote(turn_group(b, income, within = household_id, how = "max"))),
  interact = list("wait_min", list(b = "hours", centre = TRUE),
    quote(turn_interact(b, wait_min, hours, centre = TRUE))),
  instrument = list(NULL, list(file = demo_file("ease-aboard.instrument.yaml")),
    quote(turn_instrument(b, demo_file("ease-aboard.instrument.yaml")))),
  change = list("wait_min", list(unit = "household_id", order = "person", how = "ratio"),
    quote(turn_change(b, wait_min, unit = household_id, order = person, how = "ratio"))),
  change = list(c("st_1", "st_3"), list(from = "first", reliability = "0.8", better = "low",
    how = "reliable"), quote(turn_change(b, occasions = c(st_1, st_3), from = "first",
    how = "reliable", reliability = 0.8, better = "low"))),
  change = list("wait_min", list(unit = "household_id", order = "person", from = "wait_min > 90"),
    quote(turn_change(b, wait_min, unit = household_id, order = person, from = wait_min > 90))),
  key = list(c("qz_1", "qz_2"), list(key = list(qz_1 = "2", qz_2 = "4"), wrong = "chance",
    unanswered = "0", choices = "4"), quote(turn_key(b, c(qz_1, qz_2), key = c(qz_1 = 2, qz_2 = 4),
    wrong = "chance", unanswered = 0, choices = 4))),
  winsorize = list("wait_min", list(at = "0 0.95", outside = "missing"),
    quote(turn_winsorize(b, wait_min, at = c(0, 0.95), outside = "missing"))),
  fill = list(paste0("tr_", 1:4), list(at_least = "3", round = TRUE, filled = "f"),
    quote(turn_fill(b, tr_1:tr_4, at_least = 3, round = TRUE, filled = "f"))),
  component = list(paste0("st_", 1:6), list(positive = "st_1", at_least = "5", as = "f"),
    quote(turn_component(b, st_1:st_6, positive = st_1, at_least = 5, as = "f"))),
  split = list("ticket", list(by = "-", loose = TRUE),
    quote(turn_split(b, ticket, by = "-", loose = TRUE))),
  consensus = list(c("qz_1", "qz_2"), list(at_least = "1", ties = "first", as = "k"),
    quote(turn_consensus(b, c(qz_1, qz_2), at_least = 1, ties = "first", as = "k"))),
  group = list("income", list(within = "household_id", leave_out = TRUE),
    quote(turn_group(b, income, within = household_id, leave_out = TRUE))),
  norm = list("wait_min", list(table = data.frame(age = c(18, 95), mean = 14, sd = 12), how = "t",
    between = "linear"), quote(turn_norm(b, wait_min, table = data.frame(age = c(18, 95), mean = 14,
    sd = 12), how = "t", between = "linear"))),
  norm = list("st_1", list(table = data.frame(raw = 1:5, scaled = c(20, 40, 50, 60, 80))),
    quote(turn_norm(b, st_1, table = data.frame(raw = 1:5, scaled = c(20, 40, 50, 60, 80)))))
)

test_that("all kinds of turn are tried", {
  expect_setequal(names(desk_tries), core("turn_verbs")())
})

test_each("a form makes what its call makes", desk_tries, function(try, verb) {
  b <- open_demo()
  tried <- core("try_form")(verb, b, try[[1]], try[[2]])
  expect_null(tried$error)
  made <- quietly(eval(try[[3]]))
  expect_equal(as.data.frame(tried$book), as.data.frame(made))
  expect_equal(core("sheet_lines")(tried$book), core("sheet_lines")(made))
  expect_gt(length(tried$receipt$parts), 0)
  turn <- utils::tail(core("steps_of")(made), 1)[[1]]$turn
  filled <- core("form_of_turn")(turn)
  again <- core("try_amend")(made, turn$makes[1], filled$chosen, filled$typed)
  expect_null(again$error)
  expect_equal(as.data.frame(again$book), as.data.frame(made))
  expect_equal(core("sheet_lines")(again$book), core("sheet_lines")(made))
})

test_that("a definition is typed, and typed again from what it says", {
  b <- open_demo()
  typed <- list(missing = list("Not given" = "999", "Far off" = "150 .. 900", " " = ""),
    codes = list(None = "0", One = "1"), limits = "0 120", level = "ratio", unit = " years ",
    asked_if = "hours > 0", label = "", note = "a; b")
  made <- core("try_form")("define", b, "age", typed)
  expect_null(made$error)
  gone <- list("Not given" = 999, "Far off" = from(150, upto = 900))
  call <- quietly(define(b, age, missing = gone, codes = c(None = 0, One = 1),
    limits = c(0, 120), level = "ratio", unit = "years", asked_if = hours > 0, note = "a; b"))
  expect_equal(core("sheet_lines")(made$book), core("sheet_lines")(call))
  again <- core("form_of_meaning")(core("meaning_in")(call, "age"))
  expect_equal(again$missing, list("Not given" = "999", "Far off" = "150 .. 900"))
  expect_equal(again[c("codes", "limits", "level", "unit", "asked_if")],
    list(codes = list(None = "0", One = "1"), limits = "0 to 120", level = "ratio", unit = "years",
      asked_if = "hours > 0"))
})

test_that("a form that is filled in anew amends its turn, and what is emptied is taken out", {
  b <- quietly(turn_bin(open_demo(), income, at = c(1000, 2000), labels = c("a", "b", "c"),
    as = "i", note = "first"))
  filled <- core("form_of_turn")(core("steps_of")(b)[[1]]$turn)
  expect_equal(filled$chosen, "income")
  expect_equal(filled$typed[c("at", "labels", "note")],
    list(at = "1000 2000", labels = "a\nb\nc", note = "first"))
  filled$typed[c("at", "labels", "groups", "note")] <- list("", "", "3", "")
  amended <- core("try_amend")(b, "i", filled$chosen, filled$typed)$book
  expect_equal(amended$i, quietly(turn_bin(open_demo(), income, groups = 3, as = "i"))$i)
  expect_null(core("steps_of")(amended)[[1]]$turn$note)
})

test_that("what is typed badly is told at its field, and nothing is run", {
  b <- open_demo()
  told <- function(verb, chosen, typed) core("try_form")(verb, b, chosen, typed)
  bad <- list(
    list("bin", "income", list(at = "low, high"), "at", "is no list of numbers"),
    list("bin", "income", list(groups = "3 4"), "groups", "is not one number"),
    list("standardize", "income", list(reference = "50"), "reference", "standard deviation"),
    list("recode", "crossings", list(rules = list(list(code = 1, when = 1), list(code = 2))),
      "rules", "Rule 2: it does not say what its code is made from."),
    list("recode", "crossings", list(rules = list(list(code = 1, when = "4 .. 1"))), "rules",
      "Rule 1:"),
    list("compute", NULL, list(formula = "income +", as = "x"), "formula", ""),
    list("compute", NULL, list(formula = "{ income }", as = "x"), "formula", "has braces"),
    list("bin", "income", list(at = "1", weight = "system('id')"), "weight",
      "There is no variable")
  )
  for (case in bad) {
    found <- told(case[[1]], case[[2]], case[[3]])
    expect_s3_class(found$error, "ableturn_error")
    expect_equal(found$argument, case[[4]], info = case[[5]])
    expect_match(conditionMessage(found$error), case[[5]], fixed = TRUE)
  }
})

test_that("nothing that is typed is run", {
  b <- open_demo()
  flag <- quietly(turn_flag(b, wait_min > 30, as = "f"))
  room <- withr::local_tempdir()
  act <- paste0("file.create('", file.path(room, "run"), "')")
  wraps <- c("!!%s", "!!(%s)", "income + !!%s", "!!!%s", "{{%s}}", "{{ %s }}", "`!!`(%s)", "UQ(%s)",
    "rlang::inject(!!%s)", "(function() %s)()", "if (%s) 1 else 2", "income[%s]", "~%s",
    "x <- %s", "income; %s", "all_of(%s)", "log(%s)")
  for (text in sprintf(wraps, act)) {
    tries <- list(core("try_form")("compute", b, NULL, list(formula = text, as = "x")),
      core("try_form")("flag", b, NULL, list(condition = text, as = "x")),
      core("try_form")("define", b, "age", list(asked_if = text)),
      core("try_form")("bin", b, text, list(at = "30")),
      core("try_form")("bin", b, "age", list(at = "30", weight = text)),
      core("try_form")("standardize", b, "age", list(within = text)),
      core("try_amend")(flag, "f", NULL, list(condition = text)))
    for (try in tries) expect_s3_class(try$error, "ableturn_error")
    core("try_form")("bin", b, "age", list(at = "30", as = text, label = text, labels = text))
  }
  expect_equal(list.files(room), character())
  twice <- core("try_form")("flag", b, NULL, list(condition = "!!(wait_min > 30)", as = "f"))
  expect_equal(twice$book$f, flag$f)
})

test_that("the answers offered are those that fit what is chosen", {
  b <- open_demo()
  offered <- function(...) {
    forms <- core("fitting_forms")(core("chosen_facts")(b, c(...)))
    vapply(forms, `[[`, "", "verb")
  }
  expect_true(all(c("reverse", "composite", "bin") %in% offered("st_1", "st_2")))
  expect_true("composite" %in% offered("sat_1", "st_1")) # one of them is kept as texts
  expect_false("composite" %in% offered("income"))
  expect_false(any(c("reverse", "bin", "standardize") %in% offered("island")))
  expect_true("dummy" %in% offered("island"))
  expect_false("dummy" %in% offered("income"))
  expect_true(all(c("flag", "compute") %in% offered("person")))
})
