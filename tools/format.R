# Breaks lines of more than 100 columns in R files, of code and comments: format.R [FILE ...]. Code
# is broken after the outermost comma or operator that fits; each file must mean the same
# afterwards, or it is left as it is. A line of a roxygen table, and a text that is longer than a
# line, cannot be broken.

width <- 100L

# Where a line may be broken: after commas and operators that want a right-hand side, after an
# opening bracket, and before what a condition in brackets guards. list(column, depth), columns
# counted to the end of the token.
breaks_of <- function(tokens) {
  opening <- c("'('", "'['", "LBB", "'{'")
  operators <- c("','", "AND2", "OR2", "AND", "OR", "'+'", "'-'", "'*'", "'/'", "SPECIAL", "PIPE",
    "EQ_ASSIGN", "NE", "EQ")
  depth <- cumsum(steps_of(tokens))
  unary <- tokens$token %in% c("'+'", "'-'") & c(TRUE,
    utils::head(tokens$token, -1L) %in% c(opening, operators, "LEFT_ASSIGN",
    "EQ_SUB", "GT", "LT", "GE", "LE", "':'", "'!'", "'^'"))
  opens <- tokens$token == "'('"
  guards <- closes_condition(tokens)
  # A comma comes before an operator beside it.
  weaker <- tokens$token %in% c("'+'", "'-'", "'*'", "'/'", "SPECIAL", "PIPE", "NE", "EQ")
  data.frame(line = tokens$line2, column = tokens$col2,
    depth = depth + opens * 0.5 - guards * 0.5 + weaker * 0.25
  )[(tokens$token %in% operators & !unary) | opens | guards, ]
}

# The bracket that closes the condition of an `if` without `else`, where no brace follows.
closes_condition <- function(tokens) {
  found <- logical(nrow(tokens))
  for (i in which(tokens$token %in% c("IF", "FOR"))) {
    open <- i + 1L
    step <- (tokens$token == "'('") - (tokens$token == "')'")
    end <- open - 1L + which(cumsum(step[open:nrow(tokens)]) == 0L)[1L]
    rest <- tokens[seq.int(end + 1L, nrow(tokens)), ]
    on_line <- rest$token[rest$line1 == tokens$line1[end]]
    plain <- length(on_line) > 0L && !any(c("'{'", "ELSE") %in% on_line) &&
      !identical(rest$token[rest$line1 == tokens$line1[end] + 1L][1L], "ELSE")
    found[end] <- tokens$token[i] == "IF" && plain && tokens$token[open] == "'('"
  }
  found
}

# How many brackets each token opens, or closes: "[[" is closed by two.
steps_of <- function(tokens) {
  (tokens$token %in% c("'('", "'['", "'{'")) + 2L * (tokens$token == "LBB") -
    (tokens$token %in% c("')'", "']'", "'}'"))
}

# A function on one line too long has its body on a line of its own, in braces.
braced <- function(lines) {
  pattern <- "^([A-Za-z_.0-9]+ <- function\\([^()]*(\\([^()]*\\)[^()]*)*\\)) ([^{].*)$"
  long <- which(nchar(lines) > width & grepl(pattern, lines))
  for (at in rev(long)) {
    complete <- tryCatch({
      parse(text = lines[at])
      TRUE
    }, error = function(e) FALSE)
    if (complete) {
      lines <- c(lines[seq_len(at - 1L)], paste(sub(pattern, "\\1", lines[at]), "{"),
        paste0("  ", sub(pattern, "\\3", lines[at])), "}", lines[-seq_len(at)])
    }
  }
  lines
}

# Braces about one expression change nothing.
unbraced <- function(said) {
  if (is.call(said)) {
    if (identical(said[[1L]], quote(`function`))) {
      body <- said[[3L]]
      while (is.call(body) && identical(body[[1L]], quote(`{`)) &&
        length(body) == 2L) body <- body[[2L]]
      said[3L] <- list(body)
    }
    for (i in seq_along(said)) if (!identical(said[[i]], quote(expr = )))
      said[i] <- list(unbraced(said[[i]]))
  }
  said
}

broken_code <- function(lines) {
  lines <- braced(lines)
  repeat {
    parsed <- utils::getParseData(parse(text = lines, keep.source = TRUE), includeText = TRUE)
    tokens <- parsed[parsed$terminal & parsed$token != "COMMENT", ]
    tokens <- tokens[order(tokens$line1, tokens$col1), ]
    comments <- parsed[parsed$token == "COMMENT", ]
    long <- setdiff(which(nchar(lines) > width), c(comments$line1, left))
    # A text that goes over lines is not touched.
    long <- setdiff(long, unlist(Map(seq.int, tokens$line1,
      tokens$line2)[tokens$line2 > tokens$line1]))
    if (length(long) == 0L) {
      left <<- integer()
      return(lines)
    }
    at <- long[1L]
    candidates <- breaks_of(tokens)
    candidates <- candidates[candidates$line == at & candidates$column <= width &
      candidates$column < nchar(lines[at]), ]
    begins <- sum(steps_of(tokens)[tokens$line1 < at])
    indent <- nchar(sub("[^ ].*$", "", lines[at]))
    candidates <- candidates[candidates$column > indent + 30L, ]
    # No few letters are left alone.
    more_left <- candidates$column < nchar(lines[at]) - 15L
    if (any(more_left)) candidates <- candidates[more_left, ]
    if (nrow(candidates) == 0L) {
      left <<- c(left, at)
      next
    }
    # Of the outermost the last that fits; where that leaves little on the line, a deeper one.
    best <- candidates[order(candidates$depth, -candidates$column), ]
    fair <- best[best$column > indent + 0.45 * (width - indent), ]
    chosen <- (if (nrow(fair) > 0L) fair else best)[1L, ]
    more <- indent + if (ceiling(chosen$depth) > begins || starts_statement(tokens, at)) 2L else 0L
    rest <- sub("^ +", "", substring(lines[at], chosen$column + 1L))
    under <- if (at < length(lines)) lines[at + 1L] else ""
    rest <- paste0(strrep(" ", more), rest)
    # What goes on below goes on here, where it fits.
    joins <- grepl("[,&|+*/-]$", rest) && nchar(sub("[^ ].*$", "", under)) >= more &&
      grepl("^ *[^ #]", under) &&
      !grepl("^ *(\"[x>i!]\"|[A-Za-z_.]+) = ", under) &&
      nchar(rest) + nchar(trimws(under)) + 1L <= width
    lines <- c(lines[seq_len(at - 1L)], sub(" +$", "", substr(lines[at], 1L, chosen$column)),
      if (joins) paste(rest, trimws(under)) else rest, lines[-seq_len(at + joins)])
    left <<- ifelse(left > at, left + 1L - joins, left)
  }
}

left <- integer()

# What stands in brackets that a broken line opens stands as deep as that line wants it.
deepened <- function(lines) {
  at <- 1L
  repeat {
    tokens <- utils::getParseData(parse(text = lines, keep.source = TRUE), includeText = TRUE)
    tokens <- tokens[tokens$terminal, ]
    tokens <- tokens[order(tokens$line1, tokens$col1), ]
    indent <- nchar(sub("[^ ].*$", "", lines))
    braces <- which(!duplicated(tokens$line1, fromLast = TRUE) & tokens$token == "'{'")
    # The arguments of a function may stand on several lines.
    braces <- braces[opened_line(tokens, braces - 1L) == tokens$line1[braces]]
    opens <- tokens$line1[braces]
    opens <- opens[opens >= at & opens < length(lines)]
    flat <- opens[nzchar(lines[opens + 1L]) & indent[opens + 1L] == indent[opens]]
    if (length(flat) == 0L) {
      return(guarded(lines))
    }
    from <- flat[1L]
    opened <- cumsum(steps_of(tokens))
    begins <- max(which(tokens$line1 == from))
    closing <- begins - 1L + which(opened[begins:length(opened)] < opened[begins])[1L]
    inside <- seq.int(from + 1L, tokens$line1[closing])
    texts <- unlist(Map(seq.int, tokens$line1 + 1L, tokens$line2)[tokens$line2 > tokens$line1])
    inside <- setdiff(inside[nzchar(lines[inside])], texts)
    lines[inside] <- paste0("  ", lines[inside])
    at <- from + 1L
  }
}

# What an `if` guards on a line of its own stands deeper than it.
guarded <- function(lines) {
  parsed <- utils::getParseData(parse(text = lines, keep.source = TRUE), includeText = FALSE)
  for (id in parsed$parent[parsed$token == "IF"]) {
    parts <- parsed[parsed$parent == id & parsed$token != "COMMENT", ]
    parts <- parts[order(parts$line1, parts$col1), ]
    # IF, bracket, condition, bracket, what it guards, and ELSE.
    own <- parts[5L, ]
    indent <- nchar(sub("[^ ].*$", "", lines))
    if (own$line1 == parts$line1[4L] + 1L && indent[own$line1] == indent[parts$line1[4L]]) {
      texts <- parsed[parsed$token == "STR_CONST" & parsed$line2 > parsed$line1, ]
      inside <- setdiff(seq.int(own$line1, own$line2),
        unlist(Map(seq.int, texts$line1 + 1L, texts$line2)))
      lines[inside] <- paste0("  ", lines[inside])
    }
  }
  lines
}

# The line on which the bracket stands that each token closes; its own for other tokens.
opened_line <- function(tokens, which) {
  depth <- cumsum(steps_of(tokens))
  vapply(which, function(i) {
    if (i < 1L || tokens$token[i] != "')'") {
      return(tokens$line1[max(i, 1L)])
    }
    tokens$line1[max(which(depth[seq_len(i)] <= depth[i] & seq_len(i) < i), 0L) + 1L]
  }, 1L)
}

# Whether a line does not carry on a call or operation of the line before.
starts_statement <- function(tokens, line) {
  before <- utils::tail(tokens$token[tokens$line1 < line], 1L)
  length(before) == 0L || !before %in% c("','", "'('", "'['", "LBB", "AND2", "OR2", "AND", "OR",
    "'+'", "'-'", "'*'", "'/'", "SPECIAL", "EQ_SUB", "LEFT_ASSIGN", "EQ", "NE", "PIPE")
}

pattern <- "^( *#'?)( +)(.*)$"

# What a line of comment below begins with that goes on with this one.
lead_below <- function(line) {
  item <- grepl("^ *#' @[a-z]+", line) || grepl("^ *#'? +[*-] ", line)
  paste0(sub(pattern, "\\2", line), if (item) "  ")
}

flows_on <- function(lines, at) {
  under <- if (at < length(lines)) lines[at + 1L] else ""
  grepl(pattern, under) && sub(pattern, "\\1", under) == sub(pattern, "\\1", lines[at]) &&
    sub(pattern, "\\2", under) == lead_below(lines[at]) &&
    !grepl("^ *#'? *([@|*-]|[0-9]+[.])|^ *# *[a-z_]+(, [a-z_]+)*(\\([^)]*\\))?: ", under)
}

# Comments: what does not fit goes to the line below, where that goes on with the same paragraph.
broken_comments <- function(lines) {
  at <- 1L
  while (at <= length(lines)) {
    line <- lines[at]
    if (nchar(line) > width && grepl(pattern, line) && !grepl("^ *#' *[|]", line)) {
      mark <- sub(pattern, "\\1", line)
      lead <- sub(pattern, "\\2", line)
      under <- if (at < length(lines)) lines[at + 1L] else ""
      text <- substr(line, 1L, width + 1L)
      cut <- max(gregexpr(" ", text, fixed = TRUE)[[1L]])
      # No word is left alone.
      last <- utils::tail(gregexpr(" ", substr(line, 1L, cut - 1L), fixed = TRUE)[[1L]], 2L)
      if (!grepl(" ", trimws(substring(line, cut + 1L)), fixed = TRUE) && !flows_on(lines, at))
        cut <- last[1L]
      rest <- substring(line, cut + 1L)
      begins <- lead_below(line)
      flows <- flows_on(lines, at)
      lines[at] <- sub(" +$", "", substr(line, 1L, cut))
      if (flows) {
        lines[at + 1L] <- paste0(mark, begins, rest, " ", sub(pattern, "\\3", under))
      } else {
        lines <- append(lines, paste0(mark, begins, rest), at)
      }
    }
    at <- at + 1L
  }
  lines
}

files <- commandArgs(TRUE)
for (file in files) {
  lines <- readLines(file, encoding = "UTF-8")
  after <- broken_comments(deepened(broken_code(lines)))
  if (identical(after, lines)) next
  same <- identical(lapply(parse(text = lines, keep.source = FALSE), unbraced),
    lapply(parse(text = after, keep.source = FALSE), unbraced))
  if (!same) {
    message("left as it is, since it would mean something else: ", file)
    next
  }
  writeLines(after, file, useBytes = TRUE)
}
