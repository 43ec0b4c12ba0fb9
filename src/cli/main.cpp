#include <QGuiApplication>
#include <iostream>

#include "cli/verbs.hpp"

int main(int argc, char** argv) {
    // Pictures and pages need Qt's painting, but never a screen.
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QGuiApplication application(argc, argv);
    return aspen::cli::run({argv + 1, argv + argc}, std::cout, std::cerr);
}
