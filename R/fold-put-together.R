# Places of members after those that are not kept were put together: they have the place after the
# last member, and the missing one comes after it.
places_put_together <- function(places, kept) {
  place <- places[[kept$dimension]]
  n <- length(place)
  other <- is.na(match_rows(places[names(kept$places)], kept$places, n, length(kept$places[[1L]])))
  places[[kept$dimension]] <- as.integer(ifelse(other, kept$last + 1L,
    ifelse(place > kept$last, place + 1L, place)))
  places
}
