#' @include desk-form.R desk-typed.R turn-bin.R turn-change.R turn-composite.R turn-dummy.R
#' @include turn-fill.R turn-norm.R turn-standardize.R turn-type.R formula-tables.R meaning-new.R
#' @include meaning-read.R
NULL

# The forms of the turns.

desk_form("recode", "Other codes, by rules", group = "codes",
  takes = "...",
  suits = function(is) is$n >= 1 && !is$dates,
  when = "You say for each answer, or for a range of answers, what it becomes.",
  fields = list(
    rules = desk_field("rules", "What each answer becomes", paste("Beside each value its new",
      "code; a range takes all values in it; the first rule that fits a row counts.")),
    loose = desk_field("flag", "Texts match whatever their case, accents and outer blanks",
      seldom = TRUE)
  ))

desk_form("collapse", "Fewer categories", group = "codes",
  takes = "...",
  suits = function(is) is$n >= 1 && is$few && !is$dates,
  when = "Some categories mean the same, or are too rare to be told apart.",
  fields = list(
    rules = desk_field("rules", "Categories that become one", paste("Write the same new name",
      "beside those that are merged; the others stay as they are.")),
    rarer_than = desk_field("number", "Merge what is rarer than this share",
      "0.05 stands for 5 percent of the valid answers."),
    most_frequent = desk_field("number", "Or keep so many of the most frequent", seldom = TRUE),
    other = desk_field("text", "What the merged rest is called", start = "Other")
  ))

desk_form("bin", "Ordered bands", group = "codes",
  suits = function(is) is$n >= 1 && is$number,
  when = "Ages, incomes or counts are to be compared in groups from low to high.",
  fields = list(
    at = desk_field("numbers", "Cut points", "30 60 makes three bands: below 30, 30 to 59, 60 up."),
    groups = desk_field("number", "Or how many bands"),
    by = desk_field("choice", "How these are found", choices = choice_words(band_ways,
      "as many rows in each", "equally wide", "by mean and standard deviation",
      "where the largest gaps are")),
    edge = desk_field("choice", "A value on a cut point", choices = choice_words(
      c("begins", "ends"), "begins the band above", "ends the band below"), seldom = TRUE),
    labels = desk_field("texts", "Labels of the bands", "One on each line, from the lowest up."),
    weight = desk_field("name", "Weight of the rows", seldom = TRUE)
  ))

desk_form("reverse", "Turned round", group = "codes",
  suits = function(is) is$n >= 1 && is$number,
  when = "An item is worded against the others: a high answer means little of what is measured.",
  fields = list(
    limits = desk_field("limits", "Lowest and highest possible answer",
      "As the questionnaire has them; left empty, those that are defined.")
  ))

desk_form("composite", "One score from several items", group = "scores",
  takes = "items", named = "score",
  suits = function(is) is$n >= 2 && is$number,
  when = "Several items measure the same thing and are scored together.",
  fields = list(
    how = desk_field("choice", "The score is", choices = choice_words(composite_ways,
      "the mean of the valid items", "their sum", "their median", "the lowest", "the highest",
      "their standard deviation")),
    at_least = desk_field("number", "How many valid items it needs", "Left empty, all of them."),
    reversed = desk_field("names", "Items to be turned round inside the score"),
    weights = desk_field("numbers", "Weights of the items, in their order", seldom = TRUE),
    prorate = desk_field("flag", "Scale a sum up where items are missing", seldom = TRUE),
    valid_count = desk_field("flag", "Keep the number of valid items beside it", seldom = TRUE)
  ))

desk_form("dummy", "0/1 columns for a regression", group = "models",
  suits = function(is) is$n >= 1 && is$few,
  when = "A regression needs categories as columns, compared with one of them.",
  fields = list(
    reference = desk_field("named", "The category that others are compared with",
      "Left empty, the first one."),
    coding = desk_field("choice", "What a column compares", choices = choice_words(codings,
      "each category with the reference", "each with the mean of all",
      "each with the one before", "each with the mean of those before", "trends over the order"),
    seldom = TRUE),
    all_levels = desk_field("flag", "A column for every category, the reference too"),
    missing = desk_field("choice", "A missing answer", choices = choice_words(
      c("carry", "plain", "level"), "stays missing, with its reason", "is made plain missing",
      "gets a column of its own"))
  ))

desk_form("flag", "Yes or no, by a condition", group = "conditions",
  suits = function(is) TRUE, takes = NULL,
  named = "flag",
  when = "Rows for which something holds are to be told from the others.",
  fields = list(
    condition = desk_field("condition", "It holds where", "wait_min > median(wait_min)"),
    each = desk_field("names", "For each of these, called `each` in the condition", seldom = TRUE)
  ))

desk_form("compute", "A formula", group = "numbers",
  suits = function(is) TRUE, takes = NULL, named = "result",
  when = "The result is worked out from the variables: a ratio, a logarithm, an index.",
  fields = list(
    formula = desk_field("formula", "The formula", "income / sqrt(household)"),
    each = desk_field("names", "For each of these, called `each` in the formula", seldom = TRUE)
  ))

desk_form("standardize", "Compared with others", group = "numbers",
  suits = function(is) is$n >= 1 && is$number,
  when = "What counts is where a value stands among all: z scores, ranks, T scores.",
  fields = list(
    how = desk_field("choice", "As", choices = vapply(standard_forms, `[[`, "", "words")),
    within = desk_field("names", "Among rows that are alike in"),
    weight = desk_field("name", "Weight of the rows", seldom = TRUE),
    reference = desk_field("moments", "Mean and standard deviation of published norms",
      "In place of those of these data: 50 10", seldom = TRUE),
    limits = desk_field("limits", "Limits of the scale, for percent of the maximum",
      seldom = TRUE),
    divisor = desk_field("choice", "The standard deviation divides by", choices = choice_words(
      c("n - 1", "n"), "rows less one", "rows"), seldom = TRUE)
  ))

desk_form("rescale", "Another scale", group = "numbers",
  suits = function(is) is$n >= 1 && is$number,
  when = "Answers are shifted (1-4 to 0-3) or stretched to other limits (1-7 to 0-100).",
  fields = list(
    shift = desk_field("number", "Added to each value"),
    limits = desk_field("limits", "Or stretched from these limits",
      "Left empty, those that are defined."),
    to = desk_field("limits", "to these", "0 to 100")
  ))

desk_form("winsorize", "Far values held to the ends", group = "numbers",
  suits = function(is) is$n >= 1 && is$number,
  when = "A few very high or low values would decide a mean or a regression.",
  fields = list(
    at = desk_field("numbers", "Shares of the rows below the ends",
      "0.01 0.99 moves one percent at each end."),
    limits = desk_field("limits", "Or the ends themselves", "0 5000"),
    outside = desk_field("choice", "Values beyond", choices = choice_words(c("end", "missing"),
      "are held to the ends", "become missing")),
    within = desk_field("names", "Ends of their own for groups of", seldom = TRUE)
  ))

desk_form("fill", "Missing items filled", group = "scores",
  takes = "items",
  suits = function(is) is$n >= 2 && is$number,
  when = "A few items of a scale are missing, and the others of the row say much about them.",
  fields = list(
    at_least = desk_field("number", "How many valid items a row must have"),
    how = desk_field("choice", "By", choices = choice_words(fill_ways, "the row and the item",
      "the mean of the row", "the mean of the item", "the median of the item")),
    round = desk_field("flag", "Take the nearest code"),
    filled = desk_field("text", "Name of a variable that counts the filled items", seldom = TRUE)
  ))

desk_form("component", "An index by the first component", group = "scores",
  takes = "items", named = "index",
  suits = function(is) is$n >= 2 && is$number,
  when = "Many things that go together, such as what a household owns, become one index.",
  fields = list(
    positive = desk_field("name", "The item that is to count upwards"),
    at_least = desk_field("number", "How many valid items it needs", "Left empty, all of them."),
    of = desk_field("choice", "Items count", choices = choice_words(c("correlation", "covariance"),
      "alike, whatever their spread", "by their spread"), seldom = TRUE),
    loadings = desk_field("table", "Published loadings", seldom = TRUE)
  ))

desk_form("split", "Several answers in one text", group = "codes",
  suits = function(is) is$n >= 1 && is$text,
  when = "One text holds several ticked answers, such as work;shop.",
  fields = list(
    by = desk_field("separator", "What stands between two answers", start = ";",
      help = "A blank, a tab or a new line is written: blank, tab or line."),
    loose = desk_field("flag", "Answers are the same whatever their case and accents",
      seldom = TRUE)
  ))

desk_form("consensus", "One code from several coders", group = "scores",
  takes = "coders", named = "agreed",
  suits = function(is) is$n >= 2 && !is$dates,
  when = "Several people have coded the same answers.",
  fields = list(
    at_least = desk_field("number", "How many codes a row needs", start = "2"),
    ties = desk_field("choice", "Two codes given as often", choices = choice_words(
      c("missing", "first"), "make the row missing", "the code of the earlier coder counts"))
  ))

desk_form("tally", "How many items hold a value", group = "scores",
  takes = "items", named = "count",
  suits = function(is) is$n >= 2,
  when = "Several boxes could be ticked, and the ticks are counted row by row.",
  fields = list(of = desk_field("values", "Values that are counted", "1, 2 or a range: 4 .."),
    at_least = desk_field("number", "How many valid items it needs", "Left empty, one.",
      seldom = TRUE)))

desk_form("key", "Right or wrong, by a key", group = "scores",
  takes = "items", suits = function(is) is$n >= 1,
  when = "Answers of a test are compared with the right ones.",
  fields = list(
    key = desk_field("named", "The right answer of each item"),
    wrong = desk_field("value", "What another answer is worth",
      "A number, or: chance.", start = "0"),
    unanswered = desk_field("value", "A missing answer is",
      "missing, wrong, or worth a number.", start = "missing"),
    choices = desk_field("numbers", "How many answers the items offer",
      "Where chance counts and the codes are not labelled.", seldom = TRUE)
  ))

desk_form("norm", "Scores by a norm table", group = "scores",
  suits = function(is) is$n >= 1 && is$number,
  when = "A published table turns raw scores into scaled ones.",
  fields = list(
    table = desk_field("table", "The table"),
    within = desk_field("names", "Variables whose bands the table tells apart"),
    raw = desk_field("text", "Its column of raw scores", start = "raw", seldom = TRUE),
    scaled = desk_field("text", "Its column of scaled scores", start = "scaled",
      seldom = TRUE),
    how = desk_field("choice", "Where it has means and SDs, or L, M and S: as", choices =
      choice_words(names(norm_words), unname(norm_words)), seldom = TRUE),
    between = desk_field("choice", "Between two rows of numbers, such as ages", choices =
      choice_words(c("step", "linear"), "the row below counts", "interpolated"), seldom = TRUE)
  ))

desk_form("crosswalk", "Looked up in a table", group = "codes",
  suits = function(is) is$n >= 1,
  when = "A table gives each code another value: a status for an occupation.",
  fields = list(
    table = desk_field("table", "The table"),
    from = desk_field("text", "Its column of codes", seldom = TRUE),
    to = desk_field("text", "Its column of values", seldom = TRUE),
    loose = desk_field("flag", "Texts match whatever their case, accents and outer blanks",
      seldom = TRUE)
  ))

desk_form("group", "A figure of the group", group = "numbers",
  suits = function(is) is$n >= 1 && (is$number || is$all_dates),
  when = "Each row is to have a figure of its household, class or region.",
  fields = list(
    within = desk_field("names", "Rows belong together by"),
    weight = desk_field("name", "Weight of each row", seldom = TRUE),
    leave_out = desk_field("flag", "Of the others: without the row itself", seldom = TRUE),
    how = desk_field("choice", "The figure", choices = choice_words(group_ways, "mean", "sum",
      "lowest", "highest", "median", "standard deviation", "rows of the group",
      "rows with a valid answer"))
  ))

desk_form("change", "Change since another occasion", group = "numbers",
  suits = function(is) is$n >= 1 && (is$number || is$all_dates),
  takes = function(typed) if (is_untyped(typed$unit)) "occasions" else "vars",
  when = "The same people were asked several times.",
  fields = list(
    unit = desk_field("name", "Whose occasions belong together",
      "Left empty where the chosen variables are the occasions, in their order."),
    order = desk_field("name", "What puts them in order"),
    how = desk_field("choice", "The change is", choices = choice_words(change_ways,
      "the difference", "the ratio", "the difference in percent", "none: the value there",
      "told whether it is beyond chance")),
    from = desk_field("formula", "Compared with",
      "previous, first, last, or where something holds: wave == 1"),
    skip_missing = desk_field("flag", "Pass over occasions without an answer", seldom = TRUE),
    reliability = desk_field("number", "Reliability of the score, for changes beyond chance",
      seldom = TRUE),
    sd = desk_field("number", "Its standard deviation", "Left empty, that of these data.",
      seldom = TRUE),
    better = desk_field("choice", "What is better", choices = choice_words(c("high", "low"),
      "high values", "low values"), seldom = TRUE),
    cutoff = desk_field("number", "Cut-off between ill and well", seldom = TRUE)
  ))

desk_form("interact", "Products for an interaction", group = "models",
  takes = "a",
  suits = function(is) is$n >= 1 && is$number,
  when = "A regression asks whether the effect of one depends on another.",
  fields = list(
    b = desk_field("names", "Times each of these"),
    centre = desk_field("flag", "Take the mean off first")
  ))

desk_form("instrument", "A whole questionnaire", group = "scores",
  suits = function(is) TRUE, takes = NULL,
  when = "An instrument file says how all its scales are scored.",
  fields = list(file = desk_field("table", "The instrument file")))

# No turn, but a step like one.
desk_form("must_hold", "A rule that must hold", group = "conditions",
  suits = function(is) TRUE, takes = NULL,
  when = "Something can never be otherwise; rows that break it are told, on new data as well.",
  fields = list(condition = desk_field("condition", "What must hold", "children <= household"),
    label = desk_field("text", "What it says")))
