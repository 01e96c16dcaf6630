# Every error, worded once: what is wrong and where, then what to do.
argument_words <- list(
  "as-count" = c("`as` gives {names} names for {variables} variables.", "Give one name for each, or a pattern such as \"{{name}}_new\"."),
  "as-needed" = c("{verb}() needs a name for its result.", "Add it: as = \"...\"."),
  "bad-as" = c("`as` must be the name of the result as text, not {got}.", "Write it in quotes: as = \"rider3\"."),
  "bad-choice" = c("`{argument}` is {value}, which is not one of: {allowed}.", "Choose one of these."),
  "not-a-text" = c("`{argument}` must be one text in quotes, not {got}.", "Write it as {argument} = \"...\"."),
  "not-yes-no" = c("`{argument}` must be TRUE or FALSE, not {got}.", "Write {argument} = TRUE."),
  "not-a-number" = c("`{argument}` must be {size} number(s), not {got}.", "Check what is given for {argument}."),
  "not-a-book" = c("This is neither a turnbook nor a data frame: {got}.", "Open your data first: book <- turnbook(\"survey.csv\")."),
  "not-data" = c("A turnbook opens a data frame or the path of a CSV file, not {got}.", "Write turnbook(\"survey.csv\")."),
  "not-a-codebook" = c("A codebook is the path of a codebook file, not {got}.", "Write codebook = \"survey.codebook.json\"."),
  "selection" = c("The selection in `{argument}` cannot be read: {why}", "Name variables, as in c(q1, q2), q1:q5 or starts_with(\"q\")."),
  "nothing-selected" = c("The selection in `{argument}` holds no variable.", "Check it with names(book)."),
  "named-dots" = c("{verb}() has no argument `{name}`.", "Conditions on variables go inside becomes(): becomes(1, {name} = 3)."),
  "unknown-variable" = c("There is no variable `{name}` in the data.{hint}", "names(book) lists all variables."),
  "weight-negative" = c("The weight `{name}` is negative in {rows} row(s).", "A weight is zero or more; recode it first."),
  "column-by-name" = c("A column is taken by its name in quotes, not by {got}.", "Write book[[\"age\"]] or book$age."),
  "cross-one" = c("`{name}` alone cannot be crossed: it is not made from exactly one variable.", "Name a second variable: cross(book, {name}, ...).")
)

meaning_words <- list(
  "backward-range" = c("The range \"{range}\" holds no value: it runs from {low} to {high}.", "Put the smaller end first, and let both ends belong to it if they are equal."),
  "bad-end" = c("The end of a range must be one number, not {got}.", "Write from(1, upto = 4)."),
  "two-ends" = c("A range has one upper end, but upto = {upto} and under = {under} are both given.", "Keep `upto` if that value belongs to the range, `under` if it does not."),
  "bad-matcher" = c("Values must be numbers, texts or ranges, not {got}.", "Write 3, c(1, 2), \"Daily\" or from(5)."),
  "matches-na" = c("NA cannot be named as a value.", "To catch missing answers write unanswered()."),
  "bad-limits" = c("`limits` must be two numbers, not {got}.", "Write limits = c(1, 5)."),
  "limits-order" = c("The limits run from {low} to {high}.", "Put the lower limit first."),
  "codes-unnamed" = c("`{argument}` needs a name for each value.", "Write {argument} = {example}."),
  "codes-twice" = c("The code {codes} is given more than one label.", "Give each code one label."),
  "kind-taken" = c("\"{kind}\" already names a reason for missing answers that is worked out, not declared.", "Choose another word for it."),
  "define-nothing" = c("define() is told nothing about {name}.", "Add what it means: label, codes, missing, level, limits, high, unit or note."),
  "missing-derived" = c("`{name}` is derived, so missing codes cannot be declared for it.", "Declare them for its source, or write a rule: becomes(NA, 97, label = \"Not applicable\")."),
  "assign-original" = c("`{name}` is an original and cannot be changed.", "Make a new variable from it with a turn, such as turn_recode() or turn_compute()."),
  "assign-derived" = c("A turnbook's columns cannot be assigned to (`{name}`).", "Make it with a turn, such as turn_compute(), so that it is on the record."),
  "column-odd" = c("These columns hold something other than numbers, text, dates or truth values: {name}.", "Take them out, or turn them into plain columns, before opening the data."),
  "column-twice" = c("More than one column is named {name}.", "Rename them in the data, so that each name stands once."),
  "column-unnamed" = c("Column number {place} has no name.", "Give every column a name in the header."),
  "id-one" = c("The row identifier must be one variable, not several: {name}.", "Name one, or make one that tells all rows apart."),
  "id-missing" = c("The identifier `{name}` is missing in {rows} row(s).", "An identifier needs a value in every row."),
  "id-twice" = c("The identifier `{name}` does not tell the rows apart: {values} stands in more than one.", "Name a variable whose values are all different, or leave `id` out.")
)

turn_words <- list(
  "no-rules" = c("There are no rules for `{name}`.", "Add some: becomes(1, from(1, upto = 4), label = \"...\")."),
  "rule-empty" = c("The rule for code {code} does not say what it is made from.", "Add values or a range, or write the_rest({code})."),
  "rule-mixed" = c("The rule for code {code} mixes plain values with conditions on named variables.", "Name them all: becomes({code}, q1 = 2, q2 = from(3))."),
  "rules-both" = c("The rules for `{name}` are partly about one source and partly about named variables.", "Write all of them with named variables: becomes(1, q1 = 2)."),
  "rules-not-table" = c("`rules` must be a data frame or the path of a CSV file, not {got}.", "Give it the columns code, when and label."),
  "rules-no-code" = c("The table of rules has no column `code`; it has: {names}.", "Name its columns code, when and label."),
  "rules-no-rows" = c("The table of rules is empty.", "Give it one row for each rule."),
  "rules-row-empty" = c("Row {row} of the table of rules does not say what its code is made from.", "Fill in `when`, or set `rest` to TRUE."),
  "rest-twice" = c("`{name}` has more than one rule for the rest.", "Keep one the_rest()."),
  "no-source" = c("The rules for `{name}` do not say which variable they are about.", "Name it first: turn_recode(book, crossings, becomes(...))."),
  "source-and-where" = c("The rules name their variables, and {name} is selected as well.", "Leave the selection out."),
  "codes-mixed" = c("The rules for `{name}` give numbers in some places and text in others.", "Use codes of one kind; words can go into `label`."),
  "labels-differ" = c("Code {code} of `{name}` is given different labels: {labels}.", "Give it one label."),
  "bad-code" = c("A code must be one number or one text, not {got}.", "Write becomes(1, ...)."),
  "kind-unlabelled" = c("A rule that makes answers missing must name the reason.", "Write becomes(NA, 97, label = \"Not applicable\")."),
  "when-unnamed" = c("when() needs a variable's name for each condition.", "Write when(label = 1)."),
  "unchanged-several" = c("unchanged() needs one source, but the rules are over several variables.", "State the code of the rest."),
  "unchanged-type" = c("`{name}` keeps its own values in some rules and gets codes of another kind in others.", "Use codes of the same kind as its values."),
  "no-such-label" = c("{label} is no value label of `{name}`.{hint}", "Its labels are: {labels}."),
  "unknown-kind" = c("`{name}` has no missing answers of the kind \"{kind}\".{hint}", "Its kinds are: {known}. Declare others with define(missing = )."),
  "limits-needed" = c("`{name}` has no limits, so it cannot be reversed. Observed: {seen}.", "State the limits of the scale, whatever was observed: limits = c(low, high)."),
  "beyond-limits" = c("`{name}` has values outside its limits {low} to {high}: {values}. Nothing was made.", "If {code} is a missing code: define(book, {name}, missing = c(\"...\" = {code})). Else state wider limits."),
  "one-item" = c("A composite needs at least two items, not only {name}.", "Name all its items."),
  "bad-threshold" = c("at_least = {at_least} does not fit {items} items.", "Choose a whole number from {least} to {items}."),
  "weights-positive" = c("Item weights must be above zero: {weights}.", "Leave an item out rather than weight it by zero."),
  "weights-how" = c("Item weights have no meaning for how = \"{how}\".", "Use \"mean\" or \"sum\"."),
  "reversed-not-item" = c("{name} is to be reversed, but is not among the items.", "Add it to the items, or take it out of `reversed`."),
  "prorate-sum" = c("prorate = TRUE is for sums, not for how = \"{how}\".", "Leave it out."),
  "each-without-x" = c("The formula {formula} does not use .x.", "Write .x where each variable goes: log10(.x)."),
  "flag-no-condition" = c("{formula} is not a condition that holds or not.", "Compare something: turn_flag(book, wait_min > 30, as = \"long_wait\")."),
  "empty-name" = c("A result has an empty name.", "Give it a name: as = \"...\"."),
  "name-twice" = c("Two results would be named {name}.", "Give each its own name."),
  "name-original" = c("`{name}` is an original, and originals are never replaced. Nothing was made.", "Give the result another name."),
  "name-taken" = c("There is already a derived variable {name}. Nothing was made.", "Choose another name, or add replace = TRUE."),
  "still-used" = c("`{name}` cannot be replaced while {users} is made from it.", "Choose another name."),
  "replace-group" = c("`{name}` was made together with {others}, which would be lost.", "Replace all of them in one call, or choose another name."),
  "nothing-to-undo" = c("Nothing has been done yet, so nothing can be undone.", "turns(book) lists what was made.")
)

formula_errors <- list(
  "not-in-language" = c("A formula cannot use `{name}`.{hint}\n{shown}", "?formula_language lists all that a formula may say."),
  "unknown-name" = c("The formula names `{name}`, which is no variable here.{hint}\n{shown}", "names(book) lists all variables; a value of your own goes in as !!{name}."),
  "bad-constant" = c("A formula cannot hold {got}.\n{shown}", "Use numbers, texts in quotes and variables."),
  "argument-count" = c("`{name}` is given {count} value(s).{hint}\n{shown}", "See ?formula_language."),
  "unknown-option" = c("`{name}` has no option `{option}`.\n{shown}", "See ?formula_language."),
  "option-constant" = c("Options of `{name}` must be plain values.\n{shown}", "Write a number, a text, TRUE or FALSE."),
  "text-as-number" = c("The text {text} cannot stand where `{name}` needs a number.\n{shown}", "Use a number or a variable; text can be compared with == or %in%."),
  "if-constant" = c("This condition names no variable, so it is the same for every row.\n{shown}", "Compare a variable: if (age > 40) 1 else 0."),
  "empty-argument" = c("Something is missing between two commas.\n{shown}", "Fill it in or take the comma out."),
  "compare-na" = c("Nothing equals NA, so this is missing for every row.\n{shown}", "Write is.na(x), or unanswered(x)."),
  "chained-comparison" = c("Two comparisons in a row do not mean what they seem to.\n{shown}", "Write a < x & x < b."),
  "assignment-outside" = c("A temporary name can only be given inside {{ }}.\n{shown}", "The result's name goes into `as`."),
  "bad-temporary" = c("A temporary name must be a plain name.\n{shown}", "Write {{ t <- a / b; t^2 }}."),
  "temporary-taken" = c("`{name}` is already a variable, so it cannot be a temporary name.\n{shown}", "Choose another name."),
  "block-end" = c("The last step inside {{ }} must give the result.\n{shown}", "End with the value: {{ t <- a / b; t^2 }}."),
  "formula-broken" = c("The formula cannot be read.\n{shown}", "Check brackets, quotes and operators where it is marked."),
  "formula-count" = c("A formula is one expression, not {count}.\n{shown}", "For several steps write {{ t <- a / b; t^2 }}."),
  "formula-not-text" = c("A formula in a sheet must be text.", "Write it in quotes."),
  "formula-no-variable" = c("The formula {formula} uses no variable.", "Name at least one variable of the data."),
  "nothing-to-learn" = c("{of} cannot be worked out: {rows} valid row(s).", "Check the variable with look().")
)

file_words <- list(
  "file-missing" = c("There is no file {path}.{hint}", "Check its name and folder."),
  "file-folder" = c("{path} is a folder, not a file.", "Name a file in it."),
  "file-closed" = c("{path} cannot be read: permission is denied.", "Check who may read it."),
  "file-empty" = c("{path} is empty.", "A table needs a header line at least."),
  "file-binary" = c("{path} is not a text file.", "Save the table as CSV first."),
  "ragged" = c("{path}, line {line}: {actual} where the header has {expected} ({lines} such line(s)).", "Look for a missing or extra separator, or an unclosed quote, in that line."),
  "file-exists" = c("{path} exists already and was left as it is.", "Choose another name, or add overwrite = TRUE (--overwrite on the command line)."),
  "file-unwritable" = c("{path} cannot be written.", "Check that the folder is yours to write in and the disk is not full."),
  "no-folder" = c("There is no folder {folder}.", "Make it first, or choose another."),
  "codebook" = c("The codebook {path} cannot be used: {why}.", "It must be a Data Package descriptor in JSON with a Table Schema.")
)

sheet_words <- list(
  "sheet-yaml" = c("The turn sheet {path} cannot be read: {why}", "Mend that line; text with signs in it goes in quotes."),
  "sheet-tag" = c("The turn sheet {path}, line {line}, holds a tag ({tag}), which could run code. It is refused.", "Take the tag out, or put the text in quotes."),
  "sheet-version" = c("The turn sheet {path} has version {version}; this package reads version {known}.", "Its first line must be: able_turn: {known}"),
  "sheet-at" = c("{path}, line {line}, {where}: {why}", "{todo}"),
  "sheet-not-one" = c("{path} is not a turn sheet: {why}.", "A turn sheet begins with: able_turn: 1"),
  "bad-dialect" = c("There is no script dialect \"{dialect}\".", "Choose \"base\" or \"ableturn\"."),
  "no-turns" = c("There is nothing to write: no turn has been made.", "Make a variable first, then write the script."),
  "no-data-file" = c("The sheet {path} does not say which data it is for.", "Name them: --data FILE."),
  "data-changed" = c("{file} has changed since it was opened.", "Open it again and repeat the proof.")
)

error_words <- c(argument_words, meaning_words, turn_words, formula_errors, file_words, sheet_words)
