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
    parser.setApplicationDescription(
        QObject::tr("Measures a rider's position on exact frames and follows each correction."));
    parser.addHelpOption();
    parser.addVersionOption();
    const QCommandLineOption demo("demo",
                                  QObject::tr("Open the demo yard; its clips are painted on first start.")),
        yard("yard", QObject::tr("Folder of the yard."), "folder"),
        theme("theme", QObject::tr("light or dark."), "theme"),
        timing("timing", QObject::tr("Print the time to a usable window and end."));
    const QCommandLineOption cache(
        "cache-mb",
        QObject::tr("Memory for decoded pictures of the open clip, megabytes (default 512); remembered."),
        "megabytes");
    parser.addOptions({demo, yard, theme, timing, cache});
    parser.addPositionalArgument("clip", QObject::tr("Clips to open."), QObject::tr("[clip …]"));
    parser.process(application);
    if (blind && !parser.isSet(timing)) {
        std::fprintf(stderr, "There is no display here. Start it on a desktop.\n");
        return 3;
    }
    try {
        load_fonts();
        const QString home =
            QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/aspen-crest/";
        const QString folder =
            parser.isSet(yard) ? parser.value(yard) : home + (parser.isSet(demo) ? "demo" : "yard");
        app::Yard open(folder, app::shipped_knowledge());
        if (parser.isSet(cache))
            open.records().set_setting("cache_mb",
                                       std::to_string(std::clamp(parser.value(cache).toInt(), 64, 16384)));
        const QString kept = QString::fromStdString(open.records().setting("theme"));
        apply_theme(application, theme_choice(parser.isSet(theme) ? parser.value(theme) : kept));
        MainWindow window(open);
        window.show();
        if (parser.isSet(demo)) QTimer::singleShot(0, &window, [&window] { window.start_demo(); });
        if (!parser.positionalArguments().isEmpty()) window.bring_in(parser.positionalArguments());
        if (parser.isSet(timing)) {
            QTimer::singleShot(0, &window, [&] {
                window.grab();
                std::printf("usable window after %lld ms\n", static_cast<long long>(since_start.elapsed()));
                application.quit();
            });
        }
        if (!parser.isSet(timing)) window.prepare_inbox();
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
