#include "ui/review/summary_panel.hpp"

#include <QHBoxLayout>

#include "core/ride/over_strides.hpp"

#include "app/leaving/bundle_in.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

QString view_words(const std::string& view) {
    if (view == "side") return QObject::tr("a clip side on would tell");
    if (view == "rear") return QObject::tr("some seconds from behind would tell");
    return {};
}

}  // namespace

SummaryPanel::SummaryPanel(const app::BenchState& now, app::EventLog& log, QWidget* parent)
    : BenchPanel(now, parent), log_(log) {
    setObjectName("ground");
    setAccessibleName(tr("What the ride says"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(26, 6, 16, 6);
    row->setSpacing(24);
    for (int n = 0; n < 4; ++n) {
        auto* holder = new QWidget;
        auto* column = new QVBoxLayout(holder);
        column->setContentsMargins(0, 0, 0, 0);
        column->setSpacing(2);
        columns_.push_back(std::make_unique<StandingLines>(*column));
        row->addWidget(scrolled(holder, this), n == 1 || n == 3 ? 4 : 3);
    }
}

void SummaryPanel::show_state(app::BenchParts what) {
    using P = app::BenchPart;
    if (isVisible() && !now_.marking().dragging() && what & (P::findings | P::figure)) rebuild();
}

void SummaryPanel::open() { rebuild(); }
QStringList SummaryPanel::lines() const { return lines_; }

void SummaryPanel::fill(int column, const QString& title, const QStringList& lines, const QString& none) {
    StandingLines& to = *columns_[static_cast<std::size_t>(column)];
    to.add("# " + title, [&] { return text_label(title, this, 14, true); });
    lines_ << title;
    for (const QString& line : lines) {
        to.add(line, [&] {
            auto* label = text_label(line, this, 14);
            label->setWordWrap(true);
            return label;
        });
        lines_ << line;
    }
    if (lines.isEmpty()) to.add("none " + none, [&] { return quiet_label(none, this); });
}

void SummaryPanel::rebuild() {
    lines_.clear();
    for (const auto& column : columns_) column->begin();
    const core::RideSummary s = core::summary_of(now_.findings().assessment(),
                                                 now_.review().gathered(std::nullopt), now_.knowledge());
    fill(0, tr("Good"), now_.findings().what_is_good(), tr("Nothing was named or measured yet."));
    QStringList findings, horse, open;
    for (const core::RideSummary::Line& l : s.findings)
        findings << QString("%1, %2").arg(text(l.fault->name), text(l.words));
    for (const store::Remark& r : now_.review().remarks()) {
        if (r.kind == store::RemarkKind::finding) findings << text(r.words);
    }
    for (const std::string& h : s.horse) horse << text(h);
    QStringList happened = log_.words_of_ride();
    const core::RideData ride = now_.review().gathered(std::nullopt);
    for (const std::string& line : core::in_words(core::stride_changes(ride.strides), now_.amounts()))
        happened << text(line);
    for (const core::NotJudged& n : s.open) {
        const QString view = view_words(n.view);
        open << QString("%1: %2").arg(sentence(text(n.words)), view.isEmpty() ? text(n.why) : view);
    }
    fill(1, tr("To work on"), findings, tr("Nothing is outside its band."));
    if (!horse.isEmpty() || happened.isEmpty())
        fill(2, tr("The horse"), horse, tr("Nothing was seen of the horse's answer."));
    if (!happened.isEmpty()) fill(2, tr("What happened"), happened, {});
    for (const store::Parcel& p : now_.records().leaving.parcels_of(now_.review().ride().id)) {
        const QStringList said = app::words_of_parcel(p);
        if (!said.isEmpty()) fill(2, tr("Said by %1, of another yard").arg(text(p.sender)), said, {});
    }
    fill(3, tr("Not judged"), open,
         s.open.empty() && now_.review().moments().empty() ? tr("Nothing is marked yet.")
                                                           : tr("Everything could be judged."));
    for (const auto& column : columns_) column->end();
}

}  // namespace aspen::ui

#include "moc_summary_panel.cpp"
