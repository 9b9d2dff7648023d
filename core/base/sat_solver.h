// The one way to the SAT solver (CaDiCaL). It is silent: left alone it tells of itself on standard output, where only
// the answer of a command belongs; and it stops when the work it is part of stops.
#pragma once

#include <functional>
#include <memory>
#include <optional>

namespace uc {

/// Variables are numbers from 1, literals carry the sign of their variable; clauses end with a 0, as in DIMACS.
class SatSolver {
public:
  SatSolver();
  ~SatSolver();
  SatSolver(const SatSolver&) = delete;
  SatSolver& operator=(const SatSolver&) = delete;

  /// Another order of looking; before the first clause.
  void seed(int number);
  void add(int literal);
  /// Which way to decide a variable where nothing else does, from now on.
  void prefer(int literal);
  /// For the next call of `solve` alone.
  void assume(int literal);
  /// Nullopt when `stop` said so, which is asked every few milliseconds.
  std::optional<bool> solve(const std::function<bool()>& stop);
  /// After a "yes". A variable that no clause holds is false.
  [[nodiscard]] bool is_true(int variable) const;
  /// After a "no": whether the assumption was needed for it.
  [[nodiscard]] bool needed(int assumption) const;

private:
  struct Inside;
  std::unique_ptr<Inside> inside_;
};

} // namespace uc
