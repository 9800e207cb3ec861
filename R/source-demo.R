#' Harrowgill Stone Yard: made-up orders to try things on
#'
#' A merchant of walling stone, coping, flags, setts, gravel and slate with four depots,
#' selling by trade counter, telephone and web. About 24,000 order lines in 8,950 orders from 3
#' January 2023 to 18 September
#' 2026. Its fiscal year runs from July to June. Everything in it is invented.
#'
#' The orders are an export as exports are, with defects planted for you to find:
#'
#' - 9 lines have no date, 6 no amount, 11 no region, and 5 an amount of zero.
#' - 14 lines name their depot in another case, half of them with a space at the end (`"skelby "`).
#' - 5 lines stand twice.
#' - one line has a quantity of 4000.
#' - 4 customers are missing from the customer list.
#' - `order_id` and `customer_id` are codes; the first is a number that must not be added up.
#' - the last line was entered late: it stands at the end of the file, dated 30 June 2026.
#' - returns are negative lines, some orders are cancelled, and many of the
#'   last weeks are not paid yet.
#' - the depot Eskholme opened on 7 October 2024.
#'
#' @param file One of `"orders.csv"`, `"customers.csv"`, `"products.csv"`,
#'   `"depots.csv"` and `"targets.csv"`.
#' @param out A folder to put the files in; it is made where it is not there.
#' @param reports Names of standing reports to put beside them: `"monthly"`, or those that
#'   `drystack demo --list` names.
#' @return `harrowgill()`: a list of five data frames.
#'
#' `orders`, a row for each order line: `order_id` (integer), `ordered_on` and `shipped_on`
#' (Date), `depot`, `region`, `channel`, `customer_id`, `product_id` (text), `quantity`
#' (integer, in the product's unit), `amount` and `discount` (pounds), `status` (`sent`, `open`,
#' `cancelled`), `paid` (logical).
#'
#' `customers`: `customer_id`, `customer`, `kind`, `town`. `products`: `product_id`, `category`,
#' `product`, `unit`, `unit_price` (pounds, of 2023). `depots`: `depot`, `manager`, `opened_on`.
#' `targets`: `month` (such as `"2026-07"`), `depot`, `target` (pounds), from July 2024
#' to June 2027.
#'
#' `harrowgill_path()`: the path of one of the CSV files as installed. The orders are packed there
#' (`orders.csv.gz`), which every part of the package reads as it stands.
#'
#' `harrowgill_folder()`: `out`, invisibly, which then holds the five CSV files, unpacked, and the
#' standing reports named; `drystack demo` does it in a terminal.
#' @section Errors: `drystack_error_argument` for another file name; `drystack_error_output` where
#'   the folder cannot be made or holds a file of that name with another content, which stays.
#' @seealso [daybook()]; `drystack demo` in a terminal.
#' @examples
#' yard <- harrowgill()
#' str(yard$orders)
#' look_at(harrowgill_path("orders.csv"))
#'
#' folder <- harrowgill_folder(tempfile("yard"))
#' list.files(folder)
#' @export
harrowgill <- function() {
  names <- file_stem(demo_data)
  for (name in setdiff(names, ls(read_demo))) {
    assign(name, read_orders(harrowgill_path(paste0(name, ".csv"))), read_demo)
  }
  mget(names, envir = read_demo)
}

# Examples ask for them again and again.
read_demo <- new.env(parent = emptyenv())

#' @rdname harrowgill
#' @export
harrowgill_path <- function(file = "orders.csv") {
  demo_path(check_choice(file, demo_data, "file"))
}

#' @rdname harrowgill
#' @export
harrowgill_folder <- function(out, reports = "monthly") {
  check_text(out, "out")
  for (one in reports) check_choice(one, names(demo_reports()), "reports")
  if (!dir.exists(out) && !dir.create(out, showWarnings = FALSE, recursive = TRUE)) {
    raise("output", c(paste0("Cannot make the folder ", quoted(out), "."),
      ">" = paste0("Name another with ", argument_said("out"), ".")))
  }
  for (file in demo_data) put_demo_file(demo_path(file), file.path(out, file))
  for (file in demo_reports()[reports]) put_demo_file(file, file.path(out, basename(file)))
  invisible(out)
}

demo_data <- c("orders.csv", "customers.csv", "products.csv", "depots.csv", "targets.csv")

# The orders are installed packed: plain, they would be a third of the package.
demo_path <- function(file) {
  if (file == "orders.csv") file <- "orders.csv.gz"
  system.file("extdata", file, package = "drystack", mustWork = TRUE)
}

# What someone made of a file that was put there before is not written over.
put_demo_file <- function(from, to) {
  bytes <- unpacked_bytes(read_bytes(from), from)
  if (!file.exists(to)) {
    write_whole(to, function(aside) kernel_write_file(path.expand(aside), bytes))
  } else if (!identical(read_bytes(to), bytes)) {
    raise("output", c(
      paste0("There is another ", quoted(basename(to)), " in ", quoted(dirname(to)), "."),
      ">" = paste0("It stays. Name another folder with ", argument_said("out"), ".")
    ))
  }
}

# The standing reports that come with the package, by name.
demo_reports <- function() {
  files <- c(system.file("extdata", "monthly.yml", package = "drystack"),
    list.files(system.file("reports", package = "drystack"), "[.]yml$", full.names = TRUE))
  stats::setNames(files, file_stem(basename(files)))
}

demo_book <- function() {
  daybook(
    read_orders(harrowgill_path("orders.csv")), "ordered_on",
    calendars = list(fiscal = fiscal_calendar("July"), civil = civil_calendar())
  )
}
