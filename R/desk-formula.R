#' @include desk-condition.R
NULL

# Where a formula is typed, the words that it may hold, by what they are used for, each with an
# example, which goes into the formula when it is pressed.
formula_uses <- list(
  "Reckoning" = c("+" = "income + rent", "-" = "income - rent", "*" = "age * 12",
    "/" = "income / household", "^" = "income^2", "sqrt" = "sqrt(household)", "abs" = "abs(a - b)",
    "round" = "round(income, 1)", "floor" = "floor(x)", "ceiling" = "ceiling(x)",
    "trunc" = "trunc(x)", "sign" = "sign(x)", "%%" = "minutes %% 60", "%/%" = "minutes %/% 60",
    "log" = "log(income)", "log10" = "log10(income)", "log2" = "log2(income)",
    "log1p" = "log1p(count)", "exp" = "exp(x)"),
  "Comparing" = c("==" = "island == 1", "!=" = "island != 1", ">" = "age > 30", ">=" = "age >= 30",
    "<" = "age < 30", "<=" = "age <= 30", "%in%" = "island %in% c(1, 2)",
    "c" = "island %in% c(1, 2)",
    "&" = "age > 30 & age < 40", "|" = "age < 18 | age > 65", "!" = "!(age > 30)",
    "(" = "(a + b) / 2"),
  "Choosing, and what is missing" = c("if" = "if (hours > 0) income / hours else 0",
    "first_valid" = "first_valid(income, income_2)", "is.na" = "is.na(income)",
    "unanswered" = "unanswered(income, \"Refused\")"),
  "Over several variables of a row" = c("row_mean" = "row_mean(st_1, st_2, at_least = 2)",
    "row_sum" = "row_sum(st_1, st_2)", "row_valid" = "row_valid(st_1, st_2)",
    "row_min" = "row_min(st_1, st_2)", "row_max" = "row_max(st_1, st_2)",
    "row_median" = "row_median(st_1, st_2)", "row_sd" = "row_sd(st_1, st_2)"),
  "Over all rows" = c("mean" = "mean(income, within = island)", "median" = "median(income)",
    "sd" = "sd(income)", "min" = "min(income)", "max" = "max(income)", "sum" = "sum(income)",
    "quantile" = "quantile(income, 0.9)", "mad" = "mad(income)"),
  "Texts" = c("tolower" = "tolower(ticket)", "toupper" = "toupper(ticket)",
    "trimws" = "trimws(ticket)", "nchar" = "nchar(ticket)", "substr" = "substr(ticket, 1, 3)",
    "startsWith" = "startsWith(ticket, \"A\")", "endsWith" = "endsWith(ticket, \"s\")",
    "grepl" = "grepl(\"bus\", ticket)", "sub" = "sub(\"-\", \" \", ticket)",
    "gsub" = "gsub(\"-\", \"\", ticket)", "paste0" = "paste0(island, \"-\", ticket)"),
  "Dates" = c("as.Date" = "as.Date(\"2031-03-01\")",
    "years_between" = "years_between(birth_date, as.Date(\"2031-03-01\"))",
    "months_between" = "months_between(birth_date, as.Date(\"2031-03-01\"))",
    "hours_between" = "hours_between(begun, ended)", "year" = "year(birth_date)",
    "month" = "month(birth_date)", "day" = "day(birth_date)", "weekday" = "weekday(birth_date)",
    "hour" = "hour(begun)"),
  "Other occasions, and chance" = c("previous" = "previous(income, unit = person, order = wave)",
    "draw_uniform" = "draw_uniform(seed = 1)", "draw_normal" = "draw_normal(seed = 1)"),
  "Steps" = c("{" = "{ t <- income / household; log(t) }", "<-" = "t <- income / household")
)

# Steps are for scripts; a field of the page takes one formula.
uses_on_page <- setdiff(names(formula_uses), "Steps")

# `id`: of the field that an example goes into. The examples are about one's own variables.
formula_help_html <- function(id, state) {
  tags <- htmltools::tags
  named <- own_names(state)
  one <- function(word, example) {
    tags$tr(tags$td(tags$button(type = "button", class = "word code", `data-into` = id,
      `data-text` = example, `aria-label` = paste0(word, ": puts in ", example), example)),
    tags$td(formula_words[[word]]$help))
  }
  folded_html("What a formula may hold", tags$div(class = "formula-help",
    lapply(uses_on_page, function(use) {
      words <- vapply(formula_uses[[use]], own_example, "", names = named[[type_in_use(use)]],
        groups = named$groups)
      tags$details(tags$summary(use), tags$table(tags$tbody(unname(Map(one, names(words),
        words)))))
    })))
}

type_in_use <- function(use) switch(use, Texts = "text", Dates = "date", "number")

# A few variables of each type, and some that make groups: those that are chosen first.
own_names <- function(state, most = 4) {
  book <- state$book
  names <- intersect(c(unlist(state$chosen), utils::head(names(book), 200)), names(book))
  variables <- lapply(self_named(setdiff(names, info_of(book)$id)), variable_in, book = book)
  types <- vapply(variables, value_type, "")
  named <- lapply(self_named(c("number", "text", "date")), function(type) {
    utils::head(names(variables)[types == type], most)
  })
  level <- function(variable) variable$meaning$level %||% ""
  makes_groups <- function(v) value_type(v) == "text" || level(v) == "nominal"
  c(named, list(groups = names(Filter(makes_groups, variables))))
}

# An example with these variables in place of its own; as it is where they are too few.
own_example <- function(example, names, groups) {
  node <- parse_formula(example)
  of <- function(...) {
    unlist(lapply(as.list(node)[intersect(c(...), base::names(node))], all.vars), use.names = FALSE)
  }
  within <- of("within")
  mine <- setdiff(all.vars(node), c(within, of("unit", "order"))) # these two stay what they say
  if (length(mine) > length(names) || length(within) > length(groups)) return(example)
  new <- c(setNames(names[seq_along(mine)], mine), setNames(groups[seq_along(within)], within))
  if (!length(new)) return(example)
  formula_text(do.call(substitute, list(node, lapply(new, as.name))))
}
