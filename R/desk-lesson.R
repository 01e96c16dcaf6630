# Five short steps for a first session, on the demo survey. Each is done when something on the desk
# is as it asks for; it can be skipped, and taken up again.

#   say   what to do, in a sentence or two
#   done  a function of the desk, and of what was done on it so far, that tells whether it is
lesson_steps <- list(
  list(say = paste("Look at a variable: choose crossings on the left. How often did people cross",
    "last week?"),
  done = function(state, did) identical(state$chosen, "crossings")),
  list(say = paste("98 and 99 are no crossings. Press the button that says so, give the reason",
    "(98 is Don't know, 99 is Refused), and keep it."),
  done = function(state, did) length(meaning_in(state$book, "crossings")$missing) > 0),
  list(say = paste("Make something of it: choose \"Other codes, by rules\", give 0 the new code 0,",
    "the range 1 .. 4 the code 1 and 5 .. the code 2. See what it would come to, and keep it."),
  done = function(state, did) length(derived_names(state$book)) > 0),
  list(say = paste("Change your mind: take the last step back with Undo on the right, and do it",
    "again with Redo. Nothing is lost."),
  done = function(state, did) all(c("undo", "redo") %in% did)),
  list(say = paste("Leave with the sheet: \"Save the sheet\" above keeps every step, to be gone",
    "through again on other data. That is all."),
  done = function(state, did) "saved" %in% did)
)

# The step that stands next, from the one that is shown; a number beyond the last when all are done.
lesson_after <- function(lesson, state, did) {
  while (lesson > 0 && lesson <= length(lesson_steps) && lesson_steps[[lesson]]$done(state, did)) {
    lesson <- lesson + 1
  }
  lesson
}

# `lesson`: 0 where it is put away.
lesson_html <- function(lesson) {
  tags <- htmltools::tags
  count <- length(lesson_steps)
  if (lesson == 0) return(button_html("Show me in five steps", "teach", to = 1, class = "link"))
  if (lesson > count) {
    return(tags$div(class = "lesson", tags$p(tags$strong("You have been all the way round. "),
      "Your own data are opened with Open, at the top."), tags$p(class = "buttons",
      button_html("Again", "teach", to = 1), button_html("Put it away", "teach", to = 0))))
  }
  tags$div(class = "lesson", tags$p(tags$strong(paste0("Step ", lesson, " of ", count, ". ")),
    lesson_steps[[lesson]]$say), tags$p(class = "buttons",
    if (lesson > 1) button_html("Back", "teach", to = lesson - 1),
    button_html("Skip this", "teach", to = lesson + 1),
    button_html("Put it away", "teach", to = 0)))
}
