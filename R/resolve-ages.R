# Which cells of a level are of an age that the as-of date has not reached (plan-ages.R).

without_unreached <- function(figures, first_days, at) {
  for (axis in names(first_days)) {
    unreached <- is_unreached(first_days[[axis]], axis, at)
    if (!any(unreached)) next
    at$plan$notes$unreached <- union(at$plan$notes$unreached, axis)
    figures <- lapply(figures, function(figure) {
      m <- as_figure(figure, nrow(unreached), ncol(unreached))
      with_face(replace(without_face(m), unreached, NA), attr(figure, "face"))
    })
  }
  figures
}

is_unreached <- function(first_day, axis, at) {
  first <- without_face(resolve_tree(first_day, at))
  age <- at$plan$frame$ages[[axis]]
  members <- as.character(at$folded$dimensions[[axis]]$members)
  ages <- if (is.null(age$lowest)) suppressWarnings(as.numeric(members)) else unname(
    age$lowest[members])
  ages <- ages[at$places[[axis]]]
  grid <- calendar_grid(age$calendar)[[age$unit]]
  place <- period_position(as.vector(first), age$unit, age$calendar) + rep(ages, ncol(first))
  within <- !is.na(place) & place >= 1 & place <= length(grid$starts)
  start <- grid$starts[ifelse(within, place, 1L)]
  matrix(within & start > at$plan$frame$as_of, nrow(first), ncol(first))
}
