# A sheet on data whose columns are named otherwise, or are lacking.

# The data with the names that the sheet uses.
renamed_data <- function(data, rename, blank = NULL) {
  if (!is.character(rename) || anyNA(rename) || !is_named(rename)) fail("rename-form", got = describe_type(rename))
  data <- if (is.character(data)) open_data(data, blank)$data else as_plain_data(data)
  lost <- setdiff(rename, names(data))
  if (length(lost)) fail_unknown(lost, names(data))
  taken <- intersect(names(rename), setdiff(names(data), rename))
  if (length(taken)) fail("sheet-rename-taken", name = taken)
  names(data)[match(rename, names(data))] <- names(rename)
  data
}

as_plain_data <- function(data) if (is.data.frame(data)) data else fail("not-data", got = describe_type(data))

# The sheet as far as its columns are there; what is left out stands in `skipped`. Without `skip` several columns
# that are lacking are told at once.
with_columns_there <- function(sheet, known, skip) {
  lacking <- setdiff(names(sheet$define), known)
  skipped <- character()
  kept <- vapply(sheet$turns, function(turn) {
    lost <- setdiff(reads_of_step(turn), c(known, skipped))
    fine <- !length(lost) && !any(reads_of_step(turn) %in% skipped)
    if (fine) known <<- c(known, turn$makes) else skipped <<- c(skipped, turn$makes %||% turn$formula)
    lacking <<- c(lacking, lost)
    fine
  }, NA)
  lacking <- unique(lacking)
  if (length(lacking) > 1 && !skip) fail("sheet-columns", path = sheet$path, names = lacking)
  if (!skip) return(sheet) # a single one is told where the sheet names it
  sheet$define <- sheet$define[setdiff(names(sheet$define), lacking)]
  sheet$turns <- sheet$turns[kept]
  sheet$skipped <- list(made = skipped, lacking = lacking)
  sheet
}

# What a turn or a check reads; a formula that cannot be parsed is told where it stands.
reads_of_step <- function(turn) {
  tryCatch(
    if (identical(turn$type, "check")) formula_vars(parse_formula(turn$formula)) else turn_reads(turn),
    ableturn_error = function(e) character()
  )
}
