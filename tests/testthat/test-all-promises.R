# Every promise of SECURITY.md has a test, and the table there is made from the tests.

test_that("each promise is held by a test, and the page says which", {
  root <- c("../..", "../../00_pkg_src/ableturn")
  root <- root[file.exists(file.path(root, "tools", "promises.R"))][1]
  skip_if(is.na(root), "the sources are not here")
  run <- processx::run(file.path(R.home("bin"), "Rscript"), c("tools/promises.R", "check"),
    wd = root, error_on_status = FALSE)
  expect_equal(run$status, 0, info = run$stderr)
})

test_that("what the pages of the project link to is there, and the first session runs", {
  root <- c("../..", "../../00_pkg_src/ableturn")
  root <- root[file.exists(file.path(root, "docs", "ten-things.md"))][1]
  skip_if(is.na(root), "the sources are not here")
  pages <- c(file.path(root, c("README.md", "CONTRIBUTING.md", "SECURITY.md")),
    list.files(file.path(root, "docs"), "[.]md$", full.names = TRUE))
  for (page in pages) {
    text <- paste(readLines(page), collapse = "\n")
    links <- regmatches(text, gregexpr("(?<=\\]\\()[^)#]+", text, perl = TRUE))[[1]]
    links <- links[!grepl("^[a-z]+:", links)]
    lost <- links[!file.exists(file.path(dirname(page), links))]
    expect_equal(lost, character(), info = basename(page))
  }
  readme <- readLines(file.path(root, "README.md"))
  shots <- list.files(file.path(root, "docs", "screenshots"))
  expect_equal(Filter(function(shot) !any(grepl(shot, readme, fixed = TRUE)), shots), character())
  begin <- which(readme == "```r")[1]
  session <- readme[seq(begin + 1, which(readme == "```" & seq_along(readme) > begin)[1] - 1)]
  withr::local_dir(withr::local_tempdir())
  made <- new.env(parent = environment(turnbook))
  quietly(utils::capture.output(for (call in parse(text = session[!grepl("^library", session)])) {
    eval(call, made)
  }))
  expect_equal(sum(!is.na(made$book$strain)), 1196)
  expect_setequal(list.files(), c("ferry.turns.yaml", "derive.R"))
})
