#include "ui/review/lower_panel.hpp"

namespace aspen::ui {

LowerPanel::LowerPanel(app::Bench& bench, app::EventLog& log, app::StrideWork& work, const KeyMap& keys,
                       QWidget* parent)
    : QStackedWidget(parent) {
    findings_ = new FindingsPanel(bench, keys, this);
    checks_ = new ChecksPanel(bench, keys, this);
    summary_ = new SummaryPanel(bench, log, this);
    why_ = new WhyPanel(bench, this);
    events_ = new EventPanel(bench, log, keys, this);
    strides_ = new StridesPanel(bench, work, keys, this);
    curves_ = new CurvesPanel(bench, work, keys, this);
    fences_ = new FencesPanel(bench, work, keys, this);
    for (QWidget* w : std::initializer_list<QWidget*>{findings_, checks_, summary_, why_, events_, strides_,
                                                      curves_, fences_})
        addWidget(w);
    connect(strides_, &StridesPanel::wants_curve, this, [this](const QString& measure) {
        curves_->choose(measure.toStdString());
        if (shows() != Shows::curves) toggle(Shows::curves);
    });
    connect(&bench, &app::Bench::clip_opened, this, [this] { setCurrentIndex(0); });
}

void LowerPanel::toggle(Shows what) {
    setCurrentIndex(static_cast<int>(shows() == what ? Shows::findings : what));
    if (shows() == Shows::checks) checks_->open();
    if (shows() == Shows::summary) summary_->open();
    if (shows() == Shows::strides) strides_->open();
    if (shows() == Shows::curves) curves_->open();
    if (shows() == Shows::fences) fences_->open();
    if (shows() == Shows::why) why_->open(findings_->current());
}

void LowerPanel::move(int by) {
    if (shows() == Shows::checks) return checks_->move(by);
    if (shows() == Shows::curves) return curves_->move(by);
    if (shows() == Shows::fences) return fences_->move(by);
    if (shows() == Shows::findings || shows() == Shows::why) findings_->move_current(by);
    if (shows() == Shows::why) why_->open(findings_->current());
}

}  // namespace aspen::ui

#include "moc_lower_panel.cpp"
