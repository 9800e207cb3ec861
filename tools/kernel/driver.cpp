// The kernel on its own, without R: every header is put to work on made-up input, held against
// plain loops, and on input that is damaged. Built by tools/sanitize under the sanitizers of the
// compiler; ends with 1 where something is wrong.
#include <sys/resource.h>
#include <cstdio>
#include <cstdlib>
#include <map>
#include <random>
#include <set>
#include <string>
#include "days.h"
#include "delimited.h"
#include "encode.h"
#include "fold.h"
#include "gzip.h"
#include "packed.h"
#include "row_lists.h"
#include "scan.h"
#include "state_matrix.h"

using namespace kernel;

namespace {

int wrong = 0;

void expect(bool right, const char* what) {
  if (right) return;
  std::fprintf(stderr, "wrong: %s\n", what);
  ++wrong;
}

std::mt19937 draw(7);
int below(int n) { return static_cast<int>(draw() % static_cast<unsigned>(n)); }

struct Orders {
  std::vector<std::int32_t> day, a, b, keep;
  std::vector<double> amount;
  std::vector<std::int32_t> whole;
  std::vector<std::int64_t> wide;
};

double odd_amount() {
  switch (below(12)) {
    case 0: return std::numeric_limits<double>::quiet_NaN();
    case 1: return std::numeric_limits<double>::infinity();
    case 2: return 1e300 * (below(2) ? 1 : -1);
    case 3: return 1e-300;
    case 4: return below(100) / 3.0;
    case 5: return 9e15 + below(100);
    case 6: return 3e-310;
    default: return (below(200000) - 50000) / 100.0;
  }
}

Orders made(std::size_t n) {
  Orders o;
  for (std::size_t i = 0; i < n; ++i) {
    o.day.push_back(below(9) == 0 ? missing_int : below(40) - 5);
    o.a.push_back(below(7) == 0 ? missing_int : below(3) + 1);
    o.b.push_back(below(4) + 1);
    o.keep.push_back(below(10) == 0 ? missing_int : below(8) != 0);
    o.amount.push_back(odd_amount());
    o.whole.push_back(below(11) == 0 ? missing_int : below(5) == 0 ? 2147483647 : below(1000) - 500);
    o.wide.push_back(below(11) == 0 ? missing_int64 : below(5) == 0 ?
      9007199254740993LL * 500 : below(1000) - 500);
  }
  return o;
}

Watch quiet() {
  return Watch([](double) { return true; });
}

// Folds in several threads are those in one, and lines and sums of whole numbers
// are those of a plain loop.
void folds() {
  for (const std::size_t n : {std::size_t{0}, std::size_t{1}, std::size_t{3000}, std::size_t{60000}}) {
    const Orders o = made(n);
    const std::vector<std::int32_t> span_of = {0, 0, 1, 1, -1, 2, 2, 2, 0, 3};
    const SpanTable spans{2, span_of.data(), 10, 4};
    FoldOrders orders{n, {o.day.data(), nullptr}, {{o.a.data(), 3}, {o.b.data(), 4}}, o.keep.data()};
    const std::vector<WantedColumn> wanted = {
        {{AmountType::real, o.amount.data()}, {true, true, true}},
        {{AmountType::integer, o.whole.data()}, {true, true, true}},
        {{AmountType::integer64, o.wide.data()}, {true, true, true}}};
    Watch watch = quiet();
    const States one = Folder(orders, spans, wanted, true, 1, watch).fold();
    const States four = Folder(orders, spans, wanted, true, 4, watch).fold();
    const std::size_t cells = one.n_groups * 4;
    std::vector<double> lines(cells, 0.0), whole(cells, 0.0);
    for (std::size_t i = 0; i < n; ++i) {
      const int at = o.day[i] == missing_int ? -1 : o.day[i] - 2;
      if (at < 0 || at >= 10 || span_of[at] < 0 || o.keep[i] != 1) continue;
      const std::size_t group = static_cast<std::size_t>(o.a[i] == missing_int ? 3 : o.a[i] - 1) * 5 +
        (o.b[i] - 1);
      const std::size_t cell = static_cast<std::size_t>(span_of[at]) * one.n_groups + group;
      lines[cell] += 1;
      if (o.whole[i] != missing_int) whole[cell] += o.whole[i];
    }
    auto same = [](double x, double y) { return x == y || (x != x && y != y); };
    for (std::size_t k = 0; k < cells; ++k) {
      expect(one.lines.finish(k) == lines[k] && four.lines.finish(k) == lines[k], "lines of a fold");
      expect(std::get<AmountSum>(one.columns[1].states).finish(k, 0) == whole[k], "sums of whole numbers");
      for (int c = 0; c < 3; ++c) {
        each_state([&](auto place) {
          const auto& x = std::get<place>(one.columns[c].states);
          const auto& y = std::get<place>(four.columns[c].states);
          for (std::size_t f = 0; f < StateAt<place>::figures().size(); ++f) {
            expect(same(x.finish(k, static_cast<int>(f)), y.finish(k, static_cast<int>(f))),
              "states in threads");
          }
        });
      }
    }
    const std::vector<std::int32_t> to(one.n_groups, 0);
    StateMatrix<AmountSum> matrix(one.n_groups, 4, std::get<AmountSum>(one.columns[0].states));
    const std::int32_t first[] = {0, 0, missing_int, 2}, end[] = {1, 4, missing_int, 2};
    const auto merged = matrix.merged_groups(to.data(), 1).merged_spans({first, end, 4});
    std::vector<double> out(4);
    merged.finish([](const AmountSum& s, std::size_t k) { return s.finish(k, 0); }, -1.0, out.data());
    expect(out[2] == -1.0 && out[3] == 0.0, "intervals that are missing or empty");
    const CellSorter sorter(one.cell_of_row, one.n_groups, 4, to.data(), 1, 2);
    double all = 0.0;
    for (const double count : lines) all += count;
    expect(sorter.offsets().back() == all, "rows of cells");
  }
}

// Sums of whole numbers beyond 64 bits, and of too many cells.
void limits() {
  AmountSum sum(1);
  for (int i = 0; i < 5000; ++i) sum.add(0, std::numeric_limits<std::int64_t>::max());
  expect(sum.finish(0, 0) == 5000.0 * 9223372036854775807.0, "64-bit whole numbers beyond 64 bits");
  AmountSum large(1);
  for (int i = 0; i < 100000; ++i) large.add(0, 22000000000000.25);
  expect(large.finish(0, 0) == 2200000000000025000.0, "large amounts beyond 64 bits of ten-thousandths");
  const std::vector<std::int32_t> none;
  bool refused = false;
  try {
    group_count({{none.data(), 60000}, {none.data(), 60000}}, 3);
  } catch (const TooManyCells&) {
    refused = true;
  }
  expect(refused, "more cells than can be numbered are refused");
}

void encodes() {
  std::vector<std::uint64_t> keys(400000);
  for (auto& key : keys) key = draw() % 300000;
  std::vector<std::int32_t> codes(keys.size());
  const auto first = encode(keys.size(), [&](std::size_t row) { return keys[row]; }, 5, codes.data(), 3);
  for (std::size_t i = 0; i < keys.size(); ++i) {
    if (keys[i] == 5) expect(codes[i] == missing_int, "missing keys");
    else expect(keys[first[static_cast<std::size_t>(codes[i]) - 1]] == keys[i], "codes of keys");
  }
}

// Any bytes give records or a fault, and the line ends that are told are those that are there.
void reads() {
  const char* pieces[] = {",", "\"", "\n", "\r\n", "\r", "a", "1.5", "\"\"", "\xc3\xa9", "\xff", "x,y\n"};
  for (int trial = 0; trial < 20000; ++trial) {
    std::string text;
    for (int k = below(30); k > 0; --k) text += pieces[below(11)];
    const char* begin = text.data();
    const char* end = begin + text.size();
    line_of_other_encoding(begin, end);
    line_of_zero_byte(begin, end);
    const DelimitedText read = DelimitedReader(begin, end, ',', '"',
      static_cast<std::size_t>(1 + below(3)), 1).read();
    if (read.fault != TextFault::none) continue;
    expect(read.line_ends == count_line_ends(begin, end), "line ends told and counted");
    expect(read.odd.size() == read.faults, "records of another width stand apart");
  }
}

// A text that is scanned without trouble has the cells that the general reader finds.
void scan_beside_reader(const std::string& path, const std::string& text, std::size_t columns, int threads) {
  write_file(path, reinterpret_cast<const unsigned char*>(text.data()), text.size());
  ScanPlan plan{',', '"', "", "", std::vector<ScanType>(columns, ScanType::text)};
  const ScanSource part(path, 0, text.size(), '"');
  const std::size_t places = count_lines(part);
  std::vector<std::vector<std::int32_t>> codes(columns, std::vector<std::int32_t>(places));
  std::vector<ScanTarget> targets;
  for (auto& column : codes) targets.push_back({nullptr, column.data()});
  Watch watch([](double) { return true; });
  ScanSource source(part);
  const ScannedText scanned = scan_blocks(plan, targets, places, source, threads, watch);
  if (scanned.trouble != ScanTrouble::none) return;
  const char* end = text.data() + text.size();
  const DelimitedText read = DelimitedReader(text.data(), end, ',', '"', columns, 1).read();
  expect(read.fault == TextFault::none && read.odd.empty(), "what is scanned can be read");
  expect(read.records == scanned.records, "records scanned and read");
  for (std::size_t c = 0; c < columns; ++c) {
    TextDictionary whole;
    join_codes(scanned.blocks, c, whole, codes[c].data());
    close_ranks(scanned.blocks, codes[c].data());
    bool same = true;
    for (std::size_t r = 0; r < scanned.records; ++r) {
      const std::int32_t ours = codes[c][r];
      const std::int32_t theirs = read.columns[c].codes[r];
      same = same && (ours == missing_int ? theirs == missing_int : theirs != missing_int &&
        whole.texts()[static_cast<std::size_t>(ours) - 1] ==
          read.columns[c].dictionary.texts()[static_cast<std::size_t>(theirs) - 1]);
    }
    expect(same, "cells scanned and read");
  }
}

void scans() {
  char folder[] = "/tmp/kernelXXXXXX";
  if (mkdtemp(folder) == nullptr) return expect(false, "a folder to write in");
  const std::string path = std::string(folder) + "/text";
  const char* cells[] = {"a", "12.50", "\"b, \"\"c\"\"\"", "", "\xc3\xa9", "2026-08-31", "x\"y", "\"\""};
  for (int trial = 0; trial < 1500; ++trial) {
    const auto columns = static_cast<std::size_t>(1 + below(4));
    std::string text;
    for (int line = below(40); line > 0; --line) {
      for (std::size_t c = 0; c < columns; ++c) {
        if (c > 0) text += ',';
        text += cells[below(60) == 0 ? 6 + below(2) : below(6)];
      }
      text += below(50) == 0 ? "" : below(5) == 0 ? "\r\n" : "\n";
    }
    scan_beside_reader(path, text, columns, 1 + below(3));
  }
  std::string large;
  while (large.size() < (std::size_t{5} << 20)) {
    large += std::to_string(below(100000)) + "," + cells[below(6)] + "," + cells[below(6)] + "\n";
  }
  scan_beside_reader(path, large, 3, 3);
  std::remove(path.c_str());
  rmdir(folder);
}

void unpacks() {
  std::string text;
  for (int i = 0; i < 5000; ++i) text += std::to_string(below(1000)) + ",stone\n";
  const auto packed = gzip_of(text);
  const auto whole = gunzip(packed.data(), packed.size(), std::size_t{1} << 30);
  expect(std::string(whole.begin(), whole.end()) == text, "gzip unpacked");
  for (int trial = 0; trial < 300; ++trial) {
    auto damaged = packed;
    if (below(2)) damaged.resize(static_cast<std::size_t>(below(static_cast<int>(packed.size()))) + 1);
    else
      damaged[static_cast<std::size_t>(below(static_cast<int>(packed.size())))] ^=
        static_cast<unsigned char>(1 + below(255));
    try {
      const auto read = gunzip(damaged.data(), damaged.size(), std::size_t{1} << 30);
      // A damaged header may leave the contents whole.
      expect(std::string(read.begin(), read.end()) == text, "damaged gzip");
    } catch (const DamagedGzip&) {
    }
  }
}

// Where no thread can be started the work is done all the same.
void without_threads() {
  rlimit limit{};
  getrlimit(RLIMIT_AS, &limit);
  rlimit tight{std::size_t{220} << 20, limit.rlim_max};
  setrlimit(RLIMIT_AS, &tight);
  std::vector<int> done(64, 0);
  for_blocks(64 * 20000, 64, [&](int block, std::size_t,
    std::size_t) { done[static_cast<std::size_t>(block)] = 1; });
  setrlimit(RLIMIT_AS, &limit);
  int count = 0;
  for (const int one : done) count += one;
  expect(count == 64, "all blocks are worked off without threads");
}

}  // namespace

int main(int argc, char** argv) {
  if (argc > 1 && std::string(argv[1]) == "without-threads") {
    without_threads();
  } else {
    folds();
    limits();
    encodes();
    reads();
    scans();
    unpacks();
  }
  if (wrong == 0) std::puts("kernel: all right");
  return wrong == 0 ? 0 : 1;
}
