#' @include script-own.R sql-engines.R sql-script.R
NULL

# The commands: what each runs, takes and says of itself, and the options that it needs. An option
# takes a value, or is a switch.
cli_takes <- function(value, help) list(list(value = value, help = help))

cli_switch <- function(help) list(list(value = NULL, help = help))

codebook_option <- c(codebook = cli_takes("FILE",
  "what the variables mean: a table of codes, DDI, or a Data Package"))
reading_option <- c(reading = cli_takes("HOW",
  "how the file is read, as in a sheet: \"table: Answers, decimal: ','\""))
database_option <- c(
  database = cli_takes("WHERE",
    "a database in place of a file: postgresql://USER@HOST/NAME, or a path (.sqlite, .duckdb)"),
  table = cli_takes("NAME", "the table there"))
data_option <- c(data = cli_takes("FILE", "the data, if not those on the sheet"))
format_option <- c(format = cli_takes("FORM", "text (left out), tsv or json"))
overwrite_option <- c(overwrite = cli_switch("replace the file if it exists"))

cli_commands <- list(
  desk = list(
    run = cli_desk, least = 0, most = 1, wants = "one data file",
    help = c("ableturn desk [FILE]",
      "The same work in the browser; without a file, on the demo survey.",
      "On a table of a database: ableturn desk --database WHERE --table NAME"),
    options = c(codebook_option, reading_option, database_option,
      id = cli_takes("VAR", "the row identifier"),
      sheet = cli_takes("FILE", "the turn sheet to keep each step in, or to go on from"),
      port = cli_takes("N", "the port of this machine, if not any that is free"),
      "no-open" = cli_switch("print the address only, open no browser"))
  ),
  look = list(
    run = cli_look, least = 0, most = Inf, wants = "a data file",
    help = c("ableturn look FILE [VAR ...]",
      "Frequencies or summaries. VAR is a name, a range such as q1:q5, or a formula in quotes.",
      "Of a table of a database: ableturn look --database WHERE --table NAME [VAR ...]"),
    options = c(codebook_option, reading_option, database_option,
      by = cli_takes("VAR", "groups to show apart"),
      weight = cli_takes("VAR", "a weight for each row"),
      together = cli_switch("ticked answers in one table, with one denominator"),
      sheet = cli_takes("FILE", "a turn sheet, whose variables are looked at as well"),
      rows = cli_takes("N", "rows, old beside new, in place of frequencies"),
      where = cli_takes("CONDITION", "rows for which it holds: \"crossings > 4\""),
      "sort-by" = cli_takes("VARS", "rows in this order; --sort-by=-VAR from the highest down"),
      seed = cli_takes("N", "rows drawn at random, the same for the same number"),
      working = cli_switch("the working of each row below it"),
      format_option)
  ),
  run = list(
    run = cli_run, least = 1, most = 1, wants = "a turn sheet",
    help = c("ableturn run SHEET --data FILE --out FILE",
      "Makes the variables of a turn sheet on these data and writes all columns.",
      "In a database: ableturn run SHEET --database WHERE --table NAME --into NAME"),
    options = c(
      database_option, into = cli_takes("NAME", "the table to make in the database"),
      data = cli_takes("FILE", "the data"), out = cli_takes("FILE",
        "the file to write: .csv, .tsv, .xlsx, .ods, .parquet, .rds or .jsonl"),
      values = cli_takes("WHAT", "in the file: codes, labels, or typed, the texts before reading"),
      codebook_option, reading_option,
      learned = cli_takes("HOW", "recorded (as on the sheet) or refit"),
      rename = cli_takes("PAIRS",
        "columns that have other names in these data: age=AGE_YRS,sex=GENDER"),
      skip = cli_switch("where columns are lacking, make what can be made and list what could not"),
      overwrite_option,
      strict = cli_switch("end with 1 if findings are open that nobody accepted, and list them")
    )
  ),
  script = list(
    run = cli_script, least = 1, most = 1, wants = "a turn sheet",
    help = c("ableturn script SHEET [--dialect NAME]",
      "Writes the work of a turn sheet as a script."),
    options = c(
      dialect = cli_takes("NAME", paste0(dialect_names(), " (",
        vapply(dialect_names(), function(name) {
          dialects[[name]]$title
        }, ""), ")", collapse = " or ")),
      engine = cli_takes("NAME", paste("for SQL:", paste(engine_names(), collapse = ", "))),
      data_option, reading_option, database_option,
      out = cli_takes("FILE", "the script to write; without it, it is printed"), codebook_option,
      overwrite_option
    )
  ),
  prove = list(
    run = cli_prove, least = 1, most = 1, wants = "a turn sheet",
    help = c("ableturn prove SHEET",
      "Runs the scripts in fresh processes and compares every derived column."),
    options = c(data_option, reading_option, database_option, codebook_option)
  ),
  findings = list(
    run = cli_findings, least = 1, most = 1, wants = "a turn sheet",
    help = c("ableturn findings SHEET",
      "What looks wrong with the variables of a turn sheet, and what to do about each."),
    options = c(data_option, reading_option, database_option, codebook_option, format_option,
      strict = cli_switch("end with 1 if findings are open that nobody accepted"))
  ),
  lineage = list(
    run = cli_lineage, least = 1, most = Inf, wants = "a turn sheet",
    help = c("ableturn lineage SHEET [VAR ...]",
      "Where the derived variables of a turn sheet come from, down to the originals."),
    options = c(data_option, reading_option, database_option, codebook_option, format_option)
  ),
  report = list(
    run = cli_report, least = 1, most = 1, wants = "a turn sheet", needs = "out",
    help = c("ableturn report SHEET --out FILE",
      "One file, .html or .md, that explains every derived variable."),
    options = c(out = cli_takes("FILE", "the report to write"), data_option, codebook_option,
      title = cli_takes("TEXT", "its heading"), overwrite_option)
  ),
  pack = list(
    run = cli_pack, least = 1, most = 1, wants = "a turn sheet", needs = "out",
    help = c("ableturn pack SHEET --out FILE.zip",
      "One file to hand on: data, codebooks, turns, script, report, and the SHA-256 of each."),
    options = c(out = cli_takes("FILE", "the package to write"), data_option, reading_option,
      codebook_option,
      about = cli_takes("WHAT", paste0("what others should know: \"title: Ferry panel, creators: ",
        "[A. Berg, C. Dahl], licence: CC-BY-4.0\"")), overwrite_option)
  ),
  unpack = list(
    run = cli_unpack, least = 1, most = 1, wants = "a package",
    help = c("ableturn unpack FILE.zip [--check]",
      "Unpacks a package, or tells whether anything in it was changed since it was packed."),
    options = c(out = cli_takes("DIR", "where the files go (default: named as the package)"),
      check = cli_switch("compare each file and each column; end with 1 if any was changed"))
  ),
  demo = list(
    run = cli_demo, least = 0, most = 0, wants = "nothing",
    help = c("ableturn demo [--out DIR]",
      "The whole way, on the made-up Lantern Isles ferry panel."),
    options = c(out = cli_takes("DIR", "where the results go (default: ableturn-demo)"))
  )
)
