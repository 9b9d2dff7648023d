// The file of a project (.undercrease), open JSON described in docs/project-file.md, and that of the shelf.
#pragma once

#include "io/json_codec.h"
#include "project/project.h"

namespace uc {

constexpr int project_version = 4;

std::string project_text(const Project& project);
/// What becomes of a project whose file has no programme, or one for another size of sheet: it is planned at once,
/// which may take seconds, or left without one. What is left is also a programme of steps, which reading folds.
enum class WithoutMoves { plan, leave };
/// `source` names the file in messages.
Result<Project> project_from_text(const std::string& text, const std::string& source,
                                  WithoutMoves without = WithoutMoves::plan);

Status save_project(const Project& project, const std::string& path);
Result<Project> load_project(const std::string& path, WithoutMoves without = WithoutMoves::plan);

/// Brings a document of an older version up to project_version; fails for newer ones.
Result<Json> migrated(Json document, const std::string& source);

/// The shelf of stocks, a JSON file in the data folder.
Result<std::vector<Stock>> load_shelf(const std::string& path);
Status save_shelf(const std::vector<Stock>& shelf, const std::string& path);

} // namespace uc
