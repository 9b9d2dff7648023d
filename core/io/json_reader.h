// Reading our own JSON strictly: every number whole and within its range, every word one that is known, every mistake
// reported with the path of its key ("programme.moves[3].seconds"). What is absent keeps the default of the caller.
#pragma once

#include "base/clean_text.h"
#include "base/names.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <cmath>
#include <cstdint>
#include <limits>
#include <memory>
#include <optional>
#include <stdexcept>
#include <string>
#include <unordered_set>
#include <vector>

namespace uc {

/// Thrown while a document is read and turned into a Result where reading began; says the key's path.
class FieldError : public std::runtime_error {
public:
  using std::runtime_error::runtime_error;
};

/// Coordinates and lengths in files reach as far as 100 m.
constexpr double most_file_mm = 100'000;
/// Lists in files are at most this long.
constexpr std::size_t most_file_items = 2'000'000;

/// What has been looked at in a document, so that what this version does not know can be told and kept.
using SeenKeys = std::unordered_set<const nlohmann::json*>;

class JsonReader {
public:
  /// `seen`, when given, learns of every key that is asked for.
  explicit JsonReader(const nlohmann::json& value, const char* name = "", SeenKeys* seen = nullptr)
      : value_(&value), step_{nullptr, name, none}, seen_(seen) {}

  /// The way to this value from the document, put together when it is asked for.
  [[nodiscard]] std::string path() const { return path_of(step_); }
  [[nodiscard]] const nlohmann::json& json() const { return *value_; }
  [[noreturn]] void fail(const std::string& what) const {
    const std::string where = path();
    throw FieldError(fmt::format("{}: {}", where.empty() ? "document" : where, what));
  }

  /// The member of an object; null stands for one that is absent.
  [[nodiscard]] std::optional<JsonReader> find(const char* key) const {
    if (!value_->is_object()) fail(fmt::format("an object must stand here, not {}", told()));
    const auto it = value_->find(key);
    if (it == value_->end()) return std::nullopt;
    if (seen_) seen_->insert(&*it);
    if (it->is_null()) return std::nullopt;
    return JsonReader(*it, {as_parent(), key, none}, seen_);
  }
  [[nodiscard]] JsonReader at(const char* key) const {
    if (const auto found = find(key)) return *found;
    JsonReader(*value_, {as_parent(), key, none}, nullptr).fail("is missing");
  }
  /// The elements of a list of `least` to `most`.
  [[nodiscard]] std::vector<JsonReader> list(std::size_t least = 0, std::size_t most = most_file_items) const {
    if (!value_->is_array()) fail(fmt::format("a list must stand here, not {}", told()));
    if (value_->size() < least || value_->size() > most)
      fail(fmt::format("has {} entries; it must have {}", value_->size(),
                       least == most ? std::to_string(least) : fmt::format("{} to {}", least, most)));
    std::vector<JsonReader> all;
    all.reserve(value_->size());
    const auto parent = as_parent();
    for (std::size_t i = 0; i < value_->size(); ++i) all.push_back(JsonReader((*value_)[i], {parent, "", i}, seen_));
    return all;
  }
  [[nodiscard]] std::vector<JsonReader> list_at(const char* key) const {
    const auto found = find(key);
    return found ? found->list() : std::vector<JsonReader>{};
  }

  [[nodiscard]] double number(double least, double most) const {
    if (!value_->is_number()) fail(fmt::format("a number must stand here, not {}", told()));
    const double v = value_->get<double>();
    if (!std::isfinite(v) || v < least || v > most)
      fail(fmt::format("{} cannot be used; it must be {} to {}", told(), least, most));
    return v;
  }
  [[nodiscard]] std::int64_t whole(std::int64_t least, std::int64_t most) const {
    if (!value_->is_number_integer()) fail(fmt::format("a whole number must stand here, not {}", told()));
    const bool large = value_->is_number_unsigned() &&
                       value_->get<std::uint64_t>() > std::uint64_t{std::numeric_limits<std::int64_t>::max()};
    const std::int64_t v = large ? std::numeric_limits<std::int64_t>::max() : value_->get<std::int64_t>();
    if (large || v < least || v > most)
      fail(fmt::format("{} cannot be used; it must be {} to {}", told(), least, most));
    return v;
  }
  [[nodiscard]] int index() const { return static_cast<int>(whole(0, std::numeric_limits<int>::max())); }
  [[nodiscard]] bool flag() const {
    if (!value_->is_boolean()) fail(fmt::format("true or false must stand here, not {}", told()));
    return value_->get<bool>();
  }
  [[nodiscard]] std::string text() const {
    if (!value_->is_string()) fail(fmt::format("a text must stand here, not {}", told()));
    return value_->get<std::string>();
  }
  /// A word of an enum.
  template <Worded E> [[nodiscard]] E word() const {
    const auto value = named<E>(text());
    if (!value) fail(fmt::format("{} is not a word that is known here", told()));
    return *value;
  }

  [[nodiscard]] double number(const char* key, double least, double most, double absent) const {
    const auto f = find(key);
    return f ? f->number(least, most) : absent;
  }
  [[nodiscard]] int whole(const char* key, int least, int most, int absent) const {
    const auto f = find(key);
    return f ? static_cast<int>(f->whole(least, most)) : absent;
  }
  [[nodiscard]] bool flag(const char* key, bool absent) const {
    const auto f = find(key);
    return f ? f->flag() : absent;
  }
  [[nodiscard]] std::string text(const char* key, std::string absent) const {
    const auto f = find(key);
    return f ? f->text() : std::move(absent);
  }
  template <Worded E> [[nodiscard]] E word(const char* key, E absent) const {
    const auto f = find(key);
    return f ? f->word<E>() : absent;
  }
  [[nodiscard]] std::vector<int> indices(const char* key) const {
    std::vector<int> all;
    for (const JsonReader& i : list_at(key)) all.push_back(i.index());
    return all;
  }
  [[nodiscard]] std::vector<std::string> texts(const char* key) const {
    std::vector<std::string> all;
    for (const JsonReader& t : list_at(key)) all.push_back(t.text());
    return all;
  }

private:
  static constexpr std::size_t none = static_cast<std::size_t>(-1);
  /// One step of the way: a key, or the place in a list. Most are never put into words.
  struct Step {
    std::shared_ptr<const Step> parent;
    const char* key = "";
    std::size_t index = none;
  };
  JsonReader(const nlohmann::json& value, Step step, SeenKeys* seen)
      : value_(&value), step_(std::move(step)), seen_(seen) {}
  [[nodiscard]] std::shared_ptr<const Step> as_parent() const { return std::make_shared<const Step>(step_); }
  static std::string path_of(const Step& step) {
    const std::string before = step.parent ? path_of(*step.parent) : std::string();
    if (step.index != none) return fmt::format("{}[{}]", before, step.index);
    return before.empty() || *step.key == '\0' ? before + step.key : before + "." + step.key;
  }
  /// The value as it stands in the file, short enough for a sentence.
  [[nodiscard]] std::string told() const {
    if (value_->is_object()) return "an object";
    if (value_->is_array()) return "a list";
    return clipped(shown_text(value_->dump(-1, ' ', false, nlohmann::json::error_handler_t::replace)), 60);
  }
  const nlohmann::json* value_;
  Step step_;
  SeenKeys* seen_ = nullptr;
};

} // namespace uc
