// Sentences for moves, generated from their data. Every phrase passes through a translator, so the same move can be
// read in any language and unit.
#pragma once

#include "base/quantity.h"
#include "programme/programme.h"

#include <functional>
#include <initializer_list>
#include <string>
#include <unordered_map>
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
};

/// A phrase in the reader's language with its placeholders filled in.
std::string say(const TextStyle& style, const char* phrase,
                std::initializer_list<std::pair<const char*, std::string>> values = {});

/// "the left edge", "the crease at 3/8"
std::string element_name(const Element& element, const TextStyle& style = {}, const SheetState& state = {});
/// The instruction, one to three short sentences.
std::string move_text(const Programme& programme, const Move& move, const TextStyle& style = {});
/// What to check after the move; empty when there is nothing to check.
std::string check_text(const Programme& programme, const Move& move, const TextStyle& style = {});
/// Two or three words for thumbnails: "1/4", "turn over".
std::string short_text(const Programme& programme, const Move& move, const TextStyle& style = {});
/// The usual caution for blades, glue and so on; empty when none applies.
std::string caution_text(Caution caution, const TextStyle& style = {});

/// Tells all the moves of a programme: what sentences need of the moves before them is collected once, so that telling
/// a programme takes time in proportion to its length. The programme must outlive it and stay as it is.
class ProgrammeTeller {
public:
  explicit ProgrammeTeller(const Programme& programme, TextStyle style = {});
  /// move_text and check_text of the move at an index.
  [[nodiscard]] std::string text(std::size_t move) const;
  [[nodiscard]] std::string check(std::size_t move) const;

  struct Index {
    std::unordered_map<int, std::size_t> elements;             // where each is listed
    std::unordered_map<int, std::vector<std::size_t>> makings; // moves that make an element
    std::unordered_map<int, std::size_t> mentioned;            // the first move that refers to it
    std::vector<std::pair<bool, double>> lies;                 // before each move: underside up, degrees turned
  };

private:
  const Programme& programme_;
  TextStyle style_;
  Index index_;
};

} // namespace uc
