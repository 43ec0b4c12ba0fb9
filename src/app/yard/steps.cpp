#include "app/yard/steps.hpp"

#include <QObject>

#include "core/reading/refused.hpp"

namespace aspen::app {

constexpr int kStepsKept = 500;

Steps::Steps() { stack_.setUndoLimit(kStepsKept); }

QString Steps::undo() {
    if (!stack_.canUndo()) return QObject::tr("There is nothing to take back.");
    const QString what = stack_.undoText();
    try {
        stack_.undo();
        return QObject::tr("Taken back: ") + what.toLower();
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
}

QString Steps::redo() {
    if (!stack_.canRedo()) return QObject::tr("There is nothing to do again.");
    const QString what = stack_.redoText();
    try {
        stack_.redo();
        return QObject::tr("Done again: ") + what.toLower();
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
}

QStringList Steps::taken() const {
    QStringList out;
    for (int i = 0; i < stack_.index(); ++i) out << stack_.text(i);
    return out;
}

}  // namespace aspen::app
