# A worked result by hand holds in memory, as base R and by sheet.
everywhere <- function(book, data, name, expected, info = name) {
  expect_equal(as.vector(book[[name]]), expected, info = info)
  expect_equal(as.vector(run_base_script(book, data)[[name]]), expected,
    info = paste("script:", info))
  sheet <- tempfile()
  save_turns(book, sheet)
  again <- quietly(apply_turns(data, sheet))
  expect_equal(as.data.frame(again), as.data.frame(book), info = paste("sheet:", info))
  second <- tempfile()
  save_turns(again, second)
  expect_identical(readLines(second), readLines(sheet))
}

# Few ages, one of them missing, and a weight of one.
age <- data.frame(age = c(18, 29, 30, 45, 59, 60, 93, NA), w = c(1, 1, 1, 1, 1, 1, 1, 1))
