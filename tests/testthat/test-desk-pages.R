# Every form of the desk in a real browser: for who cannot see it, narrow and dark; and what is
# typed wrongly.

# What stands open for each kind of turn, and something wrong to type into one of its fields.
pages <- list(
  recode = list("crossings", ".range .when", "4 .. 1", ".range .becomes", "1"),
  collapse = list("ticket", "#f-rarer_than", "often"), bin = list("age", "#f-at", "x"),
  reverse = list("ea_1", "#f-limits", "5 1"),
  composite = list(c("st_1", "st_3"), "#f-at_least", "9"),
  dummy = list("island", "#f-as", "age"), flag = list("age", "#f-condition", "system('x') > 1"),
  compute = list("age", "#f-formula", "agee + 1"),
  standardize = list("income", "#f-within", "nobody"),
  rescale = list("ea_1", "#f-to", "1"), tally = list(c("use_work", "use_care"), "#f-of", "9 .. 1"),
  key = list(c("qz_1", "qz_2"), "#f-wrong", "none"), norm = list("st_1", ".path", "no.csv"),
  crosswalk = list("occupation", ".path", "no.csv"), group = list("income", "#f-within", "nobody"),
  change = list("wait_min", "#f-unit", "nobody"), interact = list("wait_min", "#f-b", "nobody"),
  instrument = list("age", ".path", "no.yaml"), winsorize = list("wait_min", "#f-at", "1 99"),
  fill = list(c("tr_1", "tr_2"), "#f-at_least", "9"), split = list("ticket", "#f-as", "age"),
  component = list(c("st_1", "st_3"), "#f-at_least", "9"),
  consensus = list(c("qz_1", "qz_2"), "#f-at_least", "9"),
  must_hold = list("age", "#f-condition", "childs <= 3"),
  define = list("crossings", "#f-limits", "5 1")
)

test_that("every form is open to all, and what is wrong is told at its field and changes nothing", {
  skip_without_browser()
  expect_setequal(names(pages), vapply(core("all_desk_forms")(), `[[`, "", "verb"))
  on <- open_desk()
  say <- on$say
  expect_open_to_all(say, "start")
  for (verb in names(pages)) {
    page <- pages[[verb]]
    choose(say, page[[1]])
    answer_with(say, verb)
    for (place in seq(2, length(page), 2)) {
      say("type", at = page[[place]], text = page[[place + 1]])
    }
    say("key", key = "Enter")
    expect_match(say("text", at = "#pane-trial"), "Not yet", info = verb)
    expect_gt(nchar(paste(say("text", at = ".field-error"), collapse = "")), 20)
    expect_open_to_all(say, verb)
    keep(say)
    expect_equal(say("count", at = ".card"), 0, info = verb)
    say("key", key = "Escape")
  }
  expect_length(say("heard")$errors, 0)
})
