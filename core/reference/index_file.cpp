// The index in a file: fields one after another in little-endian order, with a checksum, so that a file which is
// damaged, cut short, of another version or of another sheet is known for it and thrown away.
#include "reference/sheet_index.h"

#include "base/atomic_file.h"

#include <bit>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <fmt/format.h>

namespace uc {
namespace {

static_assert(std::endian::native == std::endian::little, "the cache is read and written as it lies in memory");

constexpr char magic[8] = {'U', 'C', 'M', 'A', 'R', 'K', 'S', '\n'};
constexpr std::uint32_t version = 4; // of the file and of the rules by which lines are made

class Writer {
public:
  template <class T> void put(const T& value) {
    const std::size_t at = bytes_.size();
    bytes_.resize(at + sizeof value);
    std::memcpy(bytes_.data() + at, &value, sizeof value);
  }
  void reserve(std::size_t n) { bytes_.reserve(n); }
  std::string& bytes() { return bytes_; }

private:
  std::string bytes_;
};

class IndexReader {
public:
  explicit IndexReader(const std::string& bytes, std::size_t end) : bytes_(bytes), end_(end) {}
  template <class T> T get() {
    T value{};
    if (at_ + sizeof value > end_) {
      ok_ = false;
      return value;
    }
    std::memcpy(&value, bytes_.data() + at_, sizeof value);
    at_ += sizeof value;
    return value;
  }
  [[nodiscard]] bool ok() const { return ok_; }
  [[nodiscard]] bool at_end() const { return at_ == end_; }
  [[nodiscard]] std::size_t left() const { return end_ - at_; }

private:
  const std::string& bytes_;
  std::size_t end_;
  std::size_t at_ = 0;
  bool ok_ = true;
};

std::uint64_t checksum(const std::string& bytes, std::size_t end) {
  std::uint64_t sum = 0xcbf29ce484222325ull;
  std::size_t i = 0;
  for (; i + 8 <= end; i += 8) {
    std::uint64_t word = 0;
    std::memcpy(&word, bytes.data() + i, 8);
    sum = (sum ^ word) * 0x9E3779B97F4A7C15ull;
    sum ^= sum >> 29;
  }
  for (; i < end; ++i) sum = (sum ^ static_cast<unsigned char>(bytes[i])) * 0x100000001b3ull;
  return sum;
}

constexpr std::size_t line_bytes = 3 * 8 + 3 * 4 + 3 + 7 * 4;
constexpr std::size_t point_bytes = 2 * 8 + 2 * 4 + 4 + 3;

} // namespace

std::string SheetIndex::bytes() const {
  Writer w;
  w.reserve(64 + 16 * outline_.size() + line_bytes * lines_.size() + point_bytes * points_.size());
  for (const char c : magic) w.put(c);
  w.put(version);
  w.put(static_cast<std::uint32_t>(outline_.size()));
  for (const Point& p : outline_) w.put(p.x()), w.put(p.y());
  w.put(static_cast<std::uint8_t>(has_all_marks_));
  w.put(static_cast<std::uint64_t>(lines_.size()));
  w.put(static_cast<std::uint64_t>(points_.size()));
  for (const IndexLine& l : lines_) {
    w.put(l.line.normal.x()), w.put(l.line.normal.y()), w.put(l.line.c);
    w.put(l.variance.turn), w.put(l.variance.both), w.put(l.variance.offset);
    w.put(l.op), w.put(l.creases), w.put(static_cast<std::uint8_t>(l.twin));
    for (const std::uint32_t i : l.points) w.put(i);
    for (const std::uint32_t i : l.lines) w.put(i);
    for (const std::uint32_t i : l.needs) w.put(i);
  }
  for (const IndexPoint& p : points_) {
    w.put(p.at.x()), w.put(p.at.y());
    for (const std::uint32_t i : p.lines) w.put(i);
    w.put(p.variance), w.put(p.creases), w.put(static_cast<std::uint8_t>(p.twin));
  }
  w.put(checksum(w.bytes(), w.bytes().size()));
  return std::move(w.bytes());
}

Result<SheetIndex> SheetIndex::from_bytes(const std::string& bytes, const Polygon& sheet) {
  const Error foreign{"The file is not an index of marks for this sheet."};
  if (bytes.size() < sizeof magic + 32) return foreign;
  const std::size_t end = bytes.size() - 8;
  IndexReader r(bytes, end);
  for (const char c : magic) {
    if (r.get<char>() != c) return foreign;
  }
  if (r.get<std::uint32_t>() != version) return foreign;
  std::uint64_t sum = 0;
  std::memcpy(&sum, bytes.data() + end, 8);
  if (sum != checksum(bytes, end)) return Error{"The index of marks is damaged."};
  const Polygon shape = normalised(sheet);
  if (r.get<std::uint32_t>() != shape.size()) return foreign;
  SheetIndex index;
  for (const Point& p : shape) {
    const double x = r.get<double>();
    const Point q{x, r.get<double>()};
    if (!((p - q).norm() < 1e-9)) return foreign;
    index.outline_.push_back(q);
  }
  index.has_all_marks_ = r.get<std::uint8_t>() != 0;
  const auto lines = r.get<std::uint64_t>();
  const auto points = r.get<std::uint64_t>();
  if (lines > 10'000'000 || points > 10'000'000 || lines * line_bytes + points * point_bytes != r.left())
    return foreign;
  const auto in_range = [](const auto& ids, std::uint64_t count) {
    for (const std::uint32_t i : ids) {
      if (i != no_entry && i >= count) return false;
    }
    return true;
  };
  index.lines_.reserve(lines);
  for (std::uint64_t k = 0; k < lines; ++k) {
    IndexLine& l = index.lines_.emplace_back();
    l.line.normal.x() = r.get<double>();
    l.line.normal.y() = r.get<double>();
    l.line.c = r.get<double>();
    l.variance.turn = r.get<float>();
    l.variance.both = r.get<float>();
    l.variance.offset = r.get<float>();
    l.op = r.get<std::uint8_t>();
    l.creases = r.get<std::uint8_t>();
    l.twin = r.get<std::uint8_t>() != 0;
    for (std::uint32_t& i : l.points) i = r.get<std::uint32_t>();
    for (std::uint32_t& i : l.lines) i = r.get<std::uint32_t>();
    for (std::uint32_t& i : l.needs) i = r.get<std::uint32_t>();
    // What a line is made from comes before it, so no chain of makers can run in a circle.
    if (l.op > 7 || !in_range(l.points, points) || !in_range(l.lines, k) || !in_range(l.needs, k)) return foreign;
  }
  index.points_.reserve(points);
  std::uint32_t most_creases = 0;
  for (std::uint64_t k = 0; k < points; ++k) {
    IndexPoint& p = index.points_.emplace_back();
    p.at.x() = r.get<double>();
    p.at.y() = r.get<double>();
    for (std::uint32_t& i : p.lines) i = r.get<std::uint32_t>();
    p.variance = r.get<float>();
    p.creases = r.get<std::uint16_t>();
    p.twin = r.get<std::uint8_t>() != 0;
    const bool in_order = p.creases >= most_creases && p.creases <= most_point_creases;
    if (!in_range(p.lines, lines) || !in_order || !(p.variance >= 0)) return foreign;
    most_creases = p.creases;
  }
  for (std::uint64_t k = 0; k < lines; ++k) {
    for (const std::uint32_t p : index.lines_[k].points) {
      if (p != no_entry && !in_range(index.points_[p].lines, k)) return foreign;
    }
  }
  for (std::uint64_t k = 1; k < lines; ++k) {
    if (index.lines_[k].creases < index.lines_[k - 1].creases || index.lines_[k].creases > 4) return foreign;
  }
  index.finish();
  return index;
}

std::string default_cache_folder() {
  namespace fs = std::filesystem;
  const char* xdg = std::getenv("XDG_CACHE_HOME");
  const char* home = std::getenv("HOME");
  return ((xdg && *xdg ? fs::path(xdg) : fs::path(home ? home : "/tmp") / ".cache") / "under-crease").string();
}

void prune_cache(const std::string& folder, std::uintmax_t most_bytes) {
  namespace fs = std::filesystem;
  struct Kept {
    fs::file_time_type used;
    std::uintmax_t size;
    fs::path file;
  };
  std::error_code ec;
  std::vector<Kept> all;
  std::uintmax_t sum = 0;
  for (const auto& entry : fs::directory_iterator(folder, ec)) {
    const std::string name = entry.path().filename().string();
    if (!entry.is_regular_file(ec) || entry.is_symlink(ec)) continue;
    const auto used = entry.last_write_time(ec);
    // What a write that was broken off has left behind.
    if (name.starts_with(".uc-") && fs::file_time_type::clock::now() - used > std::chrono::hours(1)) {
      fs::remove(entry.path(), ec);
      continue;
    }
    if (!name.starts_with("marks-") || !name.ends_with(".index")) continue;
    all.push_back({used, entry.file_size(ec), entry.path()});
    sum += all.back().size;
  }
  std::sort(all.begin(), all.end(), [](const Kept& a, const Kept& b) { return a.used < b.used; });
  for (std::size_t i = 0; i < all.size() && sum > most_bytes; ++i) {
    if (fs::remove(all[i].file, ec)) sum -= all[i].size;
  }
}

Result<std::shared_ptr<const SheetIndex>> cached_index(const Polygon& sheet, const std::string& folder,
                                                       Progress* progress, const IndexLimits& limits) {
  namespace fs = std::filesystem;
  std::string shape;
  for (const Point& p : normalised(sheet)) shape += fmt::format("{:.9f},{:.9f};", p.x(), p.y());
  const fs::path file = fs::path(folder) / fmt::format("marks-{:016x}.index", checksum(shape, shape.size()));
  std::error_code ec;
  if (fs::exists(file, ec)) {
    if (const auto bytes = read_file(file.string(), 200u << 20)) {
      auto index = SheetIndex::from_bytes(*bytes, sheet);
      // The oldest go first, and one that is used is not old.
      if (index) fs::last_write_time(file, fs::file_time_type::clock::now(), ec);
      if (index) return std::make_shared<const SheetIndex>(std::move(index).value());
    }
  }
  auto built = SheetIndex::build(sheet, limits, progress);
  if (!built) return Error{built.error()};
  auto index = std::make_shared<const SheetIndex>(std::move(built).value());
  fs::create_directories(folder, ec);
  // Without a cache the next search builds the index again; that is all.
  const std::string bytes = index->bytes();
  prune_cache(folder, most_cache_bytes > bytes.size() ? most_cache_bytes - bytes.size() : 0);
  (void)write_atomically(file.string(), bytes);
  if (progress) progress->set(1);
  return std::shared_ptr<const SheetIndex>(std::move(index));
}

std::shared_ptr<const SheetIndex> IndexStore::known(const Polygon& sheet) const {
  const Polygon shape = normalised(sheet);
  const std::lock_guard lock(guard_);
  for (const auto& index : kept_) {
    const Polygon& have = index->outline();
    bool same = have.size() == shape.size();
    for (std::size_t i = 0; same && i < shape.size(); ++i) same = (have[i] - shape[i]).norm() < 1e-9;
    if (same) return index;
  }
  return nullptr;
}

Result<std::shared_ptr<const SheetIndex>> IndexStore::get(const Polygon& sheet, Progress* progress) {
  if (auto index = known(sheet)) return index;
  std::unique_lock one_at_a_time(building_, std::defer_lock);
  while (!one_at_a_time.try_lock_for(std::chrono::milliseconds(20)))
    if (progress && progress->stopped()) return Error{"stopped while another search learnt a shape of sheet"};
  if (auto index = known(sheet)) return index;
  auto index = cached_index(sheet, folder_, progress);
  if (!index) return index;
  constexpr std::size_t most = 3;
  const std::lock_guard lock(guard_);
  kept_.push_back(*index);
  if (kept_.size() > most) kept_.erase(kept_.begin());
  return index;
}

} // namespace uc
