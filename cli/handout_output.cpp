#include "handout_output.h"

#include "io/formats.h"
#include "io/handout.h"
#include "io/pdf.h"

namespace uc::cli {

void add_handout(CLI::App& command, HandoutOutput& output, const std::string& of_what) {
  command.add_option("-o,--output", output.file, "Write " + of_what + ": FILE " + endings_for(FileUse::write_creasing));
  command.add_flag("--small", output.small, "Twelve moves a page of a .pdf in place of six");
}

void write_handout(const Programme& programme, const std::string& title, const std::string& subtitle,
                   const HandoutOutput& output, const std::vector<std::string>& inputs) {
  const std::string& file = output.file;
  if (file.empty() && output.small) throw CallError{"--small belongs to -o; name a .pdf"};
  if (file.empty()) return;
  const auto format = format_for(FileUse::write_creasing, file);
  if (!format) throw CallError{"-o " + format.error()};
  if (output.small && *format != FileFormat::pdf) throw CallError{"--small belongs to a .pdf; end -o so"};
  refuse_to_replace("-o", file, inputs);
  const auto bytes = by_format<FileUse::write_creasing, Result<std::string>>(
      *format, on<FileFormat::html>([&] { return handout_html(programme, title, subtitle, {}); }),
      on<FileFormat::pdf>([&] {
        PrintOptions print;
        print.fonts = {font_folder()};
        print.small = output.small;
        return pdf_of(handout_pages(programme, title, subtitle, print), title, print.fonts);
      }));
  if (!bytes) throw CallError{"-o: " + bytes.error()};
  write_output("-o", file, *bytes);
}

} // namespace uc::cli
