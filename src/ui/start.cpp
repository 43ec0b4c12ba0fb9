#include "ui/start.hpp"

#include <QApplication>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QStandardPaths>
#include <QTimer>
#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <string>

#include "app/files/data_files.hpp"
#include "core/reading/refused.hpp"
#include "ui/application.hpp"
#include "ui/main_window.hpp"

namespace aspen::ui {
namespace {

constexpr int kMostWaitAtEndMs = 1500;

ThemeChoice theme_choice(const QString& said) {
    if (said == "dark") return ThemeChoice::dark;
    if (said == "light") return ThemeChoice::light;
    return ThemeChoice::by_palette;
}

struct StartOptions {
    QCommandLineOption demo{"demo", QObject::tr("Open the demo yard; its clips are painted on first start.")};
    QCommandLineOption yard{"yard", QObject::tr("Folder of the yard."), "folder"};
    QCommandLineOption theme{"theme", QObject::tr("light or dark."), "theme"};
    QCommandLineOption timing{"timing", QObject::tr("Print the time to a usable window and end.")};
    QCommandLineOption cache{
        "cache-mb",
        QObject::tr("Memory for decoded pictures of the open clip, megabytes (default 512); remembered."),
        "megabytes"};
};

void add_options(QCommandLineParser& parser, const StartOptions& options) {
    parser.setApplicationDescription(
        QObject::tr("Measures a rider's position on exact frames and follows each correction."));
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addOptions({options.demo, options.yard, options.theme, options.timing, options.cache});
    parser.addPositionalArgument("clip", QObject::tr("Clips to open."), QObject::tr("[clip …]"));
}

}  // namespace

int start(int argc, char** argv, const char* version) {
    QElapsedTimer since_start;
    since_start.start();
    const bool has_screen =
        qEnvironmentVariableIsSet("DISPLAY") || qEnvironmentVariableIsSet("WAYLAND_DISPLAY");
    const bool blind = !has_screen && !qEnvironmentVariableIsSet("QT_QPA_PLATFORM");
    if (blind) qputenv("QT_QPA_PLATFORM", "offscreen");  // so that --help works
    Application application(argc, argv);
    QApplication::setApplicationName("aspen-crest");
    QApplication::setApplicationVersion(version);
    QCommandLineParser parser;
    const StartOptions said;
    add_options(parser, said);
    parser.process(application);
    if (blind && !parser.isSet(said.timing)) {
        std::fprintf(stderr, "There is no display here. Start it on a desktop.\n");
        return 3;
    }
    try {
        load_fonts();
        const QString home =
            QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/aspen-crest/";
        const QString folder = parser.isSet(said.yard) ? parser.value(said.yard)
                                                       : home + (parser.isSet(said.demo) ? "demo" : "yard");
        app::Yard open(folder, app::shipped_knowledge());
        if (parser.isSet(said.cache))
            open.set("cache_mb", std::to_string(std::clamp(parser.value(said.cache).toInt(), 64, 16384)));
        const QString kept = QString::fromStdString(open.records().settings.setting("theme"));
        apply_theme(application, theme_choice(parser.isSet(said.theme) ? parser.value(said.theme) : kept));
        MainWindow window(open);
        window.show();
        if (parser.isSet(said.demo)) QTimer::singleShot(0, &window, [&window] { window.start_demo(); });
        if (!parser.positionalArguments().isEmpty()) window.bring_in(parser.positionalArguments());
        if (parser.isSet(said.timing)) {
            QTimer::singleShot(0, &window, [&] {
                window.grab();
                std::printf("usable window after %lld ms\n", static_cast<long long>(since_start.elapsed()));
                application.quit();
            });
        }
        if (!parser.isSet(said.timing)) window.prepare_inbox();
        const int code = QApplication::exec();
        // Nothing is half-written by what has not ended yet: it writes under other names until it is whole.
        if (!open.jobs().shut_down(kMostWaitAtEndMs)) std::_Exit(code);
        return code;
    } catch (const core::Refused& e) {
        std::fprintf(stderr, "%s\n", e.what());
        return 3;
    }
}

}  // namespace aspen::ui
