# Figures: right numbers, readable words, nothing cut off, whatever the data.
skip_on_cran() # long; make test runs it
skip_if_not_installed("ggplot2")
skip_if_not_installed("svglite")

work <- quietly(demo_work() |>
  turn_bin(wait_min, as = "wait3", at = c(10, 30)) |> turn_bin(age, as = "age5",
    at = c(25, 40, 55, 70)) |>
  turn_bin(income, as = "income8", groups = 8) |> turn_collapse(ticket, as = "ticket4",
    rarer_than = 0.05) |>
  turn_dummy(island, reference = "Northholm") |> turn_dummy(opinion, coding = "difference") |>
  turn_standardize(wait_min) |> turn_composite(tr_1:tr_4, as = "trust", at_least = 3) |>
  turn_crosswalk(occupation, table = demo_file("status-score.csv")))
odd <- local({
  set.seed(3)
  kinds <- c(paste("Kind", 1:27), "\u0395\u03bb\u03bb\u03b7\u03bd\u03b9\u03ba\u03ac",
    paste(rep("very long name", 6), collapse = " "))
  data <- data.frame(kind = sample(kinds, 900, TRUE), x = c(NA, round(exp(rnorm(899, 3)), 2)),
    few = rep(1:3, 300))
  quietly(turnbook(data) |> turn_collapse(kind, as = "kind9", most_frequent = 8) |>
    turn_dummy(kind) |>
    turn_bin(x, as = "x2", at = 20) |> turn_reverse(few, limits = c(1, 3)) |>
    turn_compute(log(x), as = "log_x"))
})

test_that("every variable can be drawn before and after its turn, readably", {
  for (name in sampled(core("derived_names")(work), every = 4)) {
    expect_readable(figure_before_after(work, tidyselect::all_of(name)))
  }
  for (name in c("kind9", "x2", "few_r", "log_x")) {
    expect_readable(figure_before_after(odd, tidyselect::all_of(name)))
  }
})

test_that("figures of other kinds are readable with few things and with many", {
  for (name in c("rider3", "wait3", "ticket4", "status")) {
    expect_readable(figure_flow(work, tidyselect::all_of(name)))
  }
  for (name in c("kind9", "x2", "few_r")) {
    expect_readable(figure_flow(odd, tidyselect::all_of(name)))
  }
  expect_readable(figure_coding(work, c(starts_with("island_"), starts_with("opinion_"))))
  drawn(figure_coding(odd, starts_with("kind_")))
  expect_readable(figure_items(work, st_1:st_6))
  expect_readable(figure_items(work, strain))
  expect_readable(figure_missing(work, trust))
  expect_readable(figure_missing(work, c(income, age, opinion)))
  expect_readable(figure_lineage(work))
  expect_readable(figure_lineage(odd))
  expect_readable(figure_lineage(work, strain))
})

test_that("figures tell the numbers of the data", {
  expect_true(all(c("Occasional\n563 (46.9 %)", "Regular\n308 (25.7 %)") %in%
    texts_in(figure_before_after(work, rider3))))
  expect_true("112 (9.3 %)" %in% texts_in(figure_before_after(work, ticket4)))
  expect_true(all(c("(Refused)  20", "1 Occasional  563") %in% texts_in(figure_flow(work, rider3))))
  bands <- ggplot2::ggplot_build(figure_flow(work, rider3))$data[[1]]
  expect_equal(length(unique(bands$group)), 5)
  expect_true(all(c("743", "1,174  in force") %in% texts_in(figure_missing(work, trust))))
  alpha <- figure_items(work, strain)$labels$subtitle
  expect_match(alpha, "Cronbach's alpha 0.88 over 1,064 complete rows")
  expect_match(figure_items(work, st_1:st_6)$labels$subtitle, "looks unreversed: st_2, st_5")
  coding <- ggplot2::ggplot_build(figure_coding(work, starts_with("island_")))$data[[2]]
  expect_equal(sum(coding$label == "1"), 4)
})

test_that("plot() draws what looking functions give", {
  file <- tempfile(fileext = ".pdf")
  grDevices::pdf(file)
  on.exit(grDevices::dev.off())
  looks <- list(look(work, island, wait_min, ticket), look(work, wait_min), look(work, island),
    cross(work, rider3),
    cross(work, c(island, ticket), rider3), item_analysis(work, st_1:st_6), lineage(work),
    findings(work), turns(work),
    collinearity(work, c(wait_min, hours, household)), show_working(work, strain, rows = c(3, 11)),
    compare_books(work, quietly(amend(work, strain, at_least = 3))))
  for (x in looks) expect_s3_class(plot(x), "ggplot")
})

test_that("what cannot be drawn is said", {
  refused(figure_before_after(work, age), "not-derived")
  refused(figure_flow(work, strain), "cross-one")
  refused(figure_coding(work, c(island_eastray, strain)), "not-dummies")
  refused(figure_lineage(open_demo()), "no-turns")
})
