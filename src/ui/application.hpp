#pragma once

#include <QApplication>

#include "core/reading/refused.hpp"
#include "ui/main_window.hpp"

namespace aspen::ui {

/// A refusal on the way (a full disk, a record that cannot be written) is one line in the window, not the
/// end: whatever was refused changed nothing.
class Application : public QApplication {
  public:
    using QApplication::QApplication;
    bool notify(QObject* receiver, QEvent* event) override {
        try {
            return QApplication::notify(receiver, event);
        } catch (const core::Refused& e) {
            const QString line = QString::fromUtf8(e.what());
            for (QWidget* w : topLevelWidgets()) {
                if (auto* window = qobject_cast<MainWindow*>(w)) window->say(line);
            }
            return true;
        }
    }
};

}  // namespace aspen::ui
