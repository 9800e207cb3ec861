# Names of months and weekdays in the languages of the trade, independent of the machine's locale.

month_words <- list(
  en = list(name = month.name, short = month.abb),
  de = list(
    name = c(
      "Januar", "Februar", "M\u00e4rz", "April", "Mai", "Juni",
      "Juli", "August", "September", "Oktober", "November", "Dezember"
    ),
    short = c("Jan", "Feb", "M\u00e4r", "Apr", "Mai", "Jun", "Jul", "Aug", "Sep",
      "Okt", "Nov", "Dez")
  ),
  fr = list(
    name = c(
      "janvier", "f\u00e9vrier", "mars", "avril", "mai", "juin",
      "juillet", "ao\u00fbt", "septembre", "octobre", "novembre", "d\u00e9cembre"
    ),
    short = c(
      "janv", "f\u00e9vr", "mars", "avr", "mai", "juin", "juil", "ao\u00fbt", "sept", "oct",
      "nov", "d\u00e9c"
    )
  ),
  es = list(
    name = c(
      "enero", "febrero", "marzo", "abril", "mayo", "junio", "julio",
      "agosto", "septiembre", "octubre", "noviembre", "diciembre"
    ),
    short = c("ene", "feb", "mar", "abr", "may", "jun", "jul", "ago", "sep", "oct", "nov", "dic")
  ),
  it = list(
    name = c(
      "gennaio", "febbraio", "marzo", "aprile", "maggio", "giugno",
      "luglio", "agosto", "settembre", "ottobre", "novembre", "dicembre"
    ),
    short = c("gen", "feb", "mar", "apr", "mag", "giu", "lug", "ago", "set", "ott", "nov", "dic")
  ),
  nl = list(
    name = c(
      "januari", "februari", "maart", "april", "mei", "juni", "juli",
      "augustus", "september", "oktober", "november", "december"
    ),
    short = c("jan", "feb", "mrt", "apr", "mei", "jun", "jul", "aug", "sep", "okt", "nov", "dec")
  ),
  pt = list(
    name = c(
      "janeiro", "fevereiro", "mar\u00e7o", "abril", "maio", "junho",
      "julho", "agosto", "setembro", "outubro", "novembro", "dezembro"
    ),
    short = c("jan", "fev", "mar", "abr", "mai", "jun", "jul", "ago", "set", "out", "nov", "dez")
  ),
  sv = list(
    name = c(
      "januari", "februari", "mars", "april", "maj", "juni", "juli",
      "augusti", "september", "oktober", "november", "december"
    ),
    short = c("jan", "feb", "mar", "apr", "maj", "jun", "jul", "aug", "sep", "okt", "nov", "dec")
  )
)

# English names: what calendars are told by.
weekday_names <- c("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")

weekday_words <- list(
  en = weekday_names,
  de = c("Montag", "Dienstag", "Mittwoch", "Donnerstag", "Freitag", "Samstag", "Sonntag"),
  fr = c("lundi", "mardi", "mercredi", "jeudi", "vendredi", "samedi", "dimanche"),
  es = c("lunes", "martes", "mi\u00e9rcoles", "jueves", "viernes", "s\u00e1bado", "domingo"),
  it = c("luned\u00ec", "marted\u00ec", "mercoled\u00ec", "gioved\u00ec",
    "venerd\u00ec", "sabato", "domenica"),
  nl = c("maandag", "dinsdag", "woensdag", "donderdag", "vrijdag", "zaterdag", "zondag"),
  pt = c(
    "segunda-feira", "ter\u00e7a-feira", "quarta-feira", "quinta-feira",
    "sexta-feira", "s\u00e1bado", "domingo"
  ),
  sv = c("m\u00e5ndag", "tisdag", "onsdag", "torsdag", "fredag", "l\u00f6rdag", "s\u00f6ndag")
)

check_language <- function(language) check_choice(language, names(month_words), "language")
