// What edges, corners, creases and marks are called in sentences, as the sheet lies when they are said.
#pragma once

#include "programme/phrase.h"
#include "programme/programme.h"

namespace uc {

/// "the left edge", "the crease at 3/8"
std::string element_name(const Element& element, const TextStyle& style = {}, const SheetState& state = {});
/// What only shows as pinches: "the mark at 3/8", "the marks of the level line 3/8".
std::string pinch_name(const Element& element, const TextStyle& style, const SheetState& state);
/// A line of a family by its place: "3/8", in lowest terms.
std::string fraction_name(const Element& element);

enum class Course { level, upright, rising, falling };
/// How a crease runs as the folder sees it, by its longest span.
Course course_of(const std::vector<Segment>& spans, const SheetState& state);

} // namespace uc
