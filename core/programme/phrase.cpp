#include "programme/phrase.h"

#include <fmt/args.h>
#include <fmt/format.h>

namespace uc {

std::string say(const TextStyle& style, const char* phrase,
                std::initializer_list<std::pair<const char*, std::string>> values) {
  fmt::dynamic_format_arg_store<fmt::format_context> store;
  for (const auto& [name, value] : values) store.push_back(fmt::arg(name, value));
  return fmt::vformat(style.translate(phrase), store);
}

} // namespace uc
