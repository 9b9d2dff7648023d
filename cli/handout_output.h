// -o of the commands that plan moves: a hand-out with a drawing and a sentence for each.
#pragma once

#include "command.h"

#include "programme/programme.h"

namespace uc::cli {

/// -o FILE and --small.
struct HandoutOutput {
  std::string file;
  bool small = false;
};
void add_handout(CLI::App& command, HandoutOutput& output, const std::string& of_what = "the hand-out");
/// Nothing where no file was named. `inputs` are not replaced.
void write_handout(const Programme& programme, const std::string& title, const std::string& subtitle,
                   const HandoutOutput& output, const std::vector<std::string>& inputs = {});

} // namespace uc::cli
