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
#' `harrowgill_path()`: the path of one of the CSV files as installed, for the command line.
#' @section Errors: `drystack_error_argument` for another file name.
#' @seealso [daybook()]; `drystack demo` in a terminal.
#' @examples
#' yard <- harrowgill()
#' str(yard$orders)
#' harrowgill_path("orders.csv")
#' @export
harrowgill <- function() {
  names <- sub(".csv", "", demo_data, fixed = TRUE)
  stats::setNames(lapply(names, function(name) {
    read_orders(harrowgill_path(paste0(name, ".csv")))
  }), names)
}

#' @rdname harrowgill
#' @export
harrowgill_path <- function(file = "orders.csv") {
  file <- check_choice(file, demo_data, "file")
  system.file("extdata", file, package = "drystack", mustWork = TRUE)
}

demo_data <- c("orders.csv", "customers.csv", "products.csv", "depots.csv", "targets.csv")

demo_book <- function() {
  daybook(
    read_orders(harrowgill_path("orders.csv")), "ordered_on",
    calendars = list(fiscal = fiscal_calendar("July"), civil = civil_calendar())
  )
}
