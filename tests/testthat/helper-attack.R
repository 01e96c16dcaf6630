# What a stranger may put into names, labels, values, notes and files. Used small by the tests and
# large by `make attack` (bench/attack).
hostile <- c(
  "Income\nsystem('touch PWNED') #", "Income\r\nfile.create('PWNED') #", "a\rfile.create('PWNED')",
  "line\u2028file.create('PWNED')", "line\u2029x", "next\u0085x", "`); file.create('PWNED'); (`",
  "\"); file.create(\"PWNED\"); (\"",
  "'; file.create('PWNED'); '", "\\\"; file.create('PWNED') #", "${x} $(touch PWNED) `touch PWNED`",
  "-- ; DROP TABLE x; /*",
  "\u202eevil\u202c", "\u2066a\u2069b", "\033]0;owned\a\033[2J\033[31mred",
  "bell\a\b\177", "\u009b31m",
  "\u0080\u009f\u007f",
  "\ufeffmark", "=cmd|' /C calc'!A0", "+1+1", "@SUM(A1)", "-2+3", "</pre><script>alert(1)</script>",
  "<img src=x onerror=alert(1)>", "# heading", "[x](javascript:alert(1))", "| a | b |",
  "*b* _i_ ~~s~~",
  "http://x.invalid www.x.invalid",
  "!!python/object:os.system", "&a *a", "%s %n %d", "{name} {level} {x}", "yes", "010", "1e5", "~",
  "null", "NA",
  "TRUE", "..1", "...",
  "clean", "holds", "survey", "a: b", "- a", "? a", "a #b",
  "cp 'cp (cp #cp url(#cp) <clipPath id='cp",
  "\u00e9\u0301 \u0130\u0131 \u00df",
  "\u4e2d\u6587 \U0001f600", "\u0645\u200c\u0631", strrep("long ", 260), " outer ", "tab\tinside",
  "\\u0041 \\n",
  "$x^2$", "a\\"
)

# A book with the text in every place where a text can stand.
hostile_data <- function(text) {
  data <- data.frame(x = c(1, 2, 3, 9, NA, 2), g = c(text, "b", "b", text, NA, "c"),
    k = c(1, 1, 2, 2, 3, 3))
  names(data)[1] <- text
  data
}

hostile_book <- function(text, data = hostile_data(text)) {
  x <- names(data)[1]
  made <- function(ending) paste0(text, ending)
  one <- rlang::expr(all_of(!!x))
  quietly(turnbook(data) |>
    define(!!one, label = text, missing = setNames(9, made(" gone")), codes = setNames(1:2, c(text,
      made("2"))),
    note = text, unit = text, high = text) |>
    define(g, label = text, note = text) |>
    turn_recode(!!one, as = made(" r"), label = text, note = text,
      becomes(1, text, label = text), the_rest(0, label = made("0"))) |>
    turn_recode(g, as = made(" t"), becomes(made(" new"), text, label = NULL),
      the_rest(unchanged())) |>
    turn_bin(!!one, at = 2, as = made(" b"), labels = c(text, made(" more")), high = text) |>
    turn_compute(each * 2, each = !!one, as = made(" c"), label = made(" {name}")) |>
    turn_flag(unanswered(each, !!made(" gone")) | each > 1, each = !!one, as = made(" f")) |>
    turn_standardize(!!one, within = g, how = "centred", as = made(" z")) |>
    turn_collapse(g, becomes(made(" merged"), text, "c"), as = made(" m")) |>
    turn_crosswalk(g, table = data.frame(code = c(text, "b"), value = c(made(" v"), "w")),
      as = made(" x")) |>
    turn_group(!!one, within = g, as = made(" n")) |>
    turn_recode(g, as = made(" h"), becomes(1, holding(text), label = text), the_rest(0)) |>
    turn_recode(g, as = made(" l"), becomes(1, holding(text)), the_rest(0), loose = TRUE) |>
    turn_compute(k * 3, as = "later") |> rename_turn(!!made(" renamed") := later) |>
    turn_dummy(g, as = paste0(gsub("[{}]", "", text), "_{level}"),
      accept = c("name-clash" = text)) |>
    must_hold(k > 0, label = text))
}

# Signs that must not stand raw in what is shown or written for people.
steers <- function(lines, but = "\n\t") {
  signs <- setdiff(c(intToUtf8(c(1:31, 127:159, 0x2028:0x202e, 0x2066:0x2069), TRUE)),
    strsplit(but, "")[[1]])
  any(vapply(signs, function(s) any(grepl(s, lines, fixed = TRUE)), NA))
}

# The lines that a call prints.
shown_by <- function(code) capture.output(suppressMessages(code))

# A little more work on the first variable, for its receipts.
hostile_work <- function(book, name) {
  one <- rlang::expr(all_of(!!name))
  book |> define(!!one, label = paste(name, "again")) |>
    turn_standardize(!!one, as = "zz", high = name) |>
    amend(zz, label = name) |> undo()
}
