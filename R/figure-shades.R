# The colours of a drawing: those of the palette, or of one that is made for a dark page.

drawing <- list2env(list(dark = FALSE), parent = emptyenv())

# With the colours for a dark page, where that is asked, while some code runs.
in_shades <- function(dark, code) {
  before <- drawing$dark
  on.exit(drawing$dark <- before)
  drawing$dark <- dark
  force(code)
}

# Beside the palette: least and most of cells, the middle of two signs, cells without a figure,
# lines between, and what is written on the most.
light_shades <- c(least = "#eef0e4", most = "#47603b", middle = "#f7f7f2", none = "#f4f1e8",
  line = "#e7e2d5",
  gap = "#ffffff", on_most = "#ffffff")

dark_shades <- c(
  slate = "#b9c6cf", moss = "#8fae7c", lichen = "#5d6648", rust = "#e09a7d", sand = "#6b604a",
    ink = "#ece9df",
  paper = "#191d20", least = "#262d25", most = "#a5c092", middle = "#22282c", none = "#22282c",
    line = "#2d3439",
  gap = "#191d20", on_most = "#191d20"
)

shades <- function(names) {
  if (drawing$dark) dark_shades[names] else c(drystack_palette, light_shades)[names]
}

shade <- function(name) shades(name)[[1L]]
