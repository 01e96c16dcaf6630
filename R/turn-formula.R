# Formulas that a turn is given: checked, and put in terms of what the evaluator and the scripts
# know.

# The formula, or one for each variable that `each` stands for.
formulas_of <- function(turn, world) {
  node <- parse_formula(turn$formula)
  if (is.null(turn$each)) return(list(node))
  if (!"each" %in% formula_vars(node)) fail("each-without-x", formula = turn$formula)
  check_formula(node, c(world$names, "each"), turn$formula)
  lapply(turn$each, function(name) replace_names(node, list(each = as.name(name))))
}

lower_formula <- function(node, turn, world, place) {
  text <- formula_text(node)
  check_formula(node, world$names, text)
  node <- ready_formula(node, world)
  if (is.character(node)) refuse_quoted_formula(node, world)
  type <- result_type(node, type_in(world))
  if (is.call(node) && call_head(node) == "if") node <- if_to_choose(node)
  if (type == "truth") node <- call("choose", node, 1L, 0L)
  worked_out <- formula_meaning(text, type)
  new_lowered(turn$makes[place], node, formula_label(finish_meaning(turn, worked_out, place),
    turn, place), carry = !identical(turn$missing, "plain")
  )
}

# A text is a text, unless it reads as a formula over the variables.
refuse_quoted_formula <- function(text, world) {
  read <- tryCatch(parse_formula(text), error = function(e) NULL)
  named <- if (is.call(read) || is.symbol(read)) formula_vars(read) else words_beside_signs(text)
  if (length(named) && all(named %in% world$names)) {
    fail("formula-quoted", formula = quote_text(text))
  }
}

# What stands beside a sign of arithmetic in a text that is no whole formula: "18 < age < 30".
words_beside_signs <- function(text) {
  words <- regmatches(text, gregexpr("[A-Za-z.][A-Za-z0-9._]*", text))[[1]]
  if (grepl("[<>=+*/&|]", text)) words
}

# A checked formula with labels, dates and draws put in terms of values.
ready_formula <- function(node, world) {
  node <- spell_out_statistics(node)
  check_kinds(node, world)
  node <- resolve_occasions(resolve_draws(node, world), world)
  type_of <- with_temporaries(node, type_in(world))
  node <- resolve_labels(node, world$meaning, world$is_text, type_of, world$names)
  node <- resolve_dates(node, type_of)
  check_dates(node, type_of)
}

is_whole_id <- function(id, world) {
  facts <- world$facts(id)
  is.numeric(world$column(id)) && world$is_whole(id) &&
    !any(abs(c(facts$low, facts$high)) >= 2^52, na.rm = TRUE)
}

# A draw is a function of its seed and the row identifier.
resolve_draws <- function(node, world) {
  id <- world$id
  words <- c(draw_uniform = "uniform_draw", draw_normal = "normal_draw")
  walk_formula(node, function(call) {
    if (!call_head(call) %in% names(words)) return(call)
    if (is.null(id)) fail("draw-needs-id")
    if (!is.character(world$column(id)) && !is_whole_id(id, world)) {
      fail("draw-id", name = id)
    }
    seed <- as.list(call)$seed
    if (!is_whole(check_number(seed, "seed"))) fail("draw-seed", seed = seed)
    call(words[[call_head(call)]], as.name(id), seed)
  })
}

check_kinds <- function(node, world) {
  walk_formula(node, function(call) {
    if (call_head(call) == "unanswered" && length(call) == 3) {
      check_kind(as.character(call[[2]]), call[[3]], world)
    }
    call
  })
}

formula_label <- function(meaning, turn, place) {
  if (!is.null(turn$each)) meaning$label <- fill_name(meaning$label, turn$each[place])
  meaning
}

formula_meaning <- function(text, type) {
  truth <- type == "truth"
  new_meaning(
    label = text, codes = if (truth) c("No" = 0L, "Yes" = 1L),
    level = if (type %in% c("number", "date")) "interval" else "nominal",
    high = if (truth) text
  )
}

# number, text, truth or date: the type of a variable.
type_in <- function(world) {
  function(name) {
    x <- world$column(name)
    if (inherits(x, "Date")) return("date") # also where none is known
    if (world$is_text(name)) "text" else if (is.logical(x)) "truth" else "number"
  }
}
