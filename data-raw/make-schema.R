# Writes the JSON Schema of the turn sheet from the keys that its reader takes.
# Run from the root of the repository, with the package installed: Rscript data-raw/make-schema.R
inner <- function(name) utils::getFromNamespace(name, "ableturn")
one_or_many <- function(type) {
  list(oneOf = list(type, list(type = "array", items = type, minItems = 1)))
}
text <- list(type = "string")
number <- list(type = "number")
value <- list(type = c("string", "number", "boolean", "null"))
refer <- function(name) list("$ref" = paste0("#/definitions/", name))
object <- function(keys) {
  list(type = "object", properties = lapply(keys, function(k) shapes[[k]]),
    additionalProperties = FALSE)
}
map_of <- function(shape) list(type = "object", additionalProperties = shape)

shapes <- list(
  names = one_or_many(text), texts = one_or_many(text), text = text, word = text,
  flag = list(type = "boolean"),
  number = number, numbers = list(type = "array", items = number), formula = text, code = value,
  codes = map_of(value),
  matchers = refer("matchers"), missing = map_of(refer("matchers")),
  conditions = map_of(refer("matchers")), rules = list(type = "array",
    items = refer("rule")), meaning = refer("meaning"), meanings = map_of(refer("meaning")),
  learned = list(type = "array", items = refer("learned")),
  accepts = list(type = "array", items = list(type = "object",
    properties = list(finding = text, because = text),
    required = list("finding"), additionalProperties = FALSE)),
  table = map_of(list(type = "array", items = value)), instrument = list(type = "object"),
  values = one_or_many(value)
)

matcher <- list(anyOf = list(
  list(type = c("string", "number", "boolean")),
  list(type = "object", properties = list(text = one_or_many(text)), required = list("text"),
    additionalProperties = FALSE),
  list(type = "object", properties = list(missing = text), required = list("missing"),
    additionalProperties = FALSE)
))

turn <- function(verb) {
  keys <- as.list(inner("keys_of")(verb))
  out <- object(c(setNames(list("names"), verb), keys))
  c(out, list(required = list(verb)))
}

check <- c(object(list(must_hold = "text", label = "text", learned = "learned")),
  list(required = list("must_hold")))

schema <- list(
  "$schema" = "http://json-schema.org/draft-07/schema#", title = "Able Turn sheet", type = "object",
  required = list("able_turn"), additionalProperties = FALSE,
  properties = list(
    able_turn = list(const = inner("sheet_version")),
    data = list(type = "object", properties = list(file = text, id = text, rows = number,
      sha256 = text), additionalProperties = FALSE),
    seen = map_of(list(type = "object", properties = list(rows = number, missing = number,
      values = one_or_many(value), range = shapes$numbers), additionalProperties = FALSE)),
    define = shapes$meanings,
    turns = list(type = "array",
      items = list(oneOf = c(lapply(names(inner("turn_keys")), turn), list(check))))
  ),
  definitions = list(
    matchers = one_or_many(matcher),
    rule = object(c(as.list(inner("rule_keys")), keep = "flag")),
    meaning = object(as.list(inner("meaning_keys"))),
    learned = list(type = "object",
      properties = list(of = text, is = one_or_many(list(type = c("number", "string", "null"))),
        rows = one_or_many(number), cumulative = one_or_many(number),
        groups = map_of(one_or_many(value))), required = list("of"), additionalProperties = FALSE)
  )
)
writeLines(jsonlite::toJSON(schema, auto_unbox = TRUE, pretty = TRUE),
  "inst/schema/turn-sheet.schema.json")
