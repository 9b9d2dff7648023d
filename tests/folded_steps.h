// Steps files folded for a test, and what a second opinion says of every state.
#pragma once

#include "fold_checker.h"

#include "fold/sequence.h"
#include "io/steps_json.h"

#include <QtTest>

#include <algorithm>
#include <string>

namespace uc::testing {

inline FoldedSequence folded(const std::string& text) {
  auto file = parse_steps(text);
  if (!file) qFatal("%s: %s", text.c_str(), file.error().c_str());
  return fold_sequence(std::move(file).value());
}

/// The area of the paper by its rim alone: the faces have no say in it.
inline double area_by_rim(const Json& state) {
  double twice = 0;
  std::map<int, std::vector<int>> next;
  for (const Json& e : state["edges"]) {
    if (e[2] != "raw" && e[2] != "cut") continue;
    next[e[0].get<int>()].push_back(e[1].get<int>());
    next[e[1].get<int>()].push_back(e[0].get<int>());
  }
  const int start = next.begin()->first;
  int from = -1;
  int at = start;
  do {
    const auto& ways = next.at(at);
    const int to = ways[0] != from ? ways[0] : ways[1];
    const Json& p = state["vertices"][static_cast<std::size_t>(at)];
    const Json& q = state["vertices"][static_cast<std::size_t>(to)];
    twice += p[0].get<double>() * q[1].get<double>() - q[0].get<double>() * p[1].get<double>();
    from = at;
    at = to;
  } while (at != start);
  return std::abs(twice) / 2;
}

inline std::string all_wrong(const FoldSequence& sequence) {
  const Json json = steps_json(sequence, 0.25);
  for (const Json& state : json["states"]) {
    if (const std::string wrong = FoldChecker(state).wrong(area_by_rim(state)); !wrong.empty())
      return "state " + state["n"].dump() + ": " + wrong;
  }
  return {};
}

} // namespace uc::testing
