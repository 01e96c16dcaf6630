# The worked cases that ship with the package: each in memory, as base R, as calls, and by sheet.
skip_on_cran() # long; make test runs it

read_cases <- function(path) {
  keep <- list(seq = identity, "bool#yes" = identity, "bool#no" = identity)
  yaml::read_yaml(path, handlers = keep)
}

# Values as a list, or arithmetic in quotes.
worth <- function(x) {
  if (!is.list(x)) return(eval(parse(text = x), new.env(parent = globalenv())))
  unlist(lapply(x, function(v) if (is.null(v)) NA else v))
}

do_case <- function(case, survey) {
  start <- if (is.null(case$id)) "turnbook(survey)" else paste0("turnbook(survey, id = ",
    case$id, ")")
  quietly(eval(parse(text = paste(c(start, unlist(case$do)), collapse = " |>\n  ")),
    list2env(list(survey = survey))))
}

by_calls <- function(book, survey) {
  room <- list2env(list(survey = survey), parent = globalenv())
  quietly(eval(parse(text = core("script_lines")(book, "ableturn")[-1]), room))
  room$survey
}

by_sheet <- function(book, survey) {
  path <- tempfile(fileext = ".yaml")
  save_turns(book, path)
  again <- quietly(apply_turns(survey, path))
  second <- tempfile(fileext = ".yaml")
  save_turns(again, second)
  expect_identical(readLines(second), readLines(path))
  as.data.frame(again)
}

run_case <- function(case) {
  survey <- as.data.frame(lapply(case$data, worth), optional = TRUE)
  if (!is.null(case$refused)) {
    refused(do_case(case, survey), case$refused)
    return("refused")
  }
  book <- do_case(case, survey)
  ways <- list(memory = as.data.frame(book), script = run_base_script(book, survey),
    calls = by_calls(book, survey), sheet = by_sheet(book, survey))
  for (name in names(case$gives)) {
    expected <- worth(case$gives[[name]])
    for (way in names(ways)) {
      given <- as.vector(ways[[way]][[name]])
      if (all(is.na(expected))) storage.mode(expected) <- storage.mode(given)
      expect_equal(given, expected, tolerance = 1e-12,
        ignore_attr = TRUE, info = paste0(case$case, ": ", name, " by ", way))
    }
  }
  # out of the range of one engine
  numbers <- unlist(Filter(is.double, lapply(survey, unclass)))
  extreme <- any(abs(c(0, numbers)) > 1e150, na.rm = TRUE)
  same_on_engines(book, case$case, refused = extreme)
  for (name in names(case$why)) {
    expect_equal(why(book, name), worth(case$why[[name]]), info = case$case)
  }
}

folder <- test_path("worked-cases")
for (file in list.files(folder, "[.]yaml$", full.names = TRUE)) {
  cases <- read_cases(file)
  test_that(paste("worked cases hold by every way:", basename(file), "with", length(cases)), {
    for (case in cases) {
      expect_true(all(c("case", "source", "data", "do") %in% names(case)))
      outcome <- tryCatch(run_case(case), error = identity)
      if (inherits(outcome, "error")) {
        testthat::fail(paste0(case$case, ": ", conditionMessage(outcome)))
      }
    }
  })
}

test_that("there are at least four worked cases for each turn and each statistic", {
  done <- unlist(lapply(list.files(folder, "[.]yaml$", full.names = TRUE), function(file) {
    lapply(read_cases(file), function(case) paste(unlist(case$do), collapse = "\n"))
  }))
  words <- c(paste0("turn_", core("turn_verbs")()), intersect(core("words_with")("learned"),
    core("allowed_words")()))
  cases <- vapply(words, function(word) sum(grepl(paste0("\\b", word, "\\("), done)), 1L)
  expect_equal(names(cases)[cases < 4], character())
})

test_that("every turn is proved on the demo survey, in both dialects", {
  book <- quietly(open_demo() |> define(age, missing = c("Not given" = 999)) |>
    turn_composite(st_1:st_6, reversed = c(st_2, st_5), as = "strain", at_least = 5) |>
    turn_dummy(c(island, ticket), missing = "level") |>
    turn_dummy(opinion, coding = "polynomial") |>
    turn_dummy(island, coding = "effect", reference = "Sallow") |>
    turn_dummy(island, coding = "helmert") |>
    turn_standardize(c(income, wait_min), within = c(island, gender_code), weight = weight) |>
    turn_standardize(strain, how = "sten") |> turn_standardize(strain, how = "stanine") |>
    turn_standardize(strain, how = "percentile", within = island, weight = weight) |>
    turn_standardize(strain, how = "normal") |> turn_standardize(strain, how = "robust") |>
    turn_crosswalk(occupation, table = demo_file("status-score.csv")) |>
    turn_group(income, within = household_id) |>
    turn_interact(island_eastray, wait_min) |>
    turn_instrument(demo_file("ease-aboard.instrument.yaml")) |>
    turn_norm(ease, table = demo_file("ease-norms.csv")) |> must_hold(children <= household) |>
    turn_compute(years_between(birth_date, interview_date), as = "age_now") |>
    turn_compute(draw_normal(seed = 3), as = "noise") |>
    turn_flag(interview_date >= "2031-04-01", as = "late") |>
    turn_compute(if (late == 1) interview_date + 30 else interview_date, as = "next_date") |>
    turn_compute(income / median(income, within = island), as = "relative") |>
    define(hours, asked_if = age < 70) |> turn_flag(hours > 40, as = "long_hours"))
  proof <- prove(book)
  expect_true(attr(proof, "proved"), info = paste(capture.output(print(proof)), collapse = "\n"))
})

test_that("turns of scales are proved on the demo survey, in both dialects", {
  book <- quietly(open_demo() |> define(age, missing = c("Not given" = 999)) |>
    turn_bin(age, as = "age3", at = c(30, 60)) |>
    turn_bin(income, groups = 4, weight = weight, edge = "ends") |>
    turn_bin(wait_min, groups = 3, by = "gaps") |>
    turn_bin(c(age, hours), groups = 4, by = "spread", as = "{name}_s") |>
    turn_rescale(ea_1:ea_7, shift = -1) |> turn_rescale(tr_1:tr_4, to = c(0, 100),
      as = "{name}_100") |>
    turn_key(qz_1:qz_5, key = demo_file("quiz-key.csv"), unanswered = "wrong") |>
    turn_tally(st_1:st_6, of = from(4), as = "high") |>
    turn_collapse(ticket, as = "ticket4", rarer_than = 0.05) |>
    turn_collapse(island, becomes("Outer islands", "Sallow", "Merrin", "Tarn Skerry")))
  proof <- prove(book)
  expect_true(attr(proof, "proved"), info = paste(capture.output(print(proof)), collapse = "\n"))
})
