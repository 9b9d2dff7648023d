// The application. `under-crease [PROJECT]`; --demo opens the observatory's project with its own log and shelf;
// --screenshots DIR writes one picture per main view and ends.
#include "base/file_name.h"
#include "demo/demo.h"
#include "shell/startup.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QSettings>
#include <QStandardPaths>
#include <QTextStream>

namespace {

/// A name from the command line with all its bytes: the toolkit has turned those that are not text into something else.
QString name_as_given(const QString& parsed, int argc, char** argv) {
  for (int i = 1; i < argc; ++i) {
    if (QString::fromLocal8Bit(argv[i]) == parsed) return uc::app::name_of_bytes(argv[i]);
  }
  return parsed;
}

} // namespace

int main(int argc, char** argv) {
  using namespace uc::app;
  QApplication app(argc, argv);
  QApplication::setOrganizationName("under-crease");
  QApplication::setApplicationName("under-crease");
  QApplication::setApplicationDisplayName("Under Crease");
  QApplication::setApplicationVersion(UC_VERSION);
  QApplication::setDesktopFileName("under-crease");
  QApplication::setWindowIcon(QIcon(data_folder() + "/icons/under-crease.svg"));
  QApplication::setStyle("Fusion");

  QCommandLineParser options;
  options.setApplicationDescription(
      QCoreApplication::translate("main", "A workbench for people who fold paper by measure."));
  options.addHelpOption();
  options.addVersionOption();
  options.addPositionalArgument("project", QCoreApplication::translate("main", "A project file to open."));
  const QCommandLineOption demo(
      "demo", QCoreApplication::translate("main", "Open the demo project with its own log and shelf."));
  const QCommandLineOption pictures(
      "screenshots", QCoreApplication::translate("main", "Write one picture per main view to DIR and end."), "DIR");
  options.addOptions({demo, pictures});
  options.process(app);

  load_fonts();
  const bool for_pictures = options.isSet(pictures);
  const auto choice =
      for_pictures ? ThemeChoice::light : static_cast<ThemeChoice>(QSettings().value("theme", 0).toInt());
  apply_theme(make_theme(choice));

  QString folder = QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/under-crease";
  if (options.isSet(demo) || for_pictures) folder += "/demo";
  if (for_pictures)
    folder = QDir::tempPath() + QStringLiteral("/under-crease-pictures-%1").arg(QCoreApplication::applicationPid());
  QString demo_trouble;
  if (options.isSet(demo) || for_pictures) demo_trouble = prepare_demo(folder);

  Workspace workspace(folder);
  MainWindow window(workspace);
  const QStringList files = options.positionalArguments();
  if (!files.isEmpty())
    window.open_project(name_as_given(files.first(), argc, argv));
  else if (options.isSet(demo) || for_pictures)
    window.open_project(folder + "/open-night.undercrease");
  if (for_pictures) {
    const QString wrong = write_pictures(window, workspace, options.value(pictures));
    if (!wrong.isEmpty()) QTextStream(stderr) << wrong << Qt::endl;
    QDir(folder).removeRecursively();
    return wrong.isEmpty() ? 0 : 1;
  }
  greet(window, workspace, demo_trouble);
  window.show();
  const int code = QApplication::exec();
  end_soon(code);
  return code;
}
