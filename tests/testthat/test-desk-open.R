# The desk in a real browser: data of each kind opened from the page, tables and keys that come from
# files, what is kept for other data, help where one types, and pictures in which nothing is cut.

# Files of each kind, and a database with two tables; the desk is opened on one of them.
on_data <- function(desk) {
  paste("{", "set.seed(2)", "data <- data.frame(id = 1:40, age = 18:57,",
    "  ward = rep(c('a', 'b'), 20), raw = sample(0:9, 40, TRUE))",
    "for (i in 1:4) data[[paste0('q', i)]] <- sample(1:4, 40, TRUE)",
    "write.csv(data, 'survey.csv', row.names = FALSE)",
    "norms <- data.frame(age = rep(c('18-29', '30 to 49', '50+'), each = 10), raw = 0:9)",
    "norms$scaled <- norms$raw * 2 + match(norms$age, unique(norms$age)) * 100",
    "write.csv(norms, 'norms.csv', row.names = FALSE)",
    "writeLines(c('item,right', 'q1,1', 'q3,3', 'q2,2', 'q4,4'), 'key.csv')",
    "book <- turn_compute(turnbook(data, id = id), age * 2, as = 'twice')",
    "write_data(book, 'rooms.xlsx')", "write_package(book, 'pack')",
    "on <- DBI::dbConnect(RSQLite::SQLite(), 'all.sqlite')",
    "DBI::dbWriteTable(on, 'first', data)", "DBI::dbWriteTable(on, 'second', data[1:7, ])", desk,
    "}", sep = "\n")
}

open_from_page <- function(say, ..., done = TRUE) {
  say("click", at = "[data-do=open_dialog]")
  given <- list(...)
  for (field in names(given)) {
    at <- paste0("#f-", field)
    if (field == "at_hand") say("pick", at = at, value = given[[field]]) else
      say("type", at = at, text = given[[field]])
  }
  say("click", at = "#leave-form button.main")
  if (done) say("until", code = "!document.getElementById('dialog').open")
}

test_that("tables of a database, of a spreadsheet, and packages are opened from the page", {
  skip_without_browser()
  skip_if_not_installed("RSQLite")
  say <- open_desk(on_data("desk(turnbook(on, table = 'first', id = id), open = FALSE)"))$say
  rows <- function() {
    say("ask", code = "Array.from(document.querySelectorAll('#pane-now table tbody tr')).reduce(
      (n, row) => n + Number(row.cells[2].textContent), 0)")
  }
  open_from_page(say, at_hand = "second")
  choose(say, "raw")
  expect_equal(rows(), 7)
  open_from_page(say, data = "rooms.xlsx", table = "attic", done = FALSE)
  expect_match(say("text", at = "[data-field=table] .field-error"), "holds no attic")
  say("type", at = "#f-table", text = "data")
  say("click", at = "#leave-form button.main")
  say("until", code = "document.querySelector('.top h1').textContent.includes('rooms.xlsx')")
  choose(say, "twice")
  expect_equal(say("count", at = ".card"), 0)
  open_from_page(say, data = "pack")
  expect_equal(say("count", at = ".card"), 1)
  expect_match(say("text", at = ".card"), "twice")
  # the database is still there
  open_from_page(say, at_hand = "first")
  choose(say, "raw")
  expect_equal(rows(), 40)
  expect_length(say("heard")$errors, 0)
})

test_that("a large file is read beside the desk, which can be used meanwhile, and can be stopped", {
  skip_without_browser()
  say <- open_desk(on_data(paste("options(ableturn.bytes_at_once = 1000)",
    "desk(data[1:9, ], open = FALSE)", sep = "\n")))$say
  open_from_page(say, data = "nobody.csv", done = FALSE)
  expect_match(say("text", at = "[data-field=data] .field-error"), "no file")
  say("type", at = "#f-data", text = "rooms.xlsx")
  say("type", at = "#f-table", text = "attic")
  say("click", at = "#leave-form button.main")
  until_left(say)
  expect_match(say("text", at = "[data-field=table] .field-error"), "holds no attic")
  say("type", at = "#f-table", text = "data")
  say("click", at = "#leave-form button.main")
  say("click", at = "#left [data-do=stop_work]")
  expect_match(say("text", at = "#left"), "Nothing was opened")
  say("click", at = "#leave-form button.main")
  say("key", key = "Escape")
  choose(say, "age")
  answer_with(say, "standardize")
  say("until", code = "document.querySelector('#trouble [data-do=open_ready]') !== null")
  expect_match(say("text", at = "#pane-trial"), "age_z")
  say("click", at = "[data-do=open_ready]")
  say("until", code = "document.querySelector('.top h1').textContent.includes('rooms.xlsx')")
  choose(say, "twice")
  expect_match(say("text", at = "#now-title"), "twice")
  open_from_page(say, data = "survey.csv")
  say("until", code = "document.querySelector('.top h1').textContent.includes('survey.csv')")
  expect_length(say("heard")$errors, 0)
})

test_that("norms as they are printed, a key from a file, a template, and what parts answers", {
  skip_without_browser()
  on <- open_desk(on_data("desk('survey.csv', open = FALSE)"))
  say <- on$say
  choose(say, "raw")
  answer_with(say, "norm")
  say("type", at = "[data-field=table] .path", text = "norms.csv")
  say("click", at = "#f-within")
  say("write", text = "age,")
  say("type", at = "#f-as", text = "scaled")
  keep(say)
  choose(say, paste0("q", 1:4))
  answer_with(say, "key")
  say("file", at = "#key-file", path = file.path(on$room, "key.csv"))
  right <- "Array.from(document.querySelectorAll('[data-field=key] [data-name]')).map(l =>
    l.dataset.name + l.querySelector('input, select').value)"
  say("until", code = paste0("(", right, ").join() === 'q11,q22,q33,q44'"))
  say("type", at = "#f-as", text = "points")
  expect_match(say("text", at = "[data-field=as] .field-error"), "results to be named: 4")
  say("type", at = "#f-as", text = "{name}_right")
  keep(say)
  choose(say, "age")
  answer_with(say, "standardize")
  keep(say)
  say("click", at = ".card[data-place='3'] [data-do=keep_template]")
  open_from_page(say, data = "norms.csv")
  choose(say, "raw")
  say("click", at = "[data-do=template]")
  expect_match(say("text", at = "#pane-trial"), "raw_z")
  keep(say)
  expect_match(say("text", at = ".card"), "raw_z")
  choose(say, "age")
  answer_with(say, "split")
  say("type", at = "#f-by", text = " ")
  expect_match(say("text", at = "[data-field=by] .read-as"), "read as a blank")
  say("type", at = "#f-by", text = "blank")
  expect_match(say("text", at = "#pane-trial"), "age_30")
  say("click", at = "#form [data-do=leave]")
  # what was done before is offered, and is right
  open_from_page(say, data = "survey.csv")
  say("click", at = "[data-do=rescue][data-what=go_on]")
  say("click", at = "[data-way=data]")
  say("type", at = "#f-path", text = "out.csv")
  say("click", at = "#leave-form button.main")
  until_left(say)
  out <- utils::read.csv(file.path(on$room, "out.csv"))
  expect_equal(out$scaled, out$raw * 2 + findInterval(out$age, c(18, 30, 50)) * 100)
  right <- Map(`==`, out[paste0("q", 1:4)], 1:4)
  for (i in 1:4) expect_equal(out[[paste0("q", i, "_right")]], +right[[i]])
  expect_length(say("heard")$errors, 0)
})

test_that("an example of a formula is about one's own variables; each field has its help", {
  skip_without_browser()
  say <- open_desk(on_data("desk('survey.csv', open = FALSE)"))$say
  choose(say, "raw")
  answer_with(say, "compute")
  say("click", at = "summary:text-is('What a formula may hold')")
  say("click", at = "summary:text-is('Over all rows')")
  say("click", at = "button.word[aria-label^='mean:']")
  expect_match(say("ask", code = "document.getElementById('f-formula').value"), "^mean\\(raw")
  say("type", at = "#f-formula", text = "")
  say("click", at = "summary:text-is('Reckoning')")
  say("click", at = "button.word[aria-label^='sqrt:']")
  say("type", at = "#f-as", text = "root")
  expect_equal(say("ask", code = "document.getElementById('f-formula').value"), "sqrt(raw)")
  say("click", at = "[data-do=help][data-argument=formula]")
  expect_match(say("text", at = "#help-page"), "A formula.*The whole page")
  expect_open_to_all(say, "help")
  say("click", at = "#help-page .close-dialog")
  keep(say)
  expect_match(say("text", at = "#now-title"), "root")
  expect_length(say("heard")$errors, 0)
})

# The words of pictures that stand out of them, or over one another.
cut_words <- "Array.from(document.querySelectorAll('.picture svg, #pane-tab svg')).flatMap(svg => {
  const box = svg.getBoundingClientRect();
  const words = Array.from(svg.querySelectorAll('text')).filter(t => t.textContent.trim());
  const at = words.map(t => t.getBoundingClientRect());
  return words.filter((t, i) => at[i].left < box.left - 1 || at[i].right > box.right + 1 ||
    at[i].top < box.top - 1 || at[i].bottom > box.bottom + 1 ||
    at.some((o, j) => j < i && Math.min(o.right, at[i].right) - Math.max(o.left, at[i].left) > 2 &&
      Math.min(o.bottom, at[i].bottom) - Math.max(o.top, at[i].top) > 3)).map(t => t.textContent);
})"

test_each("no word of a picture is cut off or covered", list(
  demo = list("desk(open = FALSE)", c("ticket", "crossings", "birth_date", "weight")),
  esoph = list("desk(datasets::esoph, open = FALSE)", c("agegp", "ncontrols")),
  odd = list(paste("desk(data.frame(tiny = c(1:9) * 1e-9, huge = 10^(1:9), logs = log(1:9),",
    "long = paste(strrep('A very long answer ', 6), c(1, 2, 3))), open = FALSE)"),
    c("tiny", "huge", "logs", "long"))
), function(case, name) {
  skip_without_browser()
  say <- open_desk(case[[1]])$say
  for (width in c(1000, 400)) {
    say("size", width = width, height = 800)
    for (variable in case[[2]]) {
      choose(say, variable)
      say("until", code = "document.querySelector('.picture svg') !== null")
      expect_equal(unlist(say("ask", code = cut_words)), NULL, info = paste(variable, width))
    }
  }
})

test_that("nor one of a picture of what would come of it, or of the lineage", {
  skip_without_browser()
  say <- open_desk("desk(open = FALSE)")$say
  filled <- list(standardize = c("income", "f-as", "z"), bin = c("wait_min", "f-groups", "8"),
    reverse = c("st_2", "f-limits", "1 5"), compute = c("birth_date", "f-formula",
      "years_between(birth_date, interview_date)"),
    flag = c("interview_date", "f-condition", "interview_date > \"2031-03-20\""))
  for (verb in names(filled)) {
    choose(say, filled[[verb]][1])
    answer_with(say, verb)
    say("type", at = paste0("#", filled[[verb]][2]), text = filled[[verb]][3])
    say("type", at = "#f-as", text = paste0("made_by_", verb))
    for (width in c(400, 1280)) {
      say("size", width = width, height = 800)
      say("until", code = "document.querySelector('#pane-trial .picture svg') !== null")
      expect_equal(unlist(say("ask", code = cut_words)), NULL, info = paste(verb, width))
    }
    keep(say)
  }
  choose(say, "crossings")
  define_crossings(say)
  begin_rules(say)
  for (width in c(400, 1280)) {
    say("size", width = width, height = 800)
    say("until", code = "document.querySelector('#pane-trial .picture svg') !== null")
    expect_equal(unlist(say("ask", code = cut_words)), NULL, info = paste("recode", width))
  }
  say("key", key = "Escape")
  say("click", at = "#tab-lineage")
  say("until", code = "document.querySelector('#pane-tab svg') !== null")
  expect_equal(unlist(say("ask", code = cut_words)), NULL)
})
