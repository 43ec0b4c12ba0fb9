#include "app/yard/steps.hpp"

#include <QObject>
#include <functional>

#include "core/reading/refused.hpp"

namespace aspen::app {

constexpr int kStepsKept = 500;

Steps::Steps() { stack_.setUndoLimit(kStepsKept); }

namespace {

/// Says what was taken back or done again; a refusal is said instead, and nothing has changed.
QString carried_out(const QString& said, const QString& step, const std::function<void()>& go) {
    try {
        go();
        return said + step.toLower();
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
}

}  // namespace

QString Steps::undo() {
    if (!stack_.canUndo()) return QObject::tr("There is nothing to take back.");
    return carried_out(QObject::tr("Taken back: "), stack_.undoText(), [this] { stack_.undo(); });
}

QString Steps::redo() {
    if (!stack_.canRedo()) return QObject::tr("There is nothing to do again.");
    return carried_out(QObject::tr("Done again: "), stack_.redoText(), [this] { stack_.redo(); });
}

QStringList Steps::taken() const {
    QStringList out;
    for (int i = 0; i < stack_.index(); ++i) out << stack_.text(i);
    return out;
}

}  // namespace aspen::app
