# The figure of a window is drawn in a process of its own, so that another ask need not wait for it;
# where the system cannot be forked safely it is drawn here. A newer ask ends the drawing.

said_figure_drawn <- function(app, window, said) {
  if (is.null(window$seen$table) || !wants_figure(window$seen)) {
    return(invisible())
  }
  size <- function(key, default) {
    value <- said[[key]]
    if (is.numeric(value) && length(value) == 1L && !is.na(value)) min(max(value, 240),
      2400) else default
  }
  seen <- window$seen
  draw <- function() {
    in_shades(isTRUE(said$dark), drawn_figure(seen, size("width", 640), size("height", 420)))
  }
  if (forks_safely()) draw_apart(app, window, said, draw)
  else tell_window(window, "figure", c(list(n = said$n), draw()))
}

# How many are drawn at once; others wait their turn.
most_drawings <- 2L

draw_apart <- function(app, window, said, draw) {
  end_drawing(app, window)
  if (length(app$drawings) >= most_drawings) {
    return(later::later(function() {
      if (identical(window$newest, said$n)) draw_apart(app, window, said, draw)
    }, 0.1))
  }
  window$drawing <- begin_apart(draw)
  app$drawings[[window$id]] <- window$drawing$job$pid
  await_drawing(app, window, said, window$drawing)
}

await_drawing <- function(app, window, said, drawing) {
  later::later(function() {
    if (!identical(window$drawing$handed, drawing$handed)) {
      return(invisible())
    }
    outcome <- outcome_apart(drawing, 0)
    if (is.null(outcome)) {
      return(await_drawing(app, window, said, drawing))
    }
    drawn <- if (outcome$done) taken_over(drawing$handed)
    if (is.null(drawn$src) && is.null(drawn$wrong)) {
      drawn <- list(wrong = "<p>The figure could not be drawn.</p>")
    }
    tell_window(window, "figure", c(list(n = said$n), drawn))
    end_drawing(app, window)
  }, 0.03)
}

end_drawing <- function(app, window) {
  if (is.null(window$drawing)) {
    return(invisible())
  }
  end_apart(window$drawing)
  window$drawing <- NULL
  app$drawings[[window$id]] <- NULL
}
