#include "ui/review/prepared_line.hpp"

#include <QHBoxLayout>

#include "ui/shared/theme.hpp"

namespace aspen::ui {

PreparedLine::PreparedLine(app::PreparedHere& prepared, const KeyMap& keys, QWidget* parent)
    : QWidget(parent), prepared_(prepared) {
    setObjectName("prepared");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 2, 8, 2);
    words_ = new HintLine(keys, this, 14);
    words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    row->addWidget(words_, 1);
    connect(&prepared_, &app::PreparedHere::changed, this, &PreparedLine::refresh);
    hide();
}

void PreparedLine::refresh() {
    const QString seems =
        prepared_.can_take() && prepared_.prepared() ? app::in_words(*prepared_.prepared()) : QString();
    const auto moments = prepared_.open_moments().size();
    const bool nobody = prepared_.found_nobody() && !prepared_.has_moments();
    setVisible(!seems.isEmpty() || moments > 0 || nobody);
    if (isHidden()) return;
    if (nobody)
        return words_->say(tr("Looked through"),
                           tr("   nobody was found in it; [three_clicks] lays the figure by hand"));
    QStringList rest;
    if (!seems.isEmpty()) rest << tr("[take_seems] yes");
    if (moments > 0)
        rest
            << (moments == 1
                    ? tr("one moment that tells: [seems_next] there, [confirm] takes its figure")
                    : tr("%1 moments that tell: [seems_next] next, [confirm] takes its figure").arg(moments));
    words_->say(seems.isEmpty() ? tr("Looked through") : seems, "   " + rest.join(" · "));
}

}  // namespace aspen::ui

#include "moc_prepared_line.cpp"
