# Renaming derived variables: the columns stay what they are, and everything that speaks of them
# follows.
grown <- quietly(open_demo() |>
  turn_composite(st_1:st_6, reversed = c(st_2, st_5), as = "strain", valid_count = TRUE,
    at_least = 4) |>
  turn_standardize(strain) |>
  turn_flag(strain > median(strain, within = island), as = "high") |>
  turn_recode(as = "k", becomes(1, strain = from(3), high = 1), the_rest(0)) |>
  turn_dummy(island) |>
  turn_instrument(demo_file("ease-aboard.instrument.yaml")) |>
  turn_norm(ease, table = demo_file("ease-norms.csv"), within = age, as = "scaled",
    accept = "key-unmatched") |>
  define(strain, label = "Strain") |> must_hold(strain >= 1) |>
  turn_compute(strain_n + island_sallow, as = "q") |> turn_change(strain, unit = household_id,
    order = person))
new <- c(strain = "stress", strain_n = "n_ok", island_sallow = "sallow", ease = "calm")
renamed <- quietly(rename_turn(grown, stress = strain, n_ok = strain_n, sallow = island_sallow,
  calm = ease))
as_renamed <- function(x) {
  names(x) <- ifelse(names(x) %in% names(new), new[names(x)], names(x))
  x
}

test_that("a variable may be called as an argument is", {
  book <- quietly(turn_compute(data.frame(x = 1:3), x + 1, as = "y"))
  expect_equal(names(quietly(rename_turn(book, book = y))), c("x", "book"))
  expect_equal(quietly(book |> rename_turn(book = y))$book, 2:4)
  expect_equal(names(quietly(rename_turn(book = book, z = y))), c("x", "z"))
  refused(rename_turn(book, y), "rename-turn-form")
})

test_that("columns, order, findings and checks are as before, under the new names", {
  expect_equal(as.data.frame(renamed), as_renamed(as.data.frame(grown)))
  expect_equal(findings(renamed)$id, findings(grown)$id)
  expect_equal(checks(renamed)$condition, "stress >= 1")
  expect_equal(codebook(renamed)$label[names(renamed) == "stress"], "Strain")
  expect_false(any(grepl("\\bstrain\\b|island_sallow|strain_n", turns(renamed)$from)))
})

test_that("sheet, scripts, undo and later changes hold the new names", {
  sheet <- tempfile(fileext = ".yaml")
  save_turns(renamed, sheet)
  again <- quietly(apply_turns(demo_file("ferry-survey.csv"), sheet,
    codebook = demo_file("ferry-survey.codebook.json")))
  expect_equal(as.data.frame(again), as.data.frame(renamed), ignore_attr = TRUE)
  refit <- quietly(apply_turns(demo_file("ferry-wave2.csv"), sheet, learned = "refit"))
  expect_true(all(new %in% names(refit)))
  proof <- prove(again)
  expect_true(attr(proof, "proved"))
  expect_true(all(new %in% proof$variable))
  expect_identical(as.data.frame(quietly(undo(renamed))), as.data.frame(grown))
  more <- quietly(amend(renamed, stress, at_least = 5))
  expect_setequal(names(more), names(renamed))
  expect_true(all(c("sallow",
    "island_northholm") %in% names(quietly(amend(renamed, sallow, all_levels = TRUE)))))
  swapped <- quietly(rename_turn(renamed, stress = n_ok, n_ok = stress))
  expect_equal(swapped$stress, renamed$n_ok)
  expect_equal(quietly(rename_turn(swapped, stress = n_ok, n_ok = stress))$stress, renamed$stress)
})

test_that("the receipt tells what follows, and what cannot be renamed is said", {
  told <- paste(receipts(rename_turn(grown, stress = strain)), collapse = "\n")
  expect_match(told,
    "strain is now stress\n  Followed by: strain_z, high, k, strain_change\n  and by 1 check")
  refused(rename_turn(grown, years = age), "rename-original")
  refused(rename_turn(grown, age = strain), "renamed-taken")
  refused(rename_turn(grown, strain), "rename-turn-form")
  refused(rename_turn(grown), "rename-turn-form")
  refused(rename_turn(grown, x = c(strain, k)), "rename-turn-form")
  refused(rename_turn(grown, x = strain, y = strain), "rename-twice")
  refused(rename_turn(grown, x = strain, x = k), "name-twice")
  refused(rename_turn(grown, x = nothing), "unknown-variable")
})
