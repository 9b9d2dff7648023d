// Paper that stays folded between moves. Whoever shows, prints, runs or logs a programme asks for words, drawings and
// states here, by the index of the move; they are computed once for the whole programme, by the folder `fold`.
#pragma once

#include "form/piece_form.h"
#include "programme/figure.h"
#include "programme/text.h"

#include <string>

namespace uc {

class Folding {
public:
  Folding() = default;
  Folding(const Folding&) = delete;
  Folding& operator=(const Folding&) = delete;
  virtual ~Folding() = default;

  [[nodiscard]] virtual std::size_t moves() const = 0;
  /// The paper before a move; before the one after the last: the finished piece.
  [[nodiscard]] virtual const PieceForm& form_before(std::size_t move) const = 0;
  [[nodiscard]] virtual Figure figure(std::size_t move) const = 0;
  [[nodiscard]] virtual std::string text(std::size_t move, const TextStyle& style) const = 0;
  [[nodiscard]] virtual std::string check(std::size_t move, const TextStyle& style) const = 0;
  [[nodiscard]] virtual std::string short_text(std::size_t move, const TextStyle& style) const = 0;
  /// Why the steps file is not folded to its end; empty when it is.
  [[nodiscard]] virtual const std::string& refusal() const = 0;
  /// The steps file, from which all of this is made again.
  [[nodiscard]] virtual const std::string& source() const = 0;
};

} // namespace uc
