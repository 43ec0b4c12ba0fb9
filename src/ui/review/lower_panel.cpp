#include "ui/review/lower_panel.hpp"

namespace aspen::ui {

LowerPanel::LowerPanel(app::Bench& bench, const KeyMap& keys, QWidget* parent) : QStackedWidget(parent) {
    findings_ = new FindingsPanel(bench, keys, this);
    checks_ = new ChecksPanel(bench, keys, this);
    summary_ = new SummaryPanel(bench, this);
    for (QWidget* w :
         {static_cast<QWidget*>(findings_), static_cast<QWidget*>(checks_), static_cast<QWidget*>(summary_)})
        addWidget(w);
    connect(&bench, &app::Bench::clip_opened, this, [this] { setCurrentIndex(0); });
}

void LowerPanel::toggle(Shows what) {
    setCurrentIndex(static_cast<int>(shows() == what ? Shows::findings : what));
    if (shows() == Shows::checks) checks_->open();
    if (shows() == Shows::summary) summary_->open();
}

void LowerPanel::move(int by) {
    if (shows() == Shows::checks) return checks_->move(by);
    if (shows() == Shows::findings) findings_->move_current(by);
}

}  // namespace aspen::ui
