// R's door to libyaml, event by event: plain data only, each with the line it stands on. What no
// report needs and a reader can be hurt by (anchors, aliases, tags, deep nesting, many values)
// is refused where it stands.
#include <Rcpp.h>
#include <yaml.h>
#include <unordered_set>
#include <vector>

namespace {

struct YamlFault {
  std::string what;
  int line;
};

constexpr int deepest = 20;
constexpr int most_values = 10000;

// A value as R holds it, and its lines: list(line, children by name or place).
struct Read {
  SEXP value;
  SEXP lines;
};

class Reader {
 public:
  explicit Reader(const std::string& text) {
    yaml_parser_initialize(&parser_);
    yaml_parser_set_encoding(&parser_, YAML_UTF8_ENCODING);
    yaml_parser_set_input_string(&parser_, reinterpret_cast<const unsigned char*>(text.data()), text.size());
  }
  ~Reader() {
    yaml_event_delete(&event_);
    yaml_parser_delete(&parser_);
  }
  Reader(const Reader&) = delete;
  Reader& operator=(const Reader&) = delete;

  Rcpp::List document() {
    next();  // the stream begins
    next();
    if (event_.type == YAML_STREAM_END_EVENT) return kept({R_NilValue, R_NilValue});
    next();
    const Rcpp::List whole = kept(value(0));
    next();  // the document ends
    next();
    if (event_.type != YAML_STREAM_END_EVENT) fail("second");
    return whole;
  }

 private:
  yaml_parser_t parser_{};
  yaml_event_t event_{};
  int values_ = 0;

  static Rcpp::List kept(const Read& read) {
    const Rcpp::Shield<SEXP> value(read.value), lines(read.lines);
    return Rcpp::List::create(Rcpp::_["fault"] = "", Rcpp::_["said"] = static_cast<SEXP>(value),
                              Rcpp::_["lines"] = static_cast<SEXP>(lines));
  }

  int line() const { return static_cast<int>(event_.start_mark.line) + 1; }
  [[noreturn]] void fail(const std::string& what) const { throw YamlFault{what, line()}; }

  void next() {
    yaml_event_delete(&event_);
    if (!yaml_parser_parse(&parser_, &event_)) {
      const std::string what = parser_.problem ? parser_.problem : "unknown";
      throw YamlFault{"syntax: " + what, static_cast<int>(parser_.problem_mark.line) + 1};
    }
  }

  void check_plain(const yaml_char_t* anchor, const yaml_char_t* tag) const {
    if (anchor) fail("anchor");
    if (tag) fail("tag");
  }

  // The value whose first event is the current one.
  Read value(int depth) {
    if (depth > deepest) fail("deep");
    if (++values_ > most_values) fail("many");
    switch (event_.type) {
      case YAML_ALIAS_EVENT: fail("anchor");
      case YAML_SCALAR_EVENT: return scalar();
      case YAML_SEQUENCE_START_EVENT: return sequence(depth);
      case YAML_MAPPING_START_EVENT: return mapping(depth);
      default: fail("syntax: something else than a value");
    }
  }

  std::string scalar_text() const {
    return std::string(reinterpret_cast<const char*>(event_.data.scalar.value), event_.data.scalar.length);
  }

  Read scalar() {
    check_plain(event_.data.scalar.anchor, event_.data.scalar.tag);
    const bool plain = event_.data.scalar.style == YAML_PLAIN_SCALAR_STYLE;
    Rcpp::RObject found = plain ? plain_value(scalar_text()) : text_value(scalar_text());
    return {found, line_of(line(), Rcpp::List())};
  }

  static Rcpp::RObject text_value(const std::string& text) {
    if (text.find('\0') != std::string::npos) return Rcpp::CharacterVector::create(NA_STRING);
    return Rcpp::CharacterVector::create(Rcpp::String(text, CE_UTF8));
  }

  // Only what is plain is more than text: nothing, true and false, decimal numbers.
  static Rcpp::RObject plain_value(const std::string& text) {
    if (text.empty() || text == "~" || text == "null" || text == "Null" || text == "NULL") return R_NilValue;
    if (text == "true" || text == "True" || text == "TRUE") return Rcpp::LogicalVector::create(true);
    if (text == "false" || text == "False" || text == "FALSE") return Rcpp::LogicalVector::create(false);
    if (text.size() > 40) return text_value(text);
    const Digits digits = digits_of(text);
    if (digits == Digits::whole) return Rcpp::IntegerVector::create(std::stoi(text));
    if (digits == Digits::number) return Rcpp::NumericVector::create(R_strtod(text.c_str(), nullptr));
    return text_value(text);
  }

  enum class Digits { none, whole, number };

  // A sign, digits that do not begin with a zero more, a fraction, an exponent of up to three digits.
  static Digits digits_of(const std::string& text) {
    std::size_t at = text[0] == '-' || text[0] == '+' ? 1 : 0;
    const auto run = [&text, &at] {
      const std::size_t from = at;
      while (at < text.size() && text[at] >= '0' && text[at] <= '9') ++at;
      return at - from;
    };
    const std::size_t first = at;
    const std::size_t before = run();
    if (before > 1 && text[first] == '0') return Digits::none;
    if (at == text.size()) return before == 0 ? Digits::none : before <= 9 ? Digits::whole : Digits::number;
    std::size_t behind = 0;
    if (text[at] == '.') {
      ++at;
      behind = run();
    }
    if (before + behind == 0) return Digits::none;
    if (at < text.size() && (text[at] == 'e' || text[at] == 'E')) {
      ++at;
      if (at < text.size() && (text[at] == '-' || text[at] == '+')) ++at;
      const std::size_t power = run();
      if (power < 1 || power > 3) return Digits::none;
    }
    return at == text.size() ? Digits::number : Digits::none;
  }

  SEXP line_of(int at, const Rcpp::List& children) {
    const Rcpp::List lines = Rcpp::List::create(Rcpp::_["line"] = at, Rcpp::_["children"] = children);
    return lines;
  }

  // What has been read of a list or of keys with values.
  struct Parts {
    std::vector<Rcpp::RObject> values, lines;
    void add(const Read& read) {
      const Rcpp::Shield<SEXP> value(read.value), of_value(read.lines);
      values.emplace_back(static_cast<SEXP>(value));
      lines.emplace_back(static_cast<SEXP>(of_value));
    }
    static Rcpp::List list(const std::vector<Rcpp::RObject>& from) {
      return Rcpp::List(from.begin(), from.end());
    }
  };

  // Single values of one type are one vector.
  static Rcpp::RObject together(const std::vector<Rcpp::RObject>& values) {
    const Rcpp::List list = Parts::list(values);
    if (values.empty()) return list;
    const auto type = TYPEOF(values[0]);
    for (const auto& value : values) {
      if (TYPEOF(value) != type || type == VECSXP || Rf_xlength(value) != 1) return list;
    }
    return Rcpp::Function("unlist")(list);
  }

  Read sequence(int depth) {
    check_plain(event_.data.sequence_start.anchor, event_.data.sequence_start.tag);
    const int at = line();
    Parts parts;
    for (next(); event_.type != YAML_SEQUENCE_END_EVENT; next()) parts.add(value(depth + 1));
    const Rcpp::RObject values = together(parts.values);
    return {values, line_of(at, Parts::list(parts.lines))};
  }

  Read mapping(int depth) {
    check_plain(event_.data.mapping_start.anchor, event_.data.mapping_start.tag);
    const int at = line();
    const bool in_braces = event_.data.mapping_start.style == YAML_FLOW_MAPPING_STYLE;
    Parts parts;
    Rcpp::CharacterVector names;
    std::unordered_set<std::string> seen;
    for (next(); event_.type != YAML_MAPPING_END_EVENT; next()) {
      if (event_.type == YAML_ALIAS_EVENT) fail("anchor");
      if (event_.type != YAML_SCALAR_EVENT) fail("key");
      check_plain(event_.data.scalar.anchor, event_.data.scalar.tag);
      const std::string key = scalar_text();
      const int of_key = line();
      if (!seen.insert(key).second) fail("twice");
      names.push_back(Rcpp::String(key, CE_UTF8));
      next();
      parts.add(value(depth + 1));
      Rcpp::List(parts.lines.back())["line"] = of_key;
    }
    // A name alone in braces is a parameter: `from: {first}` needs no quotes.
    if (in_braces && parts.values.size() == 1 && Rf_isNull(parts.values[0])) {
      return {text_value("{" + Rcpp::as<std::string>(names[0]) + "}"), line_of(at, Rcpp::List())};
    }
    Rcpp::List values = Parts::list(parts.values);
    Rcpp::List lines = Parts::list(parts.lines);
    values.names() = names;
    lines.names() = names;
    return {values, line_of(at, lines)};
  }
};

}  // namespace

// list(fault: "" or what is wrong, line; said: the data; lines: list(line, children) in the shape
// of the data).
// [[Rcpp::export(rng = false)]]
Rcpp::List kernel_read_yaml(std::string text) {
  try {
    return Reader(text).document();
  } catch (const YamlFault& fault) {
    return Rcpp::List::create(Rcpp::_["fault"] = fault.what, Rcpp::_["line"] = fault.line);
  }
}
