sheet_of <- function(...) temporary(c("able_turn: 1", ...), ".yaml")
data <- data.frame(a = c(1, 2, 10, NA), b = c("No", "Yes", "On", "010"), c = 4:1)

test_that("a sheet gives the same book, and a book always the same bytes", {
  book <- demo_work() |>
    define(strain, label = "Strain: \"crossing\"\n# not a remark", level = "ratio") |>
    turn_recode(gender, as = "g", loose = TRUE, becomes(1, "m", "man"),
      becomes(NA, "nb", label = "Other: {x}"), the_rest(2)) |>
    turn_composite(st_1:st_3, as = "w", weights = c(1, 0.1, 1e-7), reversed = st_2,
      valid_count = TRUE, note = "a 'note'") |> quietly()
  first <- tempfile()
  second <- tempfile()
  save_turns(book, first)
  again <- quietly(apply_turns(demo_file("ferry-survey.csv"), first))
  expect_equal(as.data.frame(again), as.data.frame(book))
  derived <- core("derived_names")(book)
  expect_equal(codebook(again)[codebook(again)$name %in% derived, ],
    codebook(book)[codebook(book)$name %in% derived, ])
  save_turns(again, second)
  expect_identical(readLines(second), readLines(first))
})

test_that("words, octal numbers and dates in a sheet stay what they look like", {
  sheet <- sheet_of(
    "define:", "  a:", "    codes: {No: 1, Yes: 2, On: 010}", "turns:",
    "  - recode: y", "    from: b", "    rules:", "      - {code: 010, when: No, label: Off}",
    "      - {code: 2, when: {text: [Yes, On]}, label: 2031-01-02}",
    "      - {code: 3, rest: true}", "  - recode: z", "    from: a",
    "    rules: [{code: 1, when: [1, \"2 .. < 10\"]}, {code: 2, when: {text: On}}]"
  )
  book <- quietly(apply_turns(data, sheet))
  expect_equal(book$y, c(10, 2, 2, 3))
  expect_equal(codebook(book)$codes[4], "2 = 2031-01-02; 10 = Off")
  expect_equal(book$z, c(1, 1, 2, NA))
})

test_that("turns are made in the order they need, whatever the order of the sheet", {
  sheet <- sheet_of("turns:", "  - compute: y", "    formula: \"x + 1\"", "  - compute: x",
    "    formula: \"c * 2\"")
  expect_equal(quietly(apply_turns(data, sheet))$y, c(9, 7, 5, 3))
})

refusals <- list(
  "sheet-version" = "able_turn: 7",
  "sheet-not-one" = "turns: []",
  "sheet-yaml" = c("able_turn: 1", "turns: ["),
  "sheet-yaml" = c("able_turn: 1", "able_turn: 1"),
  "sheet-at" = c("able_turn: 1", "turns: !expr system('ls')"),
  "sheet-at" = c("able_turn: 1", "turns: [!!js/function \"x\"]")
)
spots <- list(
  "line 3, able_turns: unknown key `able_turns` Did you mean `able_turn`" = c("turns: []",
    "able_turns: 2"),
  "line 4, turns\\[1\\].fro: unknown key" = c("turns:", "  - reverse: y", "    fro: a"),
  "line 3, turns\\[1\\].recod: `recod` is no turn" = c("turns:", "  - recod: y"),
  "line 6, turns\\[1\\].rules\\[2\\].whn" = c("turns:", "  - recode: y", "    from: a",
    "    rules: [{code: 1, when: 1},", "      {code: 2, whn: 3}]"),
  "line 6, turns\\[1\\].rules\\[1\\].when: The range" = c("turns:", "  - recode: y",
    "    from: a", "    rules:", "      - {code: 1, when: \"5 .. 2\"}"),
  "line 5, turns\\[2\\].compute: `y` is made twice" = c("turns:", "  - compute: y",
    "    formula: \"a\"", "  - compute: y", "    formula: \"a\""),
  "turns\\[1\\]: a cycle: y, z" = c("turns:", "  - compute: y", "    formula: \"z\"",
    "  - compute: z", "    formula: \"y\""),
  "turns\\[1\\]: a cycle: y" = c("turns:", "  - compute: y", "    formula: \"y + 1\""),
  "line 4, turns\\[1\\].formula: A formula cannot use `system`" = c("turns:", "  - compute: y",
    "    formula: \"system('touch never.txt')\""),
  "line 3, turns\\[1\\]: There is no variable `q`" = c("turns:", "  - reverse: y", "    from: q",
    "    limits: [1, 5]"),
  "line 3, turns\\[1\\]: `a` has values outside" = c("turns:", "  - reverse: y", "    from: a",
    "    limits: [1, 5]"),
  "line 3, turns\\[1\\]: The formula names `q`" = c("turns:", "  - compute: y",
    "    formula: \"q + 1\""),
  "line 5, turns\\[1\\].limits: it must be a list of numbers" = c("turns:", "  - reverse: y",
    "    from: a", "    limits: wide"),
  "line 4, define.a.level" = c("define:", "  a:", "    level: {x: 1}"),
  "line 3, define.a: `level`|line 3, define.a: " = c("define:", "  a:", "    level: metric"),
  "line 3, turns\\[1\\].reverse: `from` is missing" = c("turns:", "  - reverse: y")
)

test_that("a sheet that cannot be meant is refused by place and line, and runs nothing", {
  for (i in seq_along(refusals)) refused(apply_turns(data, temporary(refusals[[i]], ".yaml")),
    names(refusals)[i])
  for (words in names(spots)) {
    error <- refused(apply_turns(data, sheet_of(spots[[words]])), "sheet-at")
    expect_match(conditionMessage(error), words)
  }
  expect_false(file.exists("never.txt"))
  refused(apply_turns(data, sheet_of("turns: []"), learned = "new"), "bad-choice")
})

test_that("tags, anchors, aliases and merge keys are texts, however they are disguised", {
  promise("sheet_is_data")
  withr::local_dir(withr::local_tempdir())
  note <- function(lines) {
    sheet <- sheet_of("define:", lines, "turns:", "  - compute: y", "    formula: !(a == 2)")
    book <- quietly(apply_turns(data, sheet))
    expect_equal(book$y, c(1, 0, 1, NA))
    codebook(book)$note[1]
  }
  for (text in c("!expr file.create('PWNED')", "&a b", "*a", "<<", "!!js/function x")) {
    expect_equal(note(paste0("  a: {note: ", text, "}")), text)
    expect_equal(note(paste0("  a: {label: it's , note: ", text, " , unit: it's }")), text)
    expect_equal(note(c("  a:", paste0("    note: '", gsub("'", "''", text), "'"))), text)
  }
  expect_false(file.exists("PWNED"))
  # a book with such texts gives them back
  book <- quietly(turn_compute(define(data, a, note = "!x &y *z << \uf8ff"), a + 1, as = "k"))
  save_turns(book, "s.yaml")
  expect_equal(codebook(quietly(apply_turns(data, "s.yaml")))$note[1], "!x &y *z << \uf8ff")
})

endless_sheets <- list(
  "100,000 brackets" = paste0("turns: ", strrep("[", 1e5)),
  "brackets that are closed" = paste0("turns: ", strrep("[", 3000), strrep("]", 3000)),
  "brackets behind quotes" = paste0("turns: ", strrep("[\"]\",\n", 1e5)),
  "brackets as entries" = paste0("turns:\n", strrep("  - [\n", 1e5)),
  "names in a line" = paste0("turns: {", paste0("a", 1:20000, ": 1", collapse = ", "), "}"),
  "dashes" = paste0("turns:\n  ", strrep("- ", 1e5), "1"),
  "blanks" = paste0(vapply(1:900, function(i) paste0(strrep(" ", i), "a:"), ""), collapse = "\n"),
  "names within names" = paste0("turns: ", strrep("{a: ", 3000), "1", strrep("}", 3000)),
  "20 MB" = paste0("x: \"", strrep("a b ", 5e6), "\""),
  "letters of ours" = "note: \uf8a1",
  "letters of ours, written out" = "note: \"\\uF8A1\""
)
test_each("a sheet is refused at once that holds", endless_sheets, function(text, name) {
  promise("data_or_error")
  error <- tryCatch(apply_turns(data, sheet_of(text)), error = identity)
  expect_s3_class(error, "ableturn_error")
  refused(turn_instrument(data, sheet_of(text)), "instrument-yaml")
})

test_that("a large sheet is read in pieces, and gives the same; its errors are told by line", {
  defined <- sprintf("  v%d: {codes: {\"No [1,2)\": 1}, note: \"a: b\"}", 1:900)
  turns <- unlist(lapply(1:300, function(i) {
    c(paste0("  # ", i), paste0("  - recode: r", i), "    from: x", "    rules:",
      "    - {code: 1, when: [1, 2]}", "    -", "      code: 0", "      rest: true", "    note: |",
      "      - {not: a rule}", "", "      two: lines")
  }))
  lines <- c("define:", defined, "turns:", turns)
  whole <- core("read_yaml")(paste(lines, collapse = "\n"), core("yaml_handlers"))
  expect_gt(core("weight_of")(lines), core("light_weight"))
  expect_identical(core("read_pieces")(lines, core("yaml_handlers")), whole)
  expect_error(core("read_pieces")(c(lines, "define: 1"), core("yaml_handlers")), "Duplicate")
  at <- function(...) lines[core("line_in_pieces")(list(...), lines)]
  expect_equal(at("turns", 3), "  - recode: r3")
  expect_equal(at("turns", 3, "rules", 2), "    -")
  expect_match(at("define", "v7", "codes"), "v7")
})

test_that("quoted exclamation marks are no tags", {
  sheet <- sheet_of("turns:  # well done!", "  - compute: y",
    "    formula: \"if (a != 1) 1 else 0\"", "    note: 'all! !here'")
  expect_equal(quietly(apply_turns(data, sheet))$y, c(0, 1, 1, NA))
})

test_that("learned values are recorded, or refitted when asked", {
  sheet <- tempfile()
  save_turns(demo_work(), sheet)
  recorded <- quietly(apply_turns(demo_file("ferry-wave2.csv"), sheet))
  refit <- quietly(apply_turns(demo_file("ferry-wave2.csv"), sheet, learned = "refit"))
  wait <- recorded$wait_min
  expect_equal(recorded$long_wait, as.integer(wait > median(open_demo()$wait_min, na.rm = TRUE)))
  expect_equal(refit$long_wait, as.integer(wait > median(wait, na.rm = TRUE)))
})

test_that("a turnbook with a sheet keeps it up to date", {
  path <- tempfile()
  book <- quietly(turn_compute(turnbook(data, sheet = path), a + 1, as = "y"))
  expect_equal(quietly(apply_turns(data, path))$y, book$y)
  kept <- readLines(path)
  undone <- quietly(undo(book))
  expect_false(any(grepl("compute", readLines(path))))
  quietly(redo(undone))
  expect_identical(readLines(path), kept)
})

test_that("the shipped schema describes what the reader takes", {
  schema <- jsonlite::fromJSON(system.file("schema", "turn-sheet.schema.json",
    package = "ableturn"), simplifyVector = FALSE)
  expect_setequal(names(schema$properties), c("able_turn", "data", "seen", "define", "turns"))
  expect_setequal(names(schema$definitions$meaning$properties), names(core("meaning_keys")))
  kinds <- schema$properties$turns$items$oneOf
  expect_setequal(vapply(kinds, function(k) k$required[[1]], ""),
    c(core("turn_verbs")(), "must_hold"))
  for (kind in utils::head(kinds, -1)) {
    verb <- kind$required[[1]]
    keys <- core("keys_of")(verb)
    expect_setequal(names(kind$properties), c(verb, names(keys)))
    plain <- c(text = "string", word = "string", formula = "string", flag = "boolean",
      number = "number")
    for (key in names(keys)[keys %in% names(plain)]) {
      expect_equal(kind$properties[[key]]$type, plain[[keys[[key]]]], info = paste(verb, key))
    }
  }
})

test_that("a sheet that is there is never written over by opening data", {
  path <- temporary("able_turn: 1", ".yaml")
  refused(turnbook(data, sheet = path), "sheet-there")
  expect_equal(readLines(path), "able_turn: 1")
  refused(turnbook(data, sheet = file.path(tempdir(), "no", "such.yaml")), "no-folder")
})

# Each look at the clock finds three seconds gone.
slow_clock <- function(code) {
  home <- asNamespace("ableturn")
  real <- home$seconds_now
  set <- function(clock) {
    unlockBinding("seconds_now", home)
    assign("seconds_now", clock, home)
    lockBinding("seconds_now", home)
  }
  now <- 0
  set(function() now <<- now + 3)
  on.exit(set(real))
  code
}

progress_told <- function(code) {
  told <- character()
  withCallingHandlers(slow_clock(code), ableturn_progress = function(c) {
    told <<- c(told, conditionMessage(c))
    tryInvokeRestart("muffleMessage")
  }, ableturn_receipt = function(c) tryInvokeRestart("muffleMessage"))
  told
}

test_that("long work says how far it is, ever less often, and only where it is wanted", {
  old <- options(ableturn.progress = TRUE)
  on.exit(options(old))
  book <- open_demo()
  many <- quote(turn_reverse(book, st_1:st_6, limits = c(1, 5)))
  told <- progress_told(eval(many))
  expect_equal(told, c("  1 of 6 variables done, 3 s so far\n",
    "  2 of 6 variables done, 6 s so far\n", "  4 of 6 variables done, 12 s so far\n"))
  expect_match(progress_told(turn_standardize(book, st_1:st_6))[1], "0 of 6 variables done")
  sheet <- tempfile()
  done <- demo_work()
  quietly(save_turns(done, sheet))
  expect_match(progress_told(apply_turns(demo_file("ferry-survey.csv"), sheet)),
    "of 5 turns done", all = FALSE)
  expect_match(progress_told(amend(done, st_2_r, limits = c(0, 6))), "of 7 steps done", all = FALSE)
  expect_length(progress_told(quietly(eval(many))), 0)
  options(ableturn.progress = FALSE)
  expect_length(progress_told(eval(many)), 0)
})

test_that("columns may have other names in the data, and what cannot be made is told or skipped", {
  first <- data.frame(age = 21:40, income = 1:20 * 100, mood = rep(1:5, 4))
  book <- quietly(turnbook(first) |> define(mood, label = "Mood") |>
    turn_flag(age > 30, as = "old") |>
    turn_compute(log(income), as = "l") |> turn_standardize(l) |>
    turn_reverse(mood, limits = c(1, 5)) |>
    must_hold(income > 0))
  sheet <- tempfile()
  save_turns(book, sheet)
  other <- setNames(first, c("AGE_YRS", "income", "mood"))
  again <- quietly(apply_turns(other, sheet, rename = c(age = "AGE_YRS")))
  expect_equal(as.data.frame(again), as.data.frame(book))
  refused(apply_turns(first, sheet, rename = c(mood = "age")), "sheet-rename-taken")
  said <- refused(apply_turns(first["age"], sheet), "sheet-columns")
  expect_match(conditionMessage(said), "mood, income")
  told <- receipts(part <- apply_turns(first["age"], sheet, skip = TRUE))
  expect_equal(names(part), c("age", "old"))
  expect_match(gsub("\\s+", " ", paste(told, collapse = " ")),
    "lacking (mood, income): l, l_z, mood_r, income > 0", fixed = TRUE)
})

test_that("a field that no kind of turn knows is never dropped in silence", {
  book <- quietly(turn_bin(data, a, at = 2, as = "y"))
  odd <- unclass(inner_book(book))
  odd$log[[1]]$turn$rounding <- "up"
  refused(save_turns(structure(odd, class = "ableturn_book"), tempfile()), "field-unknown")
})

test_that("a sheet written by hand leaves out what its functions leave out, as the help has it", {
  by_hand <- list(standardize = "z", composite = "mean", change = "difference", group = "mean",
    bin = "count")
  data <- data.frame(a = 1:6, b = 6:1, g = c(1, 1, 2, 2, 3, 3), t = 1:2)
  more <- list(composite = "from: [a, b]", change = c("from: a", "unit: g", "order: t"),
    group = c("from: a", "within: g"), bin = c("from: a", "groups: 2"), standardize = "from: a")
  for (verb in names(by_hand)) {
    sheet <- sheet_of("turns:", paste0("  - ", verb, ": k"), paste0("    ", more[[verb]]))
    turn <- core("steps_of")(quietly(apply_turns(data, sheet)))[[1]]$turn
    expect_equal(if (verb == "bin") turn$by else turn$how, by_hand[[verb]])
  }
  book <- quietly(apply_turns(demo_file("ferry-survey.csv"), demo_file("by-hand.turns.yaml"),
    codebook = demo_file("ferry-survey.codebook.json")))
  expect_setequal(setdiff(turns(book)$turn, "must_hold"), c("recode", "bin", "reverse", "composite",
    "standardize", "dummy", "key", "crosswalk", "compute", "flag"))
  page <- core("sheet_help")()
  for (verb in core("turn_verbs")()) {
    expect_match(page, paste0("* `", verb, "`: "), fixed = TRUE)
  }
  expect_false(grepl("(NA)", page, fixed = TRUE))
})
