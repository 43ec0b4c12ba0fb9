#include "ui/progress/horse_page.hpp"

#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kTop = 84, kHorseRow = 30, kDottedRow = 44, kHorseHead = 34, kHorseGap = 24;
constexpr int kPictureWide = 352, kPictureHigh = 198;

}  // namespace

HorsePage::HorsePage(app::Yard& yard, app::Thumbs& thumbs, QWidget* parent)
    : QWidget(parent), yard_(yard), thumbs_(thumbs) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("A horse over all its riders"));
    make_rows_accessible();
    connect(&thumbs_, &app::Thumbs::changed, this, qOverload<>(&QWidget::update));
}

void HorsePage::next() {
    const auto all = yard_.records().people.horses();
    if (all.empty()) return;
    const auto at = std::ranges::find(all, shown_, &store::Horse::id);
    show_horse(at == all.end() || std::next(at) == all.end() ? all.front().id : std::next(at)->id);
}

void HorsePage::show_horse(store::HorseId id) {
    shown_ = id;
    rows_.clear();
    name_ = tr("No horse yet");
    about_.clear();
    last_.reset();
    if (const auto story = app::story_of(yard_, id)) take(*story);
    lay_out();
    update();
}

void HorsePage::take(const app::HorseStory& story) {
    name_ = text(story.horse.name);
    last_ = story.last;
    QStringList about;
    if (!story.horse.stage.empty()) about << text(story.horse.stage);
    if (story.horse.height_cm) about << tr("%1 cm").arg(*story.horse.height_cm);
    about << (story.horse.stiff_side.empty() ? tr("stiff side not said")
                                             : tr("stiff on the ") + text(story.horse.stiff_side));
    if (story.horse.cold_backed) about << tr("cold-backed");
    if (story.horse.half_seat_better) about << tr("better under a half seat");
    if (!story.horse.words.empty()) about << text(story.horse.words);
    about_ = about.join(" · ");
    take_riders(story);
    for (const auto& s : story.shared) {
        QStringList who(s.riders.begin(), s.riders.end());
        rows_.push_back({tr("What its riders share"), s.fault, who.join(", ")});
    }
    for (const auto& a : story.answers)
        rows_.push_back(
            {tr("What it answers"), a.what, a.rides == 1 ? tr("one ride") : tr("%1 rides").arg(a.rides)});
    for (const auto& w : story.work)
        rows_.push_back(
            {tr("What is corrected on it"),
             w.fault,
             (w.focus ? tr("%1's one thing, since ") : tr("%1, since ")).arg(w.rider.section(' ', 0, 0)) +
                 spoken_date(w.since),
             -1,
             {},
             w.focus});
    rows_.push_back(
        {tr("Leads"),
         story.leads.isEmpty() ? tr("none logged yet: a lead is a key while a canter plays") : story.leads,
         {}});
    int most = 1;
    for (const auto& d : story.load) most = std::max(most, d.minutes);
    for (std::size_t i = 0; i < std::min<std::size_t>(story.load.size(), 10); ++i) {
        const auto& d = story.load[i];
        QString beside = tr("%1 min").arg(d.minutes);
        if (d.fences > 0) beside += tr(", %1 fences").arg(d.fences);
        rows_.push_back({tr("Load of its days"), spoken_date(d.day) + "  " + d.riders.join(", "), beside,
                         static_cast<double>(d.minutes) / most});
    }
    if (story.load.empty())
        rows_.push_back(
            {tr("Load of its days"), tr("no lesson yet: minutes and fences are counted there"), {}});
    for (const auto& n : story.notes)
        rows_.push_back(
            {tr("Notes"), spoken_date(text(n.day)) + "  " + text(n.words.empty() ? n.kind : n.words), {}});
}

/// Each with the rides as dots on one line of time for all, so that one sees who rode it when.
void HorsePage::take_riders(const app::HorseStory& story) {
    QDate first = yard_.today(), last = first;
    for (const auto& r : story.riders) {
        if (!r.days.empty()) first = std::min(first, r.days.front());
    }
    const double span = std::max<double>(1, static_cast<double>(first.daysTo(last)));
    for (const auto& r : story.riders) {
        QString beside = r.rides == 1 ? tr("one ride") : tr("%1 rides").arg(r.rides);
        if (r.open > 0) beside += r.open == 1 ? tr(", one correction") : tr(", %1 corrections").arg(r.open);
        Row row{tr("Who rides it"), r.name, beside + tr(", last ") + spoken_date(r.last_day)};
        for (const QDate& d : r.days) row.dots.push_back(static_cast<double>(first.daysTo(d)) / span);
        rows_.push_back(std::move(row));
    }
}

int HorsePage::row_high(const Row& row) const { return scaled_px(row.dots.empty() ? kHorseRow : kDottedRow); }

/// Blocks go into the shorter of two columns, in their order.
void HorsePage::lay_out() {
    areas_.clear();
    heads_.clear();
    const int wide = (width() - 40) / 2;
    int high[2] = {scaled_px(kTop), scaled_px(kTop)};
    if (last_) {
        last_area_ = {wide + 40, high[1], scaled_px(kPictureWide), scaled_px(kPictureHigh)};
        high[1] += scaled_px(kPictureHigh) + scaled_px(kHorseRow) + kHorseGap;
    }
    for (std::size_t i = 0; i < rows_.size();) {
        std::size_t end = i;
        while (end < rows_.size() && rows_[end].block == rows_[i].block) ++end;
        const int c = high[1] < high[0] ? 1 : 0, x = c * (wide + 40);
        heads_.emplace_back(rows_[i].block, QRect(x, high[c], wide, scaled_px(kHorseHead)));
        high[c] += scaled_px(kHorseHead);
        for (; i < end; ++i) {
            areas_.emplace_back(x, high[c], wide, row_high(rows_[i]));
            high[c] += row_high(rows_[i]);
        }
        high[c] += kHorseGap;
    }
    setMinimumHeight(std::max(high[0], high[1]));
}

QString HorsePage::row_words(int row) const {
    const Row& r = rows_[static_cast<std::size_t>(row)];
    return r.block + ": " + r.words + (r.beside.isEmpty() ? QString() : ", " + r.beside);
}
QRect HorsePage::row_area(int row) const { return areas_[static_cast<std::size_t>(row)]; }

void HorsePage::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    p.setFont(heading_font(26));
    p.setPen(t.ink);
    p.drawText(QRect(0, 0, width(), scaled_px(40)), Qt::AlignLeft | Qt::AlignVCenter, name_);
    p.setFont(text_font(14));
    p.setPen(t.quiet);
    p.drawText(QRect(0, scaled_px(40), width(), scaled_px(24)), Qt::AlignLeft | Qt::AlignVCenter, about_);
    p.setFont(text_font(12));
    p.drawText(QRect(0, 0, width() - 12, scaled_px(40)), Qt::AlignRight | Qt::AlignVCenter,
               tr("O the next horse  ·  Esc back to the corrections"));
    for (const auto& [head, area] : heads_) {
        p.setFont(heading_font(18));
        p.setPen(t.ink);
        p.drawText(area, Qt::AlignLeft | Qt::AlignVCenter, head);
    }
    for (std::size_t i = 0; i < rows_.size(); ++i) paint_row(p, rows_[i], areas_[i]);
    if (last_) paint_last(p);
    paint_current(p, *this);
}

void HorsePage::paint_row(QPainter& p, const Row& r, const QRect& area) const {
    const Theme& t = theme();
    const QRect a(area.topLeft(), QSize(area.width(), scaled_px(kHorseRow)));
    if (r.share >= 0) {
        QColor soft = t.ink;
        soft.setAlpha(30);
        p.fillRect(QRectF(a.left(), a.top() + 3, a.width() * r.share, a.height() - 6), soft);
    }
    const int beside = r.beside.isEmpty() ? 0 : a.width() * 50 / 100;
    QFont f = text_font(14);
    if (r.strong) f.setWeight(QFont::DemiBold);
    p.setFont(f);
    p.setPen(t.ink);
    p.drawText(a.adjusted(6, 0, -beside, 0), Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(r.words, Qt::ElideRight, a.width() - beside - 6));
    p.setFont(text_font(14));
    p.setPen(t.quiet);
    p.drawText(a.adjusted(a.width() - beside, 0, -6, 0), Qt::AlignRight | Qt::AlignVCenter,
               p.fontMetrics().elidedText(r.beside, Qt::ElideRight, beside - 6));
    if (r.dots.empty()) return;
    const double y = area.bottom() - scaled_px(8), left = area.left() + 10, wide = area.width() - 20;
    p.setPen(QPen(t.line, 1));
    p.drawLine(QPointF(left, y), QPointF(left + wide, y));
    p.setPen(Qt::NoPen);
    p.setBrush(t.ink);
    for (const double d : r.dots) p.drawEllipse(QPointF(left + d * wide, y), 3.5, 3.5);
    p.setBrush(Qt::NoBrush);
}

void HorsePage::paint_last(QPainter& p) const {
    const Theme& t = theme();
    const QImage picture = thumbs_.of(last_->clip, last_->clip.last_frame);
    QPainterPath round;
    round.addRoundedRect(last_area_, 8, 8);
    p.save();
    p.setClipPath(round);
    if (picture.isNull()) {
        p.fillRect(last_area_, t.line);
    } else {
        p.setRenderHint(QPainter::SmoothPixmapTransform);
        const QSizeF size = QSizeF(picture.size()).scaled(last_area_.size(), Qt::KeepAspectRatioByExpanding);
        p.drawImage(QRectF(QRectF(last_area_).center() - QPointF(size.width(), size.height()) / 2, size),
                    picture);
    }
    p.restore();
    p.setFont(text_font(12));
    p.setPen(t.quiet);
    p.drawText(QRect(last_area_.left(), last_area_.bottom() + 4, last_area_.width(), scaled_px(20)),
               Qt::AlignLeft | Qt::AlignVCenter,
               last_->rider.isEmpty() ? spoken_date(last_->day)
                                      : tr("%1, under %2").arg(spoken_date(last_->day), last_->rider));
}

void HorsePage::keyPressEvent(QKeyEvent* e) {
    if (!take_row_key(*this, *e)) QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_horse_page.cpp"
