# How each variable came about, as W3C PROV-JSON (https://www.w3.org/submissions/prov-json/):
# entities are the table of the originals and each variable, activities are the turns, and the agent
# is the program.

provenance_json <- plainly(function(book) {
  names <- names(book)
  turns <- turns_made(book)
  document <- list(
    prefix = list(here = paste0("urn:uuid:", uuid_of(fingerprint_of(book)), "#")),
    entity = c(list("here:originals" = list("prov:label" = tables_of_package[["originals"]],
      "here:sha256" = sum_of_file(tables_of_package[["originals"]]))),
    setNames(lapply(names, entity_of, book = book), vapply(names, entity_id, "", book = book))),
    activity = setNames(lapply(turns, activity_of, book = book), activity_ids(turns)),
    agent = list("here:program" = list("prov:type" = list("$" = "prov:SoftwareAgent",
      type = "prov:QUALIFIED_NAME"), "prov:label" = paste("Able Turn",
      utils::packageVersion("ableturn"))))
  )
  json_text(c(document, relations_of(book, turns)))
})

# Turns that still make something.
turns_made <- function(book) {
  made <- unique(vapply(derived_names(book), entry_of, 1L, book = book))
  lapply(steps_of(book)[sort(made)], `[[`, "turn")
}

activity_ids <- function(turns) sprintf("here:turn%d", seq_along(turns))

entity_id <- function(name, book) paste0("here:v", match(name, names(book)))

entity_of <- function(name, book) {
  meaning <- meaning_in(book, name)
  compact(list("prov:label" = name, "here:means" = meaning$label,
    "here:column" = if (is_derived(book, name)) "derived" else "original"))
}

activity_of <- function(turn, book) {
  name <- intersect(turn$makes, derived_names(book))[1]
  compact(list("prov:label" = paste(turn$verb, "of", in_a_row(derived_in(book, name)$from)),
    "here:how" = made_as(name, book), "here:note" = turn$note,
    "here:sheet" = paste(emit_item(sheet_step(turn), 0), collapse = "\n")))
}

# A derived variable is made by its turn, of the variables that this reads; an original is a part of
# the table.
relations_of <- function(book, turns) {
  ids <- activity_ids(turns)
  made <- rows_of_lists(lapply(seq_along(turns), function(i) {
    makes <- intersect(turns[[i]]$makes, derived_names(book))
    reads <- unique(unlist(lapply(makes, function(name) derived_in(book, name)$reads)))
    list(
      wasGeneratedBy = lapply(makes, function(name) {
        list("prov:entity" = entity_id(name, book), "prov:activity" = ids[i])
      }),
      used = lapply(reads, function(name) {
        list("prov:activity" = ids[i], "prov:entity" = entity_id(name, book))
      }),
      wasDerivedFrom = unlist(lapply(makes, derivations_of, activity = ids[i], book = book),
        recursive = FALSE),
      wasAssociatedWith = list(list("prov:activity" = ids[i], "prov:agent" = "here:program"))
    )
  }))
  made$hadMember <- lapply(original_names(book), function(name) {
    list("prov:collection" = "here:originals", "prov:entity" = entity_id(name, book))
  })
  lapply(made[lengths(made) > 0], numbered)
}

derivations_of <- function(name, activity, book) {
  lapply(unique(derived_in(book, name)$reads), function(source) {
    list("prov:generatedEntity" = entity_id(name, book),
      "prov:usedEntity" = entity_id(source, book), "prov:activity" = activity)
  })
}

# Lists with the same parts as one, part by part.
rows_of_lists <- function(lists) {
  keys <- unique(unlist(lapply(lists, names)))
  lapply(self_named(keys), function(key) unlist(lapply(lists, `[[`, key), recursive = FALSE))
}

# Relations are named without a place of their own.
numbered <- function(relations) setNames(relations, sprintf("_:r%d", seq_along(relations)))

# A name for these data that no others have, from their fingerprint (RFC 9562, version 8).
uuid_of <- function(sha) {
  sub("^(.{8})(.{4}).(.{3}).(.{3})(.{12}).*$", "\\1-\\2-8\\3-8\\4-\\5", sha)
}
