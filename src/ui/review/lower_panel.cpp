#include "ui/review/lower_panel.hpp"

namespace aspen::ui {

LowerPanel::LowerPanel(const app::BenchState& now, app::EventLog& log, app::StrideWork& work,
                       app::FencePictures& pictures, const KeyMap& keys, QWidget* parent)
    : QStackedWidget(parent) {
    findings_ = new FindingsPanel(now, keys, this);
    checks_ = new ChecksPanel(now, keys, this);
    summary_ = new SummaryPanel(now, log, this);
    why_ = new WhyPanel(now, this);
    events_ = new EventPanel(now, log, keys, this);
    strides_ = new StridesPanel(now, work, keys, this);
    curves_ = new CurvesPanel(now, work, keys, this);
    fences_ = new FencesPanel(now, work, pictures, keys, this);
    for (BenchPanel* p : panels()) addWidget(p);
    connect(strides_, &StridesPanel::wants_curve, this, [this](const QString& measure) {
        curves_->choose(measure.toStdString());
        if (shows() != Shows::curves) toggle(Shows::curves);
    });
}

std::vector<BenchPanel*> LowerPanel::panels() const {
    return {findings_, checks_, summary_, why_, events_, strides_, curves_, fences_};
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
