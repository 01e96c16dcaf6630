# What a new user sets out to do, as guessed: for each task the call that comes to mind first,
# and the one after reading the message where that fails. The result is compared with base R.
# Use: R_LIBS=... Rscript bench/tasks.R [verbose]
suppressPackageStartupMessages(library(ableturn))
options(ableturn.quiet = TRUE, warn = -1)
verbose <- "verbose" %in% commandArgs(TRUE)
folder <- tempfile("tasks-")
dir.create(folder)
setwd(folder)
for (file in demo_file()) file.copy(demo_file(file), file)
d <- read.csv("ferry-survey.csv")
book <- turnbook("ferry-survey.csv", codebook = "ferry-survey.codebook.json", id = person)
hours <- replace(d$hours, d$hours %in% c(98, 99), NA)
kept <- function(x, min = -Inf, max = Inf) ifelse(x >= min & x <= max, x, NA)
same <- function(a, b) {
  plain <- function(x) if (is.logical(x)) as.numeric(x) else as.vector(x)
  isTRUE(all.equal(plain(a), plain(b), check.attributes = FALSE))
}
items <- d[paste0("st_", 1:6)]
turned <- transform(items, st_2 = 6 - st_2, st_5 = 6 - st_5)
strain <- ifelse(rowSums(!is.na(turned)) >= 3, rowMeans(turned, na.rm = TRUE), NA)
plain <- data.frame(id = 1:6, g = c("a", "b", "a", "b", NA, "a"), x = c(1, 2, 3, 4, 5, 199),
  w = c(1, 2, 1, 2, 1, 1), text = c(" Yes", "YES", "yes ", "n/a", "no", NA),
  q1 = c(1, 2, 5, NA, 3, 2), q2 = c(2, 2, 4, 1, NA, 2), q3 = c(5, 1, 1, 2, NA, 3))
long <- nlme::Orthodont
writeLines(c("id;w;dob", "1;0,5;28.02.1980", "2;1,5;01.03.1990"), "de.csv")

# task = list(what, first guess, second guess or NULL, the right result as a function of what comes)
tasks <- list()
task <- function(what, ..., right) {
  guesses <- as.list(substitute(list(...)))[-1]
  tasks[[length(tasks) + 1]] <<- list(what = what, guesses = guesses, right = substitute(right))
}

task("recode with ranges and missing codes",
  turn_recode(book, hours, as = "h", becomes(1, upto(20)), becomes(2, over(20))),
  right = sum(it$h %in% 1:2) == sum(!is.na(book$hours)))
task("recode text to fewer",
  turn_recode(d, ticket, as = "day", becomes(1, "Single", "Return"), the_rest(0)),
  right = same(it$day, ifelse(d$ticket == "", NA, as.numeric(d$ticket %in% c("Single", "Return")))))
task("reverse items", turn_reverse(book, c(st_2, st_5)), right = same(it$st_2_r, 6 - d$st_2))
task("scale mean with at least 3",
  turn_composite(book, st_1:st_6, reversed = c(st_2, st_5), at_least = 3, as = "s"),
  right = same(it$s, strain))
task("prorated sum",
  turn_composite(book, st_1:st_6, how = "sum", at_least = 4, prorate = TRUE, as = "s"),
  right = same(it$s, ifelse(rowSums(!is.na(items)) >= 4, rowMeans(items, na.rm = TRUE) * 6, NA)))
task("bands closed on the left", turn_bin(d, age, at = c(30, 45, 60), as = "b"),
  right = same(as.integer(it$b), findInterval(d$age, c(30, 45, 60)) + 1))
task("quartile bands", turn_bin(d, income, quantiles = 4, as = "b"),
  turn_bin(d, income, groups = 4, as = "b"),
  right = max(abs(table(it$b) / sum(!is.na(it$b)) - .25)) < .05)
task("bands at upper bounds", turn_bin(d, age, upto = c(30, 45), as = "b"),
  turn_bin(d, age, at = c(30, 45), edge = "ends", as = "b"),
  right = same(as.integer(it$b), as.integer(cut(d$age, c(-Inf, 30, 45, Inf)))))
task("collapse rare categories", turn_collapse(d, ticket, rarer_than = 0.05, as = "t"),
  right = length(unique(na.omit(it$t))) < length(unique(d$ticket)))
task("collapse named categories",
  turn_collapse(d, ticket, becomes("Other", "Single", "Return"), as = "t"),
  right = !any(c("Single", "Return") %in% it$t))
task("dummies with a reference", turn_dummy(book, island, reference = "Northholm"),
  right = sum(startsWith(names(it), "island_")) == 4)
task("z within groups", turn_standardize(d, income, within = island, as = "z"),
  right = same(it$z,
  ave(d$income, d$island, FUN = function(x) (x - mean(x, na.rm = TRUE)) / sd(x, na.rm = TRUE))))
task("T score", turn_standardize(d, income, how = "T", as = "t"),
  turn_standardize(d, income, how = "t", as = "t"),
  right = same(it$t, 50 + 10 * scale(d$income)))
task("percentile rank", turn_standardize(d, income, how = "percentile", as = "p"),
  right = all(range(it$p, na.rm = TRUE) >= 0))
task("log with zeros", turn_compute(d, log(wait_min + 1), as = "l"),
  right = same(it$l, log(d$wait_min + 1)))
task("ratio of two", turn_compute(d, children / household, as = "r"),
  right = same(it$r, d$children / d$household))
task("flag, missing kept", turn_flag(d, income > 2000, as = "f"),
  right = same(it$f, d$income > 2000))
task("flag, missing counts as no", turn_flag(d, income > 2000, as = "f", missing = 0),
  turn_flag(d, !is.na(income) & income > 2000, as = "f"),
  right = same(it$f, !is.na(d$income) & d$income > 2000))
task("one rule for several", turn_recode(d, st_1:st_6, becomes(0, 1, 2), becomes(1, 3:5)),
  turn_recode(d, st_1:st_6, becomes(0, 1, 2), becomes(1, 3, 4, 5)),
  right = same(it[[ncol(d) + 1]], d$st_1 > 2))
task("tidy text answers",
  turn_recode(plain, text, as = "y", becomes(1, "yes"), becomes(0, "no"), loose = TRUE),
  right = same(it$y, c(1, 1, 1, NA, 0, NA)))
task("dates to ages", turn_compute(book, years_between(birth_date, interview_date), as = "a"),
  right = abs(median(it$a, na.rm = TRUE) - 47) < 3)
task("day-first dates", turn_compute(turnbook("de.csv"), year(dob), as = "y"),
  right = same(it$y, c(1980, 1990)))
task("decimal commas", lm(w ~ id, turnbook("de.csv")), right = length(coef(it)) == 2)
task("wide waves: change", turn_compute(plain, q2 - q1, as = "c"),
  right = same(it$c, plain$q2 - plain$q1))
task("long waves: change", turn_change(long, distance, unit = Subject, order = age),
  right = sum(is.na(it[[ncol(long) + 1]])) == 27)
task("lookup table", turn_crosswalk(book, occupation, "status-score.csv"),
  right = ncol(it) == ncol(d) + 1)
task("answer key", turn_key(book, qz_1:qz_5, key = "quiz-key.csv"),
  right = all(na.omit(it$qz_1_k) %in% 0:1))
task("count of answers", turn_tally(d, st_1:st_6, of = 5, as = "n"),
  right = max(it$n, na.rm = TRUE) <= 6)
task("norm table",
  turn_norm(turn_composite(book, ea_1:ea_7, how = "sum", as = "raw"), raw,
  table = "ease-norms.csv", within = age),
  right = ncol(it) == ncol(d) + 2)
task("interaction, centred", turn_interact(d, age, children), right = ncol(it) > ncol(d))
task("group mean", turn_group(d, income, within = household_id),
  right = same(it$income_mean,
  ave(d$income, d$household_id, FUN = function(x) mean(x, na.rm = TRUE))))
task("group-mean centring", turn_standardize(d, income, how = "centred", within = island, as = "c"),
  right = same(it$c, d$income - ave(d$income, d$island, FUN = function(x) mean(x, na.rm = TRUE))))
task("contrasts", turn_dummy(book, island, coding = "helmert"), right = ncol(it) == ncol(d) + 4)
task("count of missing answers", turn_tally(d, st_1:st_6, of = unanswered(), as = "n"),
  right = same(it$n, rowSums(is.na(items))))
task("first of several", turn_compute(plain, coalesce(q1, q2), as = "f"),
  turn_compute(plain, first_valid(q1, q2), as = "f"),
  right = same(it$f, ifelse(is.na(plain$q1), plain$q2, plain$q1)))
task("if/else over two variables",
  turn_compute(plain, if (x > 3) 1 else if (q1 > 1) 2 else 3, as = "i"),
  right = same(it$i[c(1, 2, 4)], c(3, 2, 1)))
task("rename what was made", rename_turn(turn_flag(plain, x > 3, as = "f"), f, "big"),
  rename_turn(turn_flag(plain, x > 3, as = "f"), big = f),
  right = "big" %in% names(it))
task("undo", undo(turn_flag(plain, x > 3, as = "f")), right = !"f" %in% names(it))
task("amend a cut point", amend(turn_bin(d, age, at = c(30, 60), as = "b"), b, at = c(40, 60)),
  right = same(it$b == 1, d$age < 40))
task("compare two books",
  compare_books(turn_flag(plain, x > 3, as = "f"), turn_flag(plain, x > 4, as = "f")),
  right = nrow(it) == 1)
task("base R script that runs alone",
  source(write_script(turn_flag(turnbook("ferry-survey.csv"), age > 60, as = "f"), "s.R"),
  local = new.env())$value,
  right = TRUE)
task("SQL script",
  write_script(turn_flag(turnbook("ferry-survey.csv"), age > 60, as = "f"), "s.sql"),
  right = any(grepl("SELECT", readLines("s.sql"))))
task("replay with other names", {
  save_turns(turn_flag(book, age > 60, as = "f"), "f.yaml", overwrite = TRUE)
  apply_turns(setNames(d, sub("^age$", "AGE", names(d))), "f.yaml", rename = c(age = "AGE"))
}, right = same(it$f, d$age > 60))
task("report", report(turn_flag(book, age > 60, as = "f"), "r.html"),
  right = file.size("r.html") > 1e4)
task("methods paragraph", {
  report(turn_flag(book, age > 60, as = "f"), "r.md")
  readLines("r.md")
},
  right = any(grepl("Methods paragraph", it)))
task("codebook", write_codebook(book, "c.html"), right = file.exists("c.html"))
task("data package", write_package(turn_flag(book, age > 60, as = "f"), "p.zip"),
  right = file.exists("p.zip"))
task("spreadsheet out and in", {
  write_data(turn_flag(book, age > 60, as = "f"), "m.xlsx")
  turnbook("m.xlsx")
},
  right = same(it$f, book$age > 60))
task("Parquet out and in", {
  write_data(book, "m.parquet")
  turnbook("m.parquet")
},
  right = nrow(it) == 1200)
task("table in SQLite", {
  con <- DBI::dbConnect(RSQLite::SQLite(), "s.sqlite")
  DBI::dbWriteTable(con, "survey", d)
  turn_flag(turnbook(con, table = "survey"), age > 60, as = "f")
}, right = sum(it$f) == sum(d$age > 60))
task("command line", {
  save_turns(turn_flag(turnbook("ferry-survey.csv"), age > 60, as = "f"), "cl.yaml",
  overwrite = TRUE)
  system2(file.path(R.home("bin"), "Rscript"),
  c(system.file("exec", "ableturn", package = "ableturn"),
    "run", "cl.yaml", "--data", "ferry-survey.csv", "--out", "cl.csv"), stdout = TRUE,
    stderr = TRUE)
}, right = file.exists("cl.csv"))
task("a pipe of other verbs",
  subset(turn_flag(plain, x > 3, as = "f"), f == 1) |> merge(plain[1:2]), right = nrow(it) == 3)
task("labelled data", turnbook({
  l <- plain
  attr(l$q1, "label") <- "First"
  attr(l$q1, "labels") <- c(No = 1, Yes = 2)
  l
}), right = grepl("First", paste(format(codebook(it)), collapse = " ")))
task("weighted z", turn_standardize(book, income, weight = weight, as = "z"),
  right = abs(stats::weighted.mean(it$z, d$weight, na.rm = TRUE)) < .01)
task("300 variables by pattern",
  turn_recode(as.data.frame(matrix(1:3, 50, 300)), starts_with("V"), becomes(1, 1), the_rest(0)),
  right = ncol(it) == 600)
task("factors for lm()", lm(income ~ island, as.data.frame(book, values = "labels")),
  right = length(coef(it)) == 5)
task("plot before and after",
  ggplot2::ggsave("f.png", figure_before_after(turn_bin(d, age, at = 30, as = "b"), b), width = 4,
  height = 3), right = file.exists("f.png"))
task("check one person by hand", show_working(turn_flag(book, age > 60, as = "f"), f, row = 1002),
  show_working(turn_flag(book, age > 60, as = "f"), f, id = 1002),
  right = nrow(it) > 0)
task("cap at the 99th percentile",
  turn_compute(book, pmin(wait_min, quantile(wait_min, 0.99)), as = "c"),
  turn_compute(book, row_min(wait_min, quantile(wait_min, 0.99)), as = "c"),
  right = max(it$c, na.rm = TRUE) < max(d$wait_min, na.rm = TRUE))
task("which of three is highest",
  turn_compute(plain, if (q1 >= row_max(q2, q3)) 1 else 2, as = "h"), right = it$h[1] == 2)
task("weekday of the interview", turn_compute(book, weekday(interview_date), as = "w"),
  right = all(it$w %in% 1:7))
task("ticked answers", turn_flag(data.frame(t = c("1,3", "2", "10,3")), holding("1"), as = "f"),
  turn_recode(data.frame(t = c("1,3", "2", "10,3")), t, becomes(1, holding("1", whole = TRUE)),
  the_rest(0), as = "f"), right = same(it$f, c(1, 0, 0)))
task("impossible values to missing", define(plain, x, missing = c("Impossible" = 199)),
  right = is.na(it$x[6]))
task("cross old and new", cross(turn_bin(d, age, at = 30, as = "b"), age, b),
  right = sum(it$rows) == 1200)
task("standardise to a reference", turn_standardize(plain, q1, mean = 3, sd = 2, as = "z"),
  turn_standardize(plain, q1, reference = c(mean = 3, sd = 2), as = "z"),
  right = same(it$z, (plain$q1 - 3) / 2))
task("weighted composite", turn_composite(plain, c(q1, q2, q3), weights = c(2, 1, 1), as = "c"),
  right = same(it$c[1], (2 + 2 + 5) / 4))
task("alpha of a scale",
  item_analysis(turn_composite(book, st_1:st_6, reversed = c(st_2, st_5), as = "s"), s),
  right = attr(it, "scale")$alpha > .8)
task("labels to a factor", as.data.frame(book, values = "labels")$island,
  right = is.factor(it) && nlevels(it) == 5)

right_at <- vapply(tasks, function(one) {
  for (i in seq_along(one$guesses)) {
    it <- tryCatch(suppressMessages(eval(one$guesses[[i]], globalenv())), error = identity)
    if (inherits(it, "error")) {
      if (verbose) cat("  ", one$what, ": ", conditionMessage(it), "\n", sep = "")
    } else {
      it <- list(it = it)
      good <- tryCatch(isTRUE(eval(one$right, it, globalenv())), error = function(e) FALSE)
      if (good) return(i)
      if (verbose) cat("  ", one$what, ": another result\n", sep = "")
    }
  }
  0L
}, 1L)
for (what in vapply(tasks[right_at == 0], `[[`, "", "what")) cat("Not right:", what, "\n")
for (what in vapply(tasks[right_at == 2], `[[`, "", "what")) cat("After the message:", what, "\n")
cat(sprintf("%d tasks: %d right at the first guess, %d after the message, %d not\n", length(tasks),
  sum(right_at == 1), sum(right_at == 2), sum(right_at == 0)))
