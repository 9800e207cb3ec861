# Pictures of the explorer, made by hand and eye of a real browser, into the folder named.
suppressMessages({
  library(testthat)
  library(drystack)
})
source("tests/browser/helper-browser.R")
folder <- commandArgs(TRUE)[1L]

picture <- function(page, name) {
  wait_for(page, paste(is_drawn, "&& !document.querySelector('#figure:not([hidden]).waiting')"))
  Sys.sleep(0.4)
  shot <- page$session$Page$captureScreenshot(format = "png")
  writeBin(jsonlite::base64_dec(shot$data), file.path(folder, paste0(name, ".png")))
}

act_on <- function(page, act) {
  before <- js(page, "explorer.drawn")
  js(page, paste0("act(", jsonlite::toJSON(act, auto_unbox = TRUE), ")"))
  wait_for(page, paste0("explorer.drawn !== ", before, " && ", is_drawn))
}

explored <- function(page) {
  for (act in list(
    list(do = "work_out", text = "net = amount - discount"),
    list(do = "set_measure", at = 1L, text = "sum(net)", name = "net"),
    list(do = "set_measure", at = 1L, label = "Net sales", format = "money(\"\u00a3\", digits = 0)"),
    list(do = "set_axis", side = "rows", at = 1L, axis = "region"),
    list(do = "add_axis", side = "rows", axis = "quarter"),
    list(do = "add_measure", text = "growth(net, year)", name = "growth"),
    list(do = "limit", column = "status", members = list("\"cancelled\""), except = TRUE),
    list(do = "limit", column = "channel", members = list("\"web\"", "\"phone\"")),
    list(do = "set_dates", latest = "4 quarter"), list(do = "set", key = "totals", value = "all")
  )) act_on(page, act)
}

pictures <- function() {
  explorer <- explorer_of()
  page <- page_at(explorer$url)
  picture(page, "explorer-first")
  explored(page)
  picture(page, "explorer-figure")
  click_at(page, "document.querySelector('#sheet tbody tr:nth-child(3) td.figure:last-child')")
  wait_for(page, "document.querySelector('#panel .steps')")
  picture(page, "explorer-explained")
  open_part(page, "mouse", "only", 2L)
  picture(page, "explorer-members")
  phone <- page_at(explorer$url, width = 400L)
  wait_for(phone, is_drawn)
  explored(phone)
  picture(phone, "explorer-phone")
}
pictures()
