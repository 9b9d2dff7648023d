// Runs of the log as a file for other programs.
#pragma once

#include "io/formats.h"
#include "record/run_log.h"

namespace uc {

struct RunsFile {
  std::string bytes;
  bool mended = false; // the log held bytes that are no text; U+FFFD stands for them
};
inline constexpr const char* mended_runs_sentence =
    "The log holds bytes that are not text (UTF-8); in the file a U+FFFD stands for each.";

/// A table of `runs`, or all that the log knows of them. Without a log there are none.
Result<RunsFile> runs_file(const RunLog* log, const std::vector<RunSummary>& runs, FileFormat format);

} // namespace uc
