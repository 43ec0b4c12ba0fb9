#pragma once

#include <QUndoCommand>
#include <functional>

#include "app/yard.hpp"

namespace aspen::app {

/// A change as two pieces of work that write to the store and announce themselves.
class Change : public QUndoCommand {
  public:
    Change(const QString& text, std::function<void()> redo, std::function<void()> undo)
        : QUndoCommand(text), redo_(std::move(redo)), undo_(std::move(undo)) {}
    void redo() override { redo_(); }
    void undo() override { undo_(); }

  private:
    std::function<void()> redo_, undo_;
};

/// One joint placed, moved or taken away. Steps of the same gesture on the same joint merge into one.
class PutMark : public QUndoCommand {
  public:
    PutMark(Yard& yard, const store::Moment& moment, core::Landmark landmark, core::Mark before,
            core::Mark after, int gesture);
    void redo() override { write(after_); }
    void undo() override { write(before_); }
    int id() const override { return gesture_ == 0 ? -1 : 1; }
    bool mergeWith(const QUndoCommand* next) override;

  private:
    void write(const core::Mark& mark);
    Yard& yard_;
    store::MomentId moment_;
    store::ClipId clip_;
    core::Landmark landmark_;
    core::Mark before_, after_;
    int gesture_;
};

/// Many joints of one moment changed at once (laid, proposed, carried, confirmed, dragged along), and the
/// head's top.
class PutFigure : public QUndoCommand {
  public:
    struct State {
        core::Figure figure;
        std::optional<core::Point> head_top;
    };
    PutFigure(Yard& yard, const store::Moment& moment, State after, const QString& text, int gesture);
    void redo() override { write(before_, after_); }
    void undo() override { write(after_, before_); }
    int id() const override { return gesture_ == 0 ? -1 : 2; }
    bool mergeWith(const QUndoCommand* next) override;

  private:
    void write(const State& from, const State& to);
    Yard& yard_;
    store::MomentId moment_;
    store::ClipId clip_;
    State before_, after_;
    int gesture_;
};

}  // namespace aspen::app
