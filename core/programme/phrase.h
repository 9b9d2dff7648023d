// Phrases in the reader's language: every sentence of the core is put together from these.
#pragma once

#include "base/quantity.h"

#include <functional>
#include <initializer_list>
#include <string>
#include <utility>

namespace uc {

/// Turns an English phrase of this file into the reader's language; placeholders in braces stay.
using Translator = std::function<std::string(const char*)>;

struct TextStyle {
  LengthUnit unit = LengthUnit::mm;
  Translator translate = [](const char* phrase) { return std::string(phrase); };
  /// Edges and corners are named as the folder sees the sheet at that move, turned over and rotated; else as on the
  /// bare sheet, face up.
  bool as_it_lies = true;
  /// Letters and numbers by which things are called are told apart from words (see naming.h).
  bool names_told_apart = false;
};

/// A phrase in the reader's language with its placeholders filled in.
std::string say(const TextStyle& style, const char* phrase,
                std::initializer_list<std::pair<const char*, std::string>> values = {});

} // namespace uc
