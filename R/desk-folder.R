# A folder within that in which the desk was opened: its folders, and the files that can be opened.
folder_html <- function(path) {
  tags <- htmltools::tags
  root <- normalizePath(getwd(), "/")
  path <- folder_within(path, root)
  all <- list.files(path, full.names = TRUE)
  folders <- all[dir.exists(all)]
  files <- setdiff(all, folders)
  files <- files[grepl(files_shown, files, ignore.case = TRUE)]
  inside <- function(one) sub(paste0(root, "/"), "", one, fixed = TRUE)
  button <- function(one, do) {
    tags$button(type = "button", class = paste("link", do), `data-path` = inside(one),
      show_controls(basename(one)), if (do == "to-folder") "/")
  }
  tags$div(id = "folder", role = "group", `aria-label` = "Files here",
    tags$div(class = "field-name", paste("In", show_controls(path))),
    if (path != root) tags$button(type = "button", class = "link to-folder", `data-path` =
      inside(dirname(path)), "one folder up"),
    tags$div(class = "files", lapply(utils::head(folders, 100), button, "to-folder"),
      lapply(utils::head(files, 200), button, "to-file"),
      if (length(files) > 200) tags$span(class = "quiet", "and more")))
}

files_shown <- "[.](csv|tsv|txt|xlsx|ods|parquet|zip|json|jsonl|ya?ml|xml)$"

# Never above the folder of the desk.
folder_within <- function(path, root) {
  path <- if (is_one(path, is.character)) normalizePath(file.path(root, path), "/",
    mustWork = FALSE) else root
  if (dir.exists(path) && (path == root || startsWith(path, paste0(root, "/")))) path else root
}
