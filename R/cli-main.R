# The command line. Gives the exit status: 0 done; 1 a proof that fails, or open findings with
# --strict; 2 wrong use; 3 input that cannot be read or a sheet that is refused.
cli_main <- function(args) cli_guard(cli_command(args))

# What a program ends with whose reader has had enough, as `| head`: nothing is wrong.
closed_pipe <- 141L

cli_command <- function(args) {
  if (!length(args)) return(cli_wrong("Name a command.", main_help))
  if (args[1] %in% c("--help", "-h", "help")) return(cli_help(main_help))
  if (args[1] == "--version") return(cli_help(paste("ableturn", utils::packageVersion("ableturn"))))
  command <- args[1]
  if (!command %in% names(cli_commands)) {
    return(cli_wrong(paste0("There is no command `", command, "`.",
      near_hint(command, names(cli_commands))), NULL))
  }
  spec <- cli_commands[[command]]
  if (any(args %in% c("--help", "-h"))) return(cli_help(c(spec$help, "", cli_option_lines(spec))))
  withr::local_options(width = max(60, min(160, cli::console_width())),
    ableturn.reader = "sheet")
  given <- cli_read(args[-1], spec)
  if (!is.null(given$wrong)) return(cli_wrong(given$wrong, NULL))
  spec$run(given)
}

main_help <- c(
  "ableturn: turn survey variables into scores, with nothing silent",
  "",
  "  ableturn desk [FILE]                       the same work in the browser",
  "  ableturn look FILE [VAR ...]               frequencies or summaries of variables",
  "  ableturn run SHEET --data FILE --out FILE  make the variables of a turn sheet",
  "  ableturn script SHEET [--dialect base]     write a turn sheet as a script",
  "  ableturn prove SHEET [--data FILE]         run the scripts and compare the columns",
  "  ableturn findings SHEET                    what looks wrong, and what to do about it",
  "  ableturn lineage SHEET [VAR ...]           where derived variables come from",
  "  ableturn report SHEET --out FILE           one file that explains every derived variable",
  "  ableturn pack SHEET --out FILE             all of it in one file to hand on",
  "  ableturn unpack FILE [--check]             take it apart, or see if it was changed",
  "  ableturn demo [--out DIR]                  the whole way, on the made-up demo survey",
  "",
  "Data in a database: --database ADDRESS --table NAME in place of --data FILE, also for look.",
  "ableturn COMMAND --help tells more of each.",
  paste("Exit status: 0 done; 1 a proof fails, or --strict or --check finds something; 2 wrong",
    "use; 3 the input cannot be read.")
)

# Options and file names, told apart by a package that knows how.
cli_read <- function(args, spec) {
  parser <- optparse::OptionParser(option_list = unname(Map(cli_option, names(spec$options),
    spec$options)), add_help_option = FALSE)
  read <- tryCatch(optparse::parse_args(parser, args, positional_arguments = TRUE),
    error = identity, warning = identity)
  odd <- unknown_flag(args, spec)
  if (length(odd)) return(list(wrong = odd))
  if (inherits(read, "condition")) return(list(wrong = sub("\n.*", "", conditionMessage(read))))
  count <- length(read$args)
  if (count < spec$least) return(list(wrong = paste0("Name ", spec$wants, ".")))
  if (count > spec$most) return(list(wrong = paste("Not understood:", read$args[spec$most + 1])))
  needed <- setdiff(spec$needs, names(read$options))
  if (length(needed)) {
    return(list(wrong = paste0("Add --", needed[1], " ", spec$options[[needed[1]]]$value, ".")))
  }
  list(args = read$args, options = read$options)
}

# An option that the command does not have, with the one that may be meant.
unknown_flag <- function(args, spec) {
  flags <- sub("=.*", "", grep("^--[a-z]", args, value = TRUE))
  known <- c(paste0("--", names(spec$options)), "--help")
  odd <- setdiff(flags, known)
  if (length(odd)) paste0("There is no option ", odd[1], ".", near_hint(odd[1], known), " Known: ",
    paste(known, collapse = ", "), ".")
}

cli_option <- function(name, option) {
  flag <- is.null(option$value)
  optparse::make_option(paste0("--", name),
    action = if (flag) "store_true" else "store", type = if (flag) "logical" else "character",
    default = if (flag) FALSE else NULL, help = option$help
  )
}

cli_option_lines <- function(spec) {
  value <- vapply(spec$options, function(option) option$value %||% "", "")
  paste0("  ", formatC(paste0("--", names(spec$options)), width = -12), " ",
    formatC(value, width = -5), " ", vapply(spec$options, `[[`, "", "help"))
}

# Errors in one or two lines on stderr; nothing of R shows.
cli_guard <- function(code) {
  tryCatch(
    code,
    ableturn_error = function(e) {
      cli_write(cli_error_lines(e), stderr())
      cli_status(e)
    },
    error = function(e) {
      if (grepl("SIGPIPE", conditionMessage(e), fixed = TRUE)) return(closed_pipe)
      cli_write(paste("ableturn: stopped unexpectedly:",
        show_controls(gsub("\\s+", " ", conditionMessage(e)))), stderr())
      3L
    }
  )
}

cli_error_lines <- function(e) {
  lines <- strsplit(conditionMessage(e), "\n", fixed = TRUE)[[1]]
  last <- length(lines)
  c(paste("ableturn:", paste(trimws(lines[-last]), collapse = " ")), lines[last])
}

cli_status <- function(e) if (inherits(e, "ableturn_error_unread")) 3L else 2L
