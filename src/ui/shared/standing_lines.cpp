#include "ui/shared/standing_lines.hpp"

#include <QWidget>
#include <algorithm>

namespace aspen::ui {

QWidget* StandingLines::add(const QString& says, const std::function<QWidget*()>& make, Qt::Alignment align) {
    const auto from = lines_.begin() + static_cast<std::ptrdiff_t>(at_);
    const auto stands = std::find_if(from, lines_.end(), [&](const Line& l) { return l.says == says; });
    if (stands != lines_.end()) {
        take_away(at_, static_cast<std::size_t>(stands - lines_.begin()));
    } else {
        QWidget* made = make();
        box_.insertWidget(static_cast<int>(at_), made, 0, align);
        lines_.insert(lines_.begin() + static_cast<std::ptrdiff_t>(at_), {says, made});
    }
    return lines_[at_++].widget;
}

void StandingLines::end() { take_away(at_, lines_.size()); }

void StandingLines::take_away(std::size_t from, std::size_t to) {
    for (std::size_t i = from; i < to; ++i) {
        box_.removeWidget(lines_[i].widget);
        lines_[i].widget->hide();
        lines_[i].widget->deleteLater();
    }
    lines_.erase(lines_.begin() + static_cast<std::ptrdiff_t>(from),
                 lines_.begin() + static_cast<std::ptrdiff_t>(to));
}

}  // namespace aspen::ui
