# Lists what lintr finds with the project's .lintr; fails when there is anything.
found <- c(
  lintr::lint_package("."), lintr::lint_dir("tools", pattern = "[.]R$"),
  lintr::lint_dir("data-raw"), lintr::lint_dir("bench", pattern = "[.]R$")
)
print(found)
quit(save = "no", status = if (length(found) > 0) 1 else 0)
