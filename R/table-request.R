# A request: what a table is asked with, as R, the command line and standing reports say
# it. One shape for all kinds.
#
# kind:       "rollup", "crosstab", "listing" or "headlines"
# rows, cols: axes as said (see said_axes()); the groups of a listing are its rows
# measures:   as said, by name; show: the names of those shown, where the others are only spoken of
# totals, totals_at, sort, keep, members: as the arguments of rollup() and crosstab()
# look: what is said of it, by name (plan-look.R)
# lines, per, most: of a listing; against, history: of headlines

new_request <- function(kind, rows = list(), cols = list(), measures = list(), show = NULL,
  totals = "none", totals_at = "end", sort = NULL, keep = NULL, members = "shown",
  look = list(), lines = list(), per = said(NULL), most = 1e6,
  against = said(NULL), history = said("month")) {
  list(
    kind = kind, rows = rows, cols = cols, measures = measures,
    show = show, totals = totals, totals_at = totals_at, sort = sort, keep = keep,
    members = members, look = look, lines = lines, per = per, most = most,
    against = against, history = history
  )
}

# From an ask to its answer: plan, fold, resolve.
#
# rows: see new_rows(); plan and folded: how they came about, of which the table tells
answer <- function(ask, book) {
  plan <- new_plan(ask, book)
  kernel_in_bounds({
    folded <- fold_plan(book, ask, plan)
    folded <- with_places_for_others(keep_members(folded, ask, plan), ask)
    folded <- keep_rows(resolve_order(folded, ask, plan), ask, plan)
    levels <- lapply(plan$levels, resolve_level, folded = folded, ask = ask, plan = plan)
    others <- resolve_others(folded, ask, plan)
  })
  list(rows = table_rows(levels, folded, ask, others), plan = plan, folded = folded)
}
