# Writes the turns into the JSON Schema of turn sheets, from what turn_type() says of each; all else
# in the file is written by hand.
path <- "inst/schema/turn-sheet.schema.json"
schema <- jsonlite::fromJSON(path, simplifyVector = FALSE)
core <- function(name) utils::getFromNamespace(name, "ableturn")

text <- list(type = "string")
number <- list(type = "number")
some <- function(one) list(oneOf = list(one, list(type = "array", items = one, minItems = 1)))
value <- list(type = list("string", "number", "boolean", "null"))
definition <- function(name) list("$ref" = paste0("#/definitions/", name))
finding <- list(type = "object", properties = list(finding = text, because = text),
  required = list("finding"), additionalProperties = FALSE)

# What each shape of a key allows.
shapes <- list(
  names = some(text), texts = some(text), text = text, word = text, flag = list(type = "boolean"),
  number = number,
  numbers = list(type = "array", items = number), values = some(value),
  value = list(type = list("number", "string")), formula = text,
  rules = list(type = "array", items = definition("rule")), matchers = definition("matchers"),
  accepts = list(type = "array", items = finding), renames = list(type = "object",
    additionalProperties = text),
  table = list(type = "object", additionalProperties = list(type = "array", items = value)),
  instrument = list(type = "object"), meanings = list(type = "object",
    additionalProperties = definition("meaning")),
  learned = list(type = "array", items = definition("learned"))
)

of_turn <- function(verb) {
  keys <- core("keys_of")(verb)
  unknown <- setdiff(keys, names(shapes))
  if (length(unknown)) stop("tools/schema.R does not know the shape ", unknown[1], call. = FALSE)
  properties <- c(stats::setNames(list(shapes$names), verb),
    stats::setNames(shapes[keys], names(keys)))
  list(type = "object", properties = properties, additionalProperties = FALSE,
    required = list(verb))
}

kinds <- schema$properties$turns$items$oneOf
check <- Filter(function(kind) identical(kind$required[[1]], "must_hold"), kinds)
schema$properties$turns$items$oneOf <- c(lapply(core("turn_verbs")(), of_turn), check)
reading <- schema$properties$data$properties$reading$properties
reading$separator$enum <- as.list(core("separators_known"))
reading$encoding$enum <- as.list(names(core("encodings_known")))
reading$columns$additionalProperties$enum <- as.list(names(core("ways_to_read")))
schema$properties$data$properties$reading$properties <- reading
schema$definitions$meaning$properties$role$enum <- as.list(core("variable_roles"))
schema$definitions$meaning$properties$read$enum <- as.list(names(core("ways_to_read")))
writeLines(jsonlite::toJSON(schema, auto_unbox = TRUE, pretty = 1, digits = NA), path)
