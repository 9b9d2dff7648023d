#include "io/runs_file.h"

#include "io/json_codec.h"
#include "io/tables.h"

namespace uc {
namespace {

Result<std::string> runs_json(const RunLog* log, const std::vector<RunSummary>& runs) {
  Json all = Json::array();
  for (const RunSummary& r : runs) {
    const auto detail = log->load(r.id);
    if (!detail) return Error{detail.error()};
    all.push_back(json_of(*detail));
  }
  const Json document = {{"format", "under-crease/log"}, {"version", 1}, {"runs", std::move(all)}};
  return document.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

} // namespace

Result<RunsFile> runs_file(const RunLog* log, const std::vector<RunSummary>& runs, FileFormat format) {
  auto bytes =
      by_format<FileUse::write_runs, Result<std::string>>(format, on<FileFormat::csv>([&] { return log_csv(runs); }),
                                                          on<FileFormat::json>([&] { return runs_json(log, runs); }));
  if (!bytes) return Error{bytes.error()};
  const bool mended = bytes->find("\xEF\xBF\xBD") != std::string::npos;
  return RunsFile{std::move(bytes).value(), mended};
}

} // namespace uc
