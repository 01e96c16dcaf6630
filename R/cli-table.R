#' @include script-own.R
NULL

# The commands: what each runs, takes and says of itself. An option whose help begins with "!" takes no value.
codebook_option <- c(codebook = "FILE  what the variables mean (a Data Package descriptor)")
format_option <- c(format = "FORM  text (left out), tsv or json")
overwrite_option <- c(overwrite = "!      replace the file if it exists")

cli_commands <- list(
  look = list(
    run = cli_look, least = 1, most = Inf, wants = "a data file",
    help = c("ableturn look FILE [VAR ...]",
      "Frequencies or summaries. VAR is a name, a range such as q1:q5, or a formula in quotes."),
    options = c(codebook_option, by = "VAR   groups to show apart", weight = "VAR   a weight for each row",
      format_option)
  ),
  run = list(
    run = cli_run, least = 1, most = 1, wants = "a turn sheet",
    help = c("ableturn run SHEET --data FILE --out FILE",
      "Makes the variables of a turn sheet on these data and writes all columns as CSV."),
    options = c(
      data = "FILE  the data", out = "FILE  the CSV file to write", codebook_option,
      learned = "HOW   recorded (as on the sheet) or refit",
      rename = "PAIRS columns that have other names in these data: age=AGE_YRS,sex=GENDER",
      skip = "!      where columns are lacking, make what can be made and list what could not", overwrite_option,
      strict = "!      end with 1 if findings are open that nobody accepted, and list them"
    )
  ),
  script = list(
    run = cli_script, least = 1, most = 1, wants = "a turn sheet",
    help = c("ableturn script SHEET [--dialect NAME]", "Writes the work of a turn sheet as a script."),
    options = c(
      dialect = paste("NAME ", paste0(dialect_names(), " (", vapply(dialect_names(), function(name) {
        tolower(dialects[[name]]$title)
      }, ""), ")", collapse = " or ")), data = "FILE  the data, if not those on the sheet",
      out = "FILE  the script to write; without it, it is printed", codebook_option, overwrite_option
    )
  ),
  prove = list(
    run = cli_prove, least = 1, most = 1, wants = "a turn sheet",
    help = c("ableturn prove SHEET", "Runs the scripts in fresh processes and compares every derived column."),
    options = c(data = "FILE  the data, if not those on the sheet", codebook_option)
  ),
  findings = list(
    run = cli_findings, least = 1, most = 1, wants = "a turn sheet",
    help = c("ableturn findings SHEET",
      "What looks wrong with the variables of a turn sheet, and what to do about each."),
    options = c(data = "FILE  the data, if not those on the sheet", codebook_option, format_option,
      strict = "!      end with 1 if findings are open that nobody accepted")
  ),
  lineage = list(
    run = cli_lineage, least = 1, most = Inf, wants = "a turn sheet",
    help = c("ableturn lineage SHEET [VAR ...]",
      "Where the derived variables of a turn sheet come from, down to the originals."),
    options = c(data = "FILE  the data, if not those on the sheet", codebook_option, format_option)
  ),
  report = list(
    run = cli_report, least = 1, most = 1, wants = "a turn sheet",
    help = c("ableturn report SHEET --out FILE", "One file, .html or .md, that explains every derived variable."),
    options = c(out = "FILE  the report to write", data = "FILE  the data, if not those on the sheet", codebook_option,
      title = "TEXT  its heading", overwrite_option)
  ),
  demo = list(
    run = cli_demo, least = 0, most = 0, wants = "nothing",
    help = c("ableturn demo [--out DIR]", "The whole way, on the made-up Lantern Isles ferry panel."),
    options = c(out = "DIR   where the results go (default: ableturn-demo)")
  )
)
