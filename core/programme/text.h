// Sentences for moves, generated from their data. Every phrase passes through a translator, so the same move can be
// read in any language and unit.
#pragma once

#include "programme/element_name.h"

#include <string>
#include <unordered_map>
#include <utility>

namespace uc {

/// Tells the moves of a programme by their indices: what sentences need of the moves before them is collected once, so
/// that telling a programme takes time in proportion to its length. The programme must outlive it and stay as it is.
class ProgrammeTeller {
public:
  explicit ProgrammeTeller(const Programme& programme, TextStyle style = {});
  /// The instruction, one to three short sentences.
  [[nodiscard]] std::string text(std::size_t move) const;
  /// What to check after the move; empty when there is nothing to check.
  [[nodiscard]] std::string check(std::size_t move) const;
  /// The things that `text` calls by a letter or a number, each once.
  [[nodiscard]] std::vector<ElementId> named(std::size_t move) const;
  /// Two or three words for thumbnails: "1/4", "turn over".
  [[nodiscard]] std::string short_text(std::size_t move) const;

  struct Index {
    std::unordered_map<ElementId, std::size_t> elements;             // where each is listed
    std::unordered_map<ElementId, std::vector<std::size_t>> makings; // moves that make an element
    std::unordered_map<ElementId, std::size_t> mentioned;            // the first move that refers to it
    std::unordered_map<ElementId, std::size_t> last_mentioned;       // the last, by the marks that lie on it as well
    std::vector<std::pair<bool, double>> lies;                       // before each move: underside up, degrees turned
  };

private:
  const Programme& programme_;
  TextStyle style_;
  Index index_;
};

/// One move told by itself. Tell several with a ProgrammeTeller.
std::string move_text(const Programme& programme, std::size_t move, const TextStyle& style = {});

/// The usual caution for blades, glue and so on; empty when none applies.
std::string caution_text(Caution caution, const TextStyle& style = {});

} // namespace uc
