#pragma once

#include <QLabel>
#include <QVBoxLayout>
#include <QWidget>
#include <functional>
#include <optional>

#include "core/telling/telling.hpp"
#include "ui/shared/hint_line.hpp"

namespace aspen::ui {

/// The two ways to a review of a clip, before there is one: talk over it, or let it be made from what was
/// noted, of which it shows what it would tell.
class StartPanel : public QWidget {
    Q_OBJECT
  public:
    StartPanel(std::function<QAction*(const QString&)> find, QWidget* parent = nullptr);
    /// What would be told from notes; nothing where nothing is noted. Without a clip, `open` is false.
    void offer(bool open, const std::optional<core::Telling>& from_notes);
    /// A line for each thing that would be told.
    const QStringList& lines() const { return lines_; }

  private:
    QLabel *talk_words_, *notes_heading_, *notes_;
    HintLine *talk_, *make_;
    QStringList lines_;
};

}  // namespace aspen::ui
