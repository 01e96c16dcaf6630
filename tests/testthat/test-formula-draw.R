# Random draws depend on seed and row identifier alone.
test_that("draws follow the identifier, not the order of the rows, and look random", {
  n <- 4000
  rows <- data.frame(id = seq_len(n), name = paste0("p", seq_len(n)), x = 1)
  drawn <- function(data, by) {
    book <- if (by == "id") turnbook(data, id = id) else turnbook(data, id = name)
    quietly(book |> turn_compute(draw_uniform(seed = 7), as = "u") |>
      turn_compute(draw_normal(seed = 7) + 0 * x, as = "z") |>
      turn_compute(draw_uniform(seed = 8), as = "v"))
  }
  for (by in c("id", "name")) {
    book <- drawn(rows, by)
    turned <- drawn(rows[n:1, ], by)
    expect_identical(rev(turned$u), book$u)
    expect_equal(run_base_script(book, rows)[c("u", "z", "v")],
      as.data.frame(book)[c("u", "z", "v")], tolerance = 1e-12)
    expect_false(anyDuplicated(book$u) > 0)
    expect_gt(stats::ks.test(book$u, "punif")$p.value, 0.001)
    expect_gt(stats::ks.test(book$z, "pnorm")$p.value, 0.001)
    expect_lt(abs(cor(book$u, book$v)), 0.06)
    expect_lt(abs(cor(book$u[-1], book$u[-n])), 0.06)
  }
  refused(turn_compute(rows, draw_uniform(seed = 1), as = "u"), "draw-needs-id")
  refused(turn_compute(turnbook(transform(rows, id = id / 2), id = id), draw_uniform(seed = 1),
    as = "u"), "draw-id")
  refused(turn_compute(turnbook(rows, id = id), draw_uniform(), as = "u"), "option-needed")
  refused(turn_compute(turnbook(rows, id = id), draw_uniform(seed = 1.5), as = "u"), "draw-seed")
})
