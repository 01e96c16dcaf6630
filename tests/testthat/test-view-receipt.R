# The receipt is what an analyst reads: the whole of it for each kind of turn, and for each step
# that is none.
steps <- list(
  component = quote(turn_component(book, st_1:st_6, as = "index", positive = st_1, at_least = 5)),
  consensus = quote(turn_consensus(book, c(qz_1, qz_2, qz_3), as = "code")),
  fill = quote(turn_fill(book, tr_1:tr_4, at_least = 3, round = TRUE, filled = "n")),
  split = quote(turn_split(book, ticket, by = " ")),
  winsorize = quote(turn_winsorize(book, wait_min, within = island)),
  reliable = quote(turn_change(book, occasions = c(tr_1, tr_2), how = "reliable",
    reliability = 0.9, better = "high", cutoff = 4)),
  recode = quote(turn_recode(book, crossings, as = "rider3", label = "Kind of rider", loose = TRUE,
    becomes(0, 0, label = "Non-rider"), becomes(1, from(1, upto = 4), label = "Occasional"),
    becomes(2, from(5, upto = 20), label = "Regular"))),
  reverse = quote(turn_reverse(book, c(st_2, st_5))),
  rescale = quote(turn_rescale(book, tr_1:tr_4, to = c(0, 100))),
  composite = quote(turn_composite(book, st_1:st_6, as = "strain", reversed = c(st_2, st_5),
    at_least = 5)),
  unreversed = quote(turn_composite(book, st_1:st_6, as = "strain", how = "sum", at_least = 4)),
  bin = quote(turn_bin(book, wait_min, as = "wait3", at = c(10, 30))),
  bands = quote(turn_bin(book, income, as = "income4", groups = 4)),
  collapse = quote(turn_collapse(book, ticket, as = "ticket4", rarer_than = 0.05)),
  compute = quote(turn_compute(book, log(wait_min), as = "wait_log")),
  flag = quote(turn_flag(book, wait_min > median(wait_min), as = "long_wait")),
  standardize = quote(turn_standardize(book, c(wait_min, hours), how = "t", within = island)),
  percentile = quote(turn_standardize(book, income, how = "percentile")),
  dummy = quote(turn_dummy(book, island, reference = "Northholm")),
  contrasts = quote(turn_dummy(book, opinion, coding = "polynomial")),
  crosswalk = quote(turn_crosswalk(book, occupation, table = demo_file("status-score.csv"))),
  norm = quote(turn_norm(book, sat_1, table = data.frame(raw = 1:4, scaled = c(30, 40, 50, 60)))),
  key = quote(turn_key(book, qz_1:qz_5, key = demo_file("quiz-key.csv"), unanswered = "wrong")),
  tally = quote(turn_tally(book, use_work:use_shop, of = 1, as = "uses")),
  group = quote(turn_group(book, income, within = household_id)),
  change = quote(turn_change(data.frame(p = c(1, 1, 2, 3, 3), t = c(1, 2, 1, 1, 3),
    x = c(1, 4, 2, 5, 5)), x, unit = p, order = t)),
  interact = quote(turn_interact(book, wait_min, hours, centre = TRUE)),
  instrument = quote(turn_instrument(book, demo_file("ease-aboard.instrument.yaml"))),
  define = quote(define(book, age, missing = c("Not given" = 999))),
  must_hold = quote(must_hold(book, children < household))
)

for (step in names(steps)) {
  test_that(paste("the receipt of", step), {
    local_reproducible_output(width = 90)
    book <- open_demo()
    shown <- character()
    withCallingHandlers(eval(steps[[step]]), ableturn_receipt = function(receipt) {
      shown <<- c(shown, conditionMessage(receipt))
      tryInvokeRestart("muffleMessage")
    })
    expect_snapshot(cat(shown, sep = "\n"))
  })
}

test_that("there is a receipt of every kind of turn", {
  expect_equal(setdiff(core("turn_verbs")(), names(steps)), character())
})
