#include "io/unknown_fields.h"

namespace uc {

using Json = nlohmann::json;

namespace {

/// The key by which an item of a list is known wherever it stands; null when it has none.
const char* naming_key(const Json& item) {
  for (const char* key : {"name", "title"})
    if (item.is_object() && item.contains(key)) return key;
  return nullptr;
}

} // namespace

Json unseen(const Json& document, const SeenKeys& seen) {
  Json out;
  if (document.is_array()) {
    bool any = false;
    out = Json::array();
    for (const Json& item : document) {
      Json kept = item.is_structured() ? unseen(item, seen) : Json();
      any = any || !kept.is_null();
      if (const char* key = kept.is_object() ? naming_key(item) : nullptr) kept[key] = item[key];
      out.push_back(std::move(kept));
    }
    return any ? out : Json();
  }
  if (!document.is_object()) return out;
  for (const auto& [key, value] : document.items()) {
    if (!seen.contains(&value)) {
      if (key != inside_key) out[key] = value;
    } else if (Json inside = unseen(value, seen); !inside.is_null()) {
      out[inside_key][key] = std::move(inside);
    }
  }
  return out;
}

void put_back(Json& document, const Json& unknown) {
  if (document.is_object() && unknown.is_object()) {
    for (const auto& [key, value] : unknown.items())
      if (key != inside_key && !document.contains(key)) document[key] = value;
    const auto inside = unknown.find(inside_key);
    if (inside == unknown.end()) return;
    for (const auto& [key, value] : inside->items())
      if (document.contains(key)) put_back(document[key], value);
  } else if (document.is_array() && unknown.is_array()) {
    for (std::size_t i = 0; i < unknown.size(); ++i) {
      if (!unknown[i].is_structured()) continue;
      const char* key = naming_key(unknown[i]);
      if (!key && document.size() != unknown.size()) continue;
      for (std::size_t k = 0; k < document.size(); ++k) {
        const bool same = key ? document[k].is_object() && document[k].value(key, Json()) == unknown[i][key] : k == i;
        if (same) put_back(document[k], unknown[i]);
      }
    }
  }
}

} // namespace uc
