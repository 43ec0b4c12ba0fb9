#pragma once

#include <QLabel>
#include <QWidget>
#include <functional>
#include <optional>

#include "core/telling/telling.hpp"
#include "ui/handover/storyboard.hpp"
#include "ui/shared/hint_line.hpp"

namespace aspen::ui {

/// The two ways to a review of a clip, before there is one: talk over it, or let it be made from what was
/// noted, of which it shows what it would tell.
class StartPanel : public QWidget {
    Q_OBJECT
  public:
    StartPanel(app::Thumbs& thumbs, std::function<QAction*(const QString&)> find, QWidget* parent = nullptr);
    /// What would be told of this clip from notes; nothing where nothing is noted.
    void offer(const std::optional<store::Clip>& clip, const std::optional<core::Telling>& from_notes);
    /// One for each thing that would be told.
    const std::vector<Storyboard::Card>& cards() const { return cards_; }

  private:
    QLabel *talk_words_, *notes_heading_, *nothing_;
    HintLine *talk_, *make_;
    Storyboard* board_;
    std::vector<Storyboard::Card> cards_;
};

}  // namespace aspen::ui
