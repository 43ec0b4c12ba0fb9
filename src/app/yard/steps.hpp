#pragma once

#include <QStringList>
#include <QUndoStack>

namespace aspen::app {

/// The steps taken, each of which can be taken back. Interface thread only.
class Steps {
  public:
    Steps();
    /// Takes the last step back, or carries it out again; gives one line, which says why not where it is
    /// refused.
    QString undo();
    QString redo();
    /// Those that stand, oldest first, in words.
    QStringList taken() const;
    /// For what cannot be taken back: nothing before it can be either.
    void forget() { stack_.clear(); }
    /// A number for what is one step though it is many changes: a drag, a run of nudges.
    int new_gesture() { return ++last_gesture_; }
    QUndoStack& stack() { return stack_; }

  private:
    QUndoStack stack_;
    int last_gesture_ = 0;
};

}  // namespace aspen::app
