#pragma once

#include <QBoxLayout>
#include <QString>
#include <functional>
#include <vector>

namespace aspen::ui {

/// Widgets below each other that stand as long as what they say stands: what is shown again is left where it
/// is, with its focus and under the pointer, and only what is new is made. The box holds nothing else.
class StandingLines {
  public:
    /// With `room` what is left of the box stays empty below them.
    explicit StandingLines(QBoxLayout& box, bool room = true) : box_(box) {
        if (room) box_.addStretch(1);
    }
    /// Between begin() and end() everything that is to stand is added from the top down.
    void begin() { at_ = 0; }
    /// The widget that stands for `says`, which names everything that it shows; made where none does.
    QWidget* add(const QString& says, const std::function<QWidget*()>& make, Qt::Alignment align = {});
    /// What was not added again goes; from inside one of its own clicks as well.
    void end();
    std::size_t count() const { return lines_.size(); }

  private:
    struct Line {
        QString says;
        QWidget* widget;
    };
    void take_away(std::size_t from, std::size_t to);
    QBoxLayout& box_;
    std::vector<Line> lines_;
    std::size_t at_ = 0;
};

}  // namespace aspen::ui
