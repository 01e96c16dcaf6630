# A codebook in DDI-Codebook 2.5 (https://ddialliance.org/Specification/DDI-Codebook/2.5/).

# Nothing is fetched, and no entity that the file defines is put in.
read_ddi <- function(path) {
  need_package("xml2", "DDI codebooks")
  broken <- function(...) fail("codebook", path = path, why = paste0(...))
  parsed <- tryCatch(xml2::xml_ns_strip(xml2::read_xml(file_bytes(path),
    options = c("NOBLANKS", "NONET"))), error = function(e) broken("it is not valid XML"))
  vars <- xml2::xml_find_all(parsed, "//dataDscr/var")
  if (!length(vars)) broken("it describes no variables (dataDscr/var)")
  names <- xml2::xml_attr(vars, "name")
  if (anyNA(names)) broken("variable ", which(is.na(names))[1], " has no name")
  if (anyDuplicated(names)) broken("variable ", names[duplicated(names)][1], " stands twice")
  meanings <- Map(function(var, name) as_meaning(path, name, meaning_of_var(var)), as.list(vars),
    names)
  structure(setNames(meanings, names), unused = unused_in_ddi(vars, names))
}

# The text of the first such part, or NULL.
part_text <- function(node, at) {
  found <- xml2::xml_find_first(node, at)
  text <- trimws(gsub("\\s+", " ", xml2::xml_text(found)))
  if (!is.na(text) && nzchar(text)) text
}

meaning_of_var <- function(var) {
  label <- part_text(var, "./labl")
  question <- part_text(var, "./qstn/qstnLit")
  categories <- xml2::xml_find_all(var, "./catgry")
  code <- vapply(categories, function(node) part_text(node, "./catValu") %||% NA_character_, "")
  named <- vapply(categories, function(node) part_text(node, "./labl") %||% NA_character_, "")
  gone <- xml2::xml_attr(categories, "missing") %in% "Y"
  invalid <- invalid_codes(var)
  gone <- gone | code %in% invalid$codes
  codes <- !gone & !is.na(code) & !is.na(named)
  missing <- c(missing_pairs(code[gone & !is.na(code)], named[gone & !is.na(code)]),
    missing_pairs(setdiff(invalid$codes, code), NA), invalid$ranges)
  nature <- xml2::xml_attr(var, "nature")
  check_meaning(
    label = label %||% question, note = if (!is.null(label)) question,
    codes = if (any(codes)) setNames(typed_codes(code[codes]), named[codes]),
    missing = if (length(missing)) missing,
    level = if (nature %in% measurement_levels) nature, limits = valid_range(var)
  )
}

missing_pairs <- function(codes, labels) {
  labels <- rep_len(labels, length(codes))
  setNames(lapply(codes, read_code), ifelse(is.na(labels), paste("Code", codes), labels))
}

# What no valid answer is: single values, and stretches of them.
invalid_codes <- function(var) {
  ranges <- compact(lapply(xml2::xml_find_all(var, "./invalrng/range"), invalid_range))
  list(codes = as.character(xml2::xml_attr(xml2::xml_find_all(var, "./invalrng/item"), "VALUE")),
    ranges = setNames(ranges, rep("Not valid", length(ranges))))
}

# Either end may lack, or be outside.
invalid_range <- function(node) {
  end <- function(key) {
    text <- xml2::xml_attr(node, key)
    if (grepl(plain_number, text)) as.numeric(text)
  }
  low <- end("min")
  high <- end("max")
  over <- end("minExclusive")
  under <- end("maxExclusive")
  if (!is.null(over)) {
    if (!is.null(under)) return(over(over, under = under))
    return(over(over, upto = high %||% Inf))
  }
  if (!is.null(low)) return(if (is.null(under)) from(low, upto = high %||% Inf) else
    from(low, under = under))
  if (!is.null(high)) upto(high) else if (!is.null(under)) under(under)
}

ends_of_range <- function(node) {
  ends <- c(xml2::xml_attr(node, "min"), xml2::xml_attr(node, "max"))
  if (all(grepl(plain_number, ends))) as.numeric(ends) else c(NA, NA)
}

valid_range <- function(var) {
  ranges <- xml2::xml_find_all(var, "./valrng/range")
  if (length(ranges) != 1) return(NULL)
  ends <- ends_of_range(ranges[[1]])
  if (!anyNA(ends)) ends
}

unused_in_ddi <- function(vars, names) {
  weights <- names[xml2::xml_attr(vars, "wgt") %in% "wgt"]
  told <- c(weights = paste("the weight", weights)[seq_along(weights)])
  for (part in c("universe", "derivation", "codInstr", "sumStat", "txt", "notes")) {
    with_part <- lengths(lapply(vars, xml2::xml_find_all, paste0("./", part))) > 0
    if (any(with_part)) told <- c(told, paste0(part, " of ", counted(sum(with_part), "variable")))
  }
  unname(told)
}
