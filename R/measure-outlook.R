# outlook(m, unit, by = rule): where a figure will be at the end of a period: what is known to
# the cell's last day, carried on by a rule that can be said in a sentence. What is complete is
# as it is.

outlook_rules <- c("days", "trading days", "last year")

parse_outlook <- function(fn, said, vocabulary, depth) {
  parts <- lens_arguments(fn, said, c("unit", "by", "calendar"), vocabulary, depth)
  if (has_outlook(parts$child)) raise("expression", c("An outlook cannot be carried on again.",
    ">" = "Take {.fn outlook} of the figure itself."))
  if (!is_additive(parts$child)) raise("expression", c(
    paste0("{.fn outlook} carries on what adds up day by day, which ",
      quoted(tree_text(parts$child)), " does not."),
    ">" = "Take it of sums or counts: {.code outlook(sales, month) / outlook(lines, month)}."))
  node("outlook", fn = fn, child = parts$child, said = parts$said, options = list(
    unit = period_option(parts$args$unit, parts$args$calendar, vocabulary, fn),
    by = word_option(parts$args$by, outlook_rules, "by", fn)))
}
