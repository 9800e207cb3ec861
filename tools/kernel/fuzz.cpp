// A search for bytes that lead the kernel astray, led by coverage: what passes a new place is kept
// and changed further. The first byte of an input says which part of the kernel it goes to. What
// holds for every input is checked; the sanitizers see the rest.
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <random>
#include <string>
#include "coverage.h"
#include "days.h"
#include "delimited.h"
#include "encode.h"
#include "fold.h"
#include "gzip.h"
#include "packed.h"
#include "packing.h"
#include "parquet_columns.h"
#include "row_lists.h"
#include "state_matrix.h"
#include "zip.h"

using namespace kernel;
using Bytes = std::vector<unsigned char>;

namespace {

void must(bool right, const char* what) {
  if (right) return;
  std::fprintf(stderr, "wrong: %s\n", what);
  std::abort();
}

// Takes numbers off an input; zeros once it is used up.
class Source {
 public:
  explicit Source(const Bytes& bytes) : bytes_(bytes) {}
  unsigned byte() { return at_ < bytes_.size() ? bytes_[at_++] : 0U; }
  int below(int n) { return static_cast<int>(byte() % static_cast<unsigned>(n)); }
  std::uint64_t word() {
    std::uint64_t value = 0;
    for (int i = 0; i < 8; ++i) value = value << 8 | byte();
    return value;
  }
  double real() {
    const std::uint64_t bits = word();
    double value;
    std::memcpy(&value, &bits, sizeof(value));
    return value;
  }
  std::string rest() { return std::string(bytes_.begin() + static_cast<std::ptrdiff_t>(at_), bytes_.end()); }

 private:
  const Bytes& bytes_;
  std::size_t at_ = 0;
};

void read_text(Source& source) {
  const char separator = ",;\t"[source.below(3)];
  const auto columns = static_cast<std::size_t>(1 + source.below(4));
  const std::string text = source.rest();
  const char* begin = text.data();
  const char* end = begin + text.size();
  line_of_other_encoding(begin, end);
  line_of_zero_byte(begin, end);
  const DelimitedText read = DelimitedReader(begin, end, separator, '"', columns, 1).read();
  if (read.fault != TextFault::none) return;
  must(read.line_ends == count_line_ends(begin, end), "line ends told and counted");
  for (const auto& column : read.columns) must(column.codes.size() == read.records, "a code for each record");
}

void unpack(Source& source) {
  const bool gzip = source.below(2) == 0;
  const std::string packed = source.rest();
  const auto* data = reinterpret_cast<const unsigned char*>(packed.data());
  try {
    if (gzip) {
      gunzip(data, packed.size(), std::size_t{1} << 22);
    } else {
      const ZipArchive archive(data, packed.size());
      for (const auto& part : archive.parts()) {
        if (part.size < (std::size_t{1} << 22)) archive.read(part);
      }
    }
  } catch (const DamagedGzip&) {
  } catch (const DamagedZip&) {
  }
}

// The end of a part of a Parquet file is the end of a file with these groups.
void read_parquet_end(Source& source) {
  const int file = 64 * source.below(256), first = source.below(8), more = source.below(8);
  const std::string rest = source.rest();
  try {
    const ParquetEnd whole(std::vector<unsigned char>(rest.begin(), rest.end()), file);
    const std::size_t from = std::min<std::size_t>(first, whole.groups().size());
    const std::size_t to = std::min<std::size_t>(from + more, whole.groups().size());
    const ParquetEnd part(whole.end_of(from, to), file);
    must(part.groups().size() == to - from, "groups of a part");
    must(part.columns().size() == whole.columns().size(), "columns of a part");
    for (std::size_t g = from; g < to; ++g)
      must(part.groups()[g - from].rows == whole.groups()[g].rows, "rows of a part");
  } catch (const DamagedParquet&) {
  }
}

// The pages of a column, as texts or as numbers.
void read_pages(Source& source) {
  const bool text = source.below(2) == 0, optional = source.below(2) == 0;
  const auto packing = source.below(2) == 0 ? ParquetPacking::snappy : ParquetPacking::none;
  const auto rows = static_cast<std::size_t>(1 + source.below(100));
  const std::string rest = source.rest();
  const ByteRun bytes(reinterpret_cast<const unsigned char*>(rest.data()), rest.size());
  std::vector<std::int32_t> codes(rows);
  std::vector<double> numbers(rows);
  TextDictionary texts;
  try {
    if (text) ChunkReader<TextValues>(packing, optional, TextValues(codes.data(), texts)).read(bytes, 0, rows);
    else {
      using Numbers = FixedValues<std::int64_t, double>;
      ChunkReader<Numbers>(packing, optional, Numbers(numbers.data(), 100)).read(bytes, 0, rows);
    }
  } catch (const DamagedParquet&) { return;
  } catch (const OtherForm&) { return;
  } catch (const DamagedBytes&) { return;
  }
  const auto most = static_cast<std::int32_t>(texts.texts().size());
  for (const std::int32_t code : codes)
    must(!text || code == missing_int || (code >= 1 && code <= most), "codes of texts that there are");
}

// A dictionary of two texts, and a page of three rows: one of them missing.
Bytes pages_seed() {
  return {5, 0, 0, 1, 2, 0x15, 4, 0x15, 20, 0x15, 20, 0x4c, 0x15, 4, 0x15, 0, 0, 0, 1, 0, 0, 0, 'a', 1, 0, 0, 0, 'b',
    0x15, 0, 0x15, 18, 0x15, 18, 0x2c, 0x15, 6, 0x15, 16, 0x15, 6, 0x15, 6, 0, 0, 2, 0, 0, 0, 3, 5, 1, 3, 2};
}

// Two rows of one column in each of two groups.
Bytes parquet_seed() {
  const Bytes group = {0x19, 0x1c, 0x3c, 0x76, 0x10, 0x26, 0x08, 0x00, 0x00, 0x16, 0x10, 0x16, 0x04, 0x00};
  Bytes seed = {4, 1, 0, 1, 0x15, 0x02, 0x19, 0x2c, 0x48, 1, 'r', 0x15, 0x02, 0x00, 0x15, 0x0a, 0x38, 1, 'v',
    0x00, 0x16, 0x08, 0x19, 0x2c};
  for (int i = 0; i < 2; ++i) seed.insert(seed.end(), group.begin(), group.end());
  seed.push_back(0);
  return seed;
}

void code(Source& source) {
  std::vector<std::uint64_t> keys(static_cast<std::size_t>(source.below(200)));
  for (auto& key : keys) key = source.below(3) == 0 ? source.word()
    : static_cast<std::uint64_t>(source.below(7));
  std::vector<std::int32_t> codes(keys.size());
  const auto first = encode(keys.size(), [&](std::size_t row) { return keys[row]; },
    5, codes.data(), 1 + source.below(3));
  for (std::size_t i = 0; i < keys.size(); ++i) {
    if (keys[i] == 5) must(codes[i] == missing_int, "missing keys");
    else must(keys[first[static_cast<std::size_t>(codes[i]) - 1]] == keys[i], "codes of keys");
  }
}

double amount(Source& source) {
  switch (source.below(5)) {
    case 0: return source.real();
    case 1: return source.below(100) / 3.0;
    case 2: return 1e300 * source.below(3);
    default: return static_cast<double>(static_cast<std::int16_t>(source.word())) / 100.0;
  }
}

bool same(double x, double y) { return x == y || (x != x && y != y); }

// Handed from one process to another; of some bytes less there are no states.
template <class State>
StateMatrix<State> handed(StateMatrix<State> states) {
  Packer packing;
  states.pack(packing);
  const auto& bytes = packing.bytes();
  StateMatrix<State> whole(0, 0), none(0, 0);
  Unpacker(bytes.data(), bytes.size()).take(whole);
  bool refused = false;
  try {
    Unpacker(bytes.data(), bytes.size() - 1).take(none);
  } catch (const std::invalid_argument&) {
    refused = true;
  }
  must(refused, "packed states that end too soon");
  return whole;
}

// The fold of two parts, merged, is the fold of the whole.
void fold_and_merge(Source& source) {
  const auto n = static_cast<std::size_t>(source.below(64));
  std::vector<std::int32_t> day(n), group(n);
  std::vector<double> amounts(n);
  for (std::size_t i = 0; i < n; ++i) {
    day[i] = source.below(8) - 1;
    group[i] = source.below(4) == 0 ? missing_int : 1 + source.below(3);
    amounts[i] = amount(source);
  }
  const std::vector<std::int32_t> span_of = {0, 1, 1, -1, 2, 2};
  const SpanTable spans{0, span_of.data(), 6, 3};
  auto folded = [&](std::size_t first, std::size_t count) {
    FoldOrders orders{count, {day.data() + first, nullptr}, {{group.data() + first, 3}}, nullptr};
    const std::vector<WantedColumn> wanted = {{{AmountType::real, amounts.data() + first},
      {true, true, true}}};
    Watch watch([](double) { return true; });
    return Folder(orders, spans, wanted, false, 1, watch).fold();
  };
  const std::size_t cut = n == 0 ? 0 : static_cast<std::size_t>(source.below(static_cast<int>(n) + 1));
  States whole = folded(0, n), first = folded(0, cut), second = folded(cut, n - cut);
  const std::vector<std::int32_t> to = {0, 1, 2, 3};
  each_state([&](auto place) {
    using State = StateAt<place>;
    auto matrix = [&](States& states) { return StateMatrix<State>(4,
      3, std::get<place>(states.columns[0].states)); };
    StateMatrix<State> merged(4, 3);
    merged.take(matrix(first), to.data());
    merged.take(handed(matrix(second)), to.data());
    for (int f = 0; f < static_cast<int>(State::figures().size()); ++f) {
      std::vector<double> got(12), want(12);
      auto finish = [f](const State& s, std::size_t k) { return s.known(k) ? s.finish(k, f) : -0.5; };
      merged.finish(finish, -1.0, got.data());
      matrix(whole).finish(finish, -1.0, want.data());
      for (std::size_t k = 0; k < 12; ++k) must(same(got[k], want[k]), State::name);
    }
  });
}

void put_to_work(const Bytes& input) {
  Source source(input);
  switch (source.below(6)) {
    case 0: return read_text(source);
    case 5: return read_pages(source);
    case 4: return read_parquet_end(source);
    case 1: return unpack(source);
    case 2: return code(source);
    default: return fold_and_merge(source);
  }
}

std::mt19937 draw(11);
std::size_t below(std::size_t n) { return draw() % n; }

// What formats are made of: a change often puts one of these in.
const std::vector<std::string> pieces = {
    "\"", "\"\"", ",", ";", "\t", "\n", "\r\n", "\r", "1.5", "\xc3\xa9",
    "\xff", "\x1f\x8b\x08", "PK\x03\x04", "PK\x01\x02", "PK\x05\x06",
    std::string("\0\0\0\0", 4), "\x7f\xf0", "\xff\xff\xff\xff", "\n\"", "\",\""};

Bytes changed(Bytes input, const std::vector<Bytes>& kept) {
  for (std::size_t times = 1 + below(4); times > 0; --times) {
    const std::size_t at = input.empty() ? 0 : below(input.size());
    const auto place = input.begin() + static_cast<std::ptrdiff_t>(at);
    switch (below(6)) {
      case 0:
        if (!input.empty()) input[at] ^= static_cast<unsigned char>(1U << below(8));
        break;
      case 1:
        if (!input.empty()) input[at] = static_cast<unsigned char>(draw());
        break;
      case 2: {
        const std::string& piece = pieces[below(pieces.size())];
        input.insert(place, piece.begin(), piece.end());
        break;
      }
      case 3:
        input.erase(place, place + static_cast<std::ptrdiff_t>(std::min(input.size() - at, 1 + below(8))));
        break;
      case 4: {
        const Bytes& other = kept[below(kept.size())];
        if (other.empty()) break;
        const std::size_t from = below(other.size());
        const auto count = static_cast<std::ptrdiff_t>(std::min(other.size() - from, 1 + below(40)));
        const Bytes copy(other.begin() + static_cast<std::ptrdiff_t>(from),
          other.begin() + static_cast<std::ptrdiff_t>(from) + count);
        input.insert(place, copy.begin(), copy.end());
        break;
      }
      default:
        if (!input.empty()) input.resize(at + 1);
    }
  }
  if (input.size() > 4096) input.resize(4096);
  return input;
}

Bytes packed(const std::string& text) {
  Bytes out = gzip_of(text);
  out.insert(out.begin(), {1, 0});  // for unpack(), as gzip
  return out;
}

}  // namespace

int main(int argc, char** argv) {
  const double seconds = argc > 1 ? std::atof(argv[1]) : 10;
  const std::string text = std::string("\0\0\1", 3) + "a,b\n1,\"x\"\"y\"\r\n2,\n";
  std::vector<Bytes> kept = {Bytes(text.begin(), text.end()), packed("a,b\n1,2\n1,2\n1,2\n"),
    {1, 1}, {2, 40}, {3, 30}, parquet_seed(), pages_seed()};
  std::vector<std::uint8_t> seen(coverage_size, 0);
  const auto begun = std::chrono::steady_clock::now();
  auto taken = [&] { return std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
    };
  std::size_t tried = 0;
  for (; tried % 256 != 0 || taken() < seconds; ++tried) {
    const Bytes input = tried < kept.size() ? kept[tried] : changed(kept[below(kept.size())], kept);
    clear_coverage();
    put_to_work(input);
    bool fresh = false;
    for (std::size_t i = 0; i < coverage_size; ++i) {
      const std::uint8_t count = coverage()[i];
      const auto bits = static_cast<std::uint8_t>(count == 0 ? 0 : count < 4 ? 1 : count < 32 ? 2 : 4);
      fresh = fresh || (bits & ~seen[i]) != 0;
      seen[i] |= bits;
    }
    if (fresh) kept.push_back(input);
  }
  std::size_t places = 0;
  for (const auto bits : seen) places += bits != 0;
  std::printf("fuzz: %zu inputs, %zu kept, %zu places passed, no fault\n", tried, kept.size(), places);
  return 0;
}
