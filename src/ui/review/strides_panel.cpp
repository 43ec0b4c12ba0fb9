#include "ui/review/strides_panel.hpp"

#include <QHBoxLayout>
#include <QTimer>
#include <utility>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {

StridesPanel::StridesPanel(const app::BenchState& now, app::StrideWork& work, const KeyMap& keys,
                           QWidget* parent)
    : BenchPanel(now, parent), work_(work) {
    setObjectName("ground");
    setAccessibleName(tr("Over the strides"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(26, 6, 16, 6);
    row->setSpacing(24);
    auto* side = new QVBoxLayout;
    title_ = heading_label("", this);
    title_->setWordWrap(true);
    side->addWidget(title_);
    foot_ = new HintLine(keys, this, 14);
    foot_->setWordWrap(true);
    side->addWidget(foot_);
    side->addStretch(1);
    follow_ = verb_button(tr("Follow the joints"), "", this, true);
    side->addWidget(follow_, 0, Qt::AlignLeft);
    row->addLayout(side, 2);
    auto* holder = new QWidget;
    auto* list = new QVBoxLayout(holder);
    list->setContentsMargins(0, 0, 0, 0);
    list->setSpacing(2);
    list_ = std::make_unique<StandingLines>(*list);
    row->addWidget(scrolled(holder, this), 5);
    connect(follow_, &QPushButton::clicked, this, [this] { work_.busy() ? work_.cancel() : work_.follow(); });
    connect(&work_, &app::StrideWork::changed, this, [this] {
        if (isVisible()) rebuild();
    });
}

/// Reading the strides anew takes longer than a frame: only where another stretch begins.
void StridesPanel::show_frame() {
    if (!isVisible() || !now_.is_open()) return;
    const int first = now_.review().stretch().first;
    if (std::exchange(shown_stretch_, first) != first) rebuild();
}

void StridesPanel::rebuild() {
    list_->begin();
    const auto sayings = work_.sayings();
    lines_.clear();
    for (const core::StrideSaying& s : sayings) lines_ << QString::fromStdString(s.words);
    const bool there = !lines_.isEmpty();
    title_->setText(work_.busy() ? tr("Following …")
                    : there      ? tr("Over the strides")
                                 : tr("Nothing followed yet"));
    follow_->setText(work_.busy() ? tr("Stop") : there ? tr("Follow again") : tr("Follow the joints"));
    follow_->setVisible(!there || work_.busy() || work_.outdated());
    foot_->say(work_.busy() ? tr("You can go on working; it stands here when it is done.")
               : !there ? tr("From the marked moments of this stretch the joints are followed to its ends.")
               : work_.outdated() ? tr("Joints were marked or moved since; follow again to take them in.")
                                  : tr("[curves] shows the curves, [let_go] goes back to the findings"));
    for (const core::StrideSaying& s : sayings) {
        QString line = QString::fromStdString(s.words).toHtmlEscaped();
        const QString measure = QString::fromStdString(s.measure);
        if (!measure.isEmpty())
            line += QString(" &nbsp;<a href='%1' style='color:%2'>%3</a>")
                        .arg(measure, theme().sky.name(), tr("curve"));
        const bool first = &s == &sayings.front();
        list_->add((first ? "1 " : "2 ") + line, [&] {
            auto* label = text_label(line, this, 14, first);
            label->setWordWrap(true);
            label->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
            connect(label, &QLabel::linkActivated, this, &StridesPanel::wants_curve, Qt::QueuedConnection);
            return label;
        });
    }
    list_->end();
}

}  // namespace aspen::ui

#include "moc_strides_panel.cpp"
