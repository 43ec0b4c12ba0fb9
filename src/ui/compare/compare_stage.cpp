#include "ui/compare/compare_stage.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <cmath>

#include "core/judging/target.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

using L = core::Landmark;

constexpr int kTurnMs = 450;
constexpr double kStageGap = 4, kNearest = 1.3;

bool there(const core::Figure& f, L l) { return f[l].visibility != core::Visibility::absent; }

}  // namespace

CompareStage::CompareStage(app::Comparison& comparison, QWidget* parent)
    : QWidget(parent), comparison_(comparison) {
    setAccessibleName(tr("Pictures held against each other"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    turns_.setInterval(kTurnMs);
    connect(&turns_, &QTimer::timeout, this, [this] {
        turn_ = comparison_.count() ? (turn_ + 1) % comparison_.count() : 0;
        update();
    });
    connect(&comparison_, &app::Comparison::changed, this, [this] {
        renew();
        update();
    });
    connect(&comparison_, &app::Comparison::picture_changed, this, qOverload<>(&QWidget::update));
}

void CompareStage::renew() {
    stages_.clear();
    targets_.clear();
    for (std::size_t i = 0; i < comparison_.count(); ++i) {
        stages_.push_back(std::make_unique<PictureStage>());
        const app::Subject& s = comparison_.side(i).subject;
        // The figure belongs to its own frame and to no other.
        const auto figure = [this, i]() -> core::Figure {
            if (i >= comparison_.count()) return {};
            const auto& side = comparison_.side(i);
            return side.deck->picture_frame() == side.subject.moment.frame ? side.subject.moment.figure
                                                                           : core::Figure{};
        };
        stages_.back()->add_layer(figure_layer(figure, static_cast<int>(i), true));
        targets_.push_back(comparison_.with_target() ? core::target_figure(s.moment.figure, s.judged)
                                                     : std::nullopt);
        if (targets_.back()) {
            const core::Figure target = *targets_.back();
            stages_.back()->add_layer(figure_layer([target] { return target; }, 1, true));
        }
    }
    chosen_ = comparison_.count() > 1 ? comparison_.count() - 1 : 0;
    resizeEvent(nullptr);
    emit side_chosen(chosen_);
}

void CompareStage::resizeEvent(QResizeEvent*) {
    for (std::size_t i = 0; i < comparison_.count(); ++i) {
        const QSizeF area = pane(i, rect()).size() * devicePixelRatioF();
        comparison_.deck(i).set_view(area.toSize());
    }
}

void CompareStage::next_way() {
    way_ = static_cast<Way>((static_cast<int>(way_) + 1) % 4);
    way_ == Way::turns ? turns_.start() : turns_.stop();
    turn_ = 0;
    update();
}
void CompareStage::line_up_otherwise() {
    on_saddle_ = !on_saddle_;
    update();
}
void CompareStage::toggle_mirror() {
    mirror_ = !mirror_;
    update();
}
void CompareStage::choose(std::size_t side) {
    if (side >= comparison_.count()) return;
    chosen_ = side;
    update();
    emit side_chosen(side);
}

QRectF CompareStage::pane(std::size_t i, const QRectF& all) const {
    const std::size_t n = comparison_.count();
    if (n <= 1 || way_ != Way::beside) return all;
    const bool grid = n > 3;
    const double columns = grid ? 2 : static_cast<double>(n), rows = grid ? 2 : 1;
    const double wide = (all.width() - kStageGap * (columns - 1)) / columns,
                 high = (all.height() - kStageGap * (rows - 1)) / rows;
    const auto c = static_cast<double>(grid ? i % 2 : i), r = static_cast<double>(grid ? i / 2 : 0);
    return {all.left() + c * (wide + kStageGap), all.top() + r * (high + kStageGap), wide, high};
}

bool CompareStage::mirrored(std::size_t i) const {
    const core::Travel first = comparison_.side(0).subject.moment.figure.travel,
                       here = comparison_.side(i).subject.moment.figure.travel;
    return mirror_ && i > 0 && first != core::Travel::unknown && here != core::Travel::unknown &&
           first != here;
}

/// Turns and sizes a picture so that hip and trunk (or the saddle) of all lie in the same place of their
/// pane.
std::optional<PictureStage::Place> CompareStage::place(std::size_t i, const QRectF& area) const {
    const core::Figure& f = comparison_.side(i).subject.moment.figure;
    bool saddle = on_saddle_;
    for (std::size_t k = 0; k < comparison_.count(); ++k) {
        const core::Figure& one = comparison_.side(k).subject.moment.figure;
        saddle = saddle && there(one, L::cantle) && there(one, L::withers);
    }
    const bool frontal = f.view != core::View::side;
    const L a = saddle    ? L::cantle
                : frontal ? L::left_hip
                          : L::hip,
            b = saddle    ? L::withers
                : frontal ? L::left_shoulder
                          : L::shoulder;
    if (!there(f, a) || !there(f, b)) return std::nullopt;
    const double size = core::distance(f[a].at, f[b].at);
    if (size < 2) return std::nullopt;
    // As near as shows rider and horse, and nearer where the pictures would leave the pane empty above or
    // below; the same for all, so that what is larger is larger.
    const auto scale_of = [&](std::size_t n) {
        const core::Figure& one = comparison_.side(n).subject.moment.figure;
        return (saddle ? 0.17 : 0.23) * std::min(area.height(), area.width() * 0.95) /
               std::max(2.0, core::distance(one[a].at, one[b].at));
    };
    double nearer = 1, above = 0;
    for (std::size_t n = 0; n < comparison_.count(); ++n) {
        const double high = comparison_.side(n).deck->display_size().height();
        if (high > 0) nearer = std::max(nearer, std::min(kNearest, area.height() / (high * scale_of(n))));
        above += comparison_.side(n).subject.moment.figure[a].at.y * scale_of(n) /
                 static_cast<double>(comparison_.count());
    }
    const double k = nearer * scale_of(i);
    QTransform t;
    t.translate(area.center().x(), area.top() + std::min(nearer * above, 0.62 * area.height()));
    t.scale(mirrored(i) ? -k : k, k);
    t.rotate(-f.camera.roll_deg);
    t.translate(-f[a].at.x, -f[a].at.y);
    return PictureStage::Place{t, area};
}

namespace {

QPainterPath outline(const core::Ellipse& e) {
    QTransform t;
    t.translate(e.centre.x, e.centre.y);
    t.rotate(e.angle_deg);
    QPainterPath path;
    path.addEllipse(QPointF(), e.long_half, e.short_half);
    return t.map(path);
}

void cover(QPainter& p, const PictureStage::Place& at, const std::vector<core::FaceCover>& covers) {
    p.save();
    p.setTransform(at.to_widget, true);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(theme().picture_ground));
    for (const core::FaceCover& c : covers) {
        const QPainterPath reach = outline(c.reach);
        p.drawPath(c.also ? reach.intersected(outline(*c.also)) : reach);
    }
    p.restore();
}

}  // namespace

void CompareStage::paint_side(QPainter& p, std::size_t i, const QRectF& area, double opacity,
                              const app::ComparedCovers* covers) const {
    const app::ClipDeck& deck = *comparison_.side(i).deck;
    stages_[i]->set_picture(deck.picture(), deck.display_size());
    p.save();
    p.setClipRect(area);
    if (const auto at = place(i, area)) {
        stages_[i]->paint(p, *at, opacity);
        if (covers) cover(p, *at, (*covers)[i]);
    } else {
        p.setPen(kSoft);
        p.setFont(text_font(14));
        p.drawText(area, Qt::AlignCenter | Qt::TextWordWrap, tr("hip and shoulder are needed to line it up"));
    }
    p.restore();
}

void CompareStage::paint_words(QPainter& p, std::size_t i, const QRectF& area) const {
    const app::Subject& s = comparison_.side(i).subject;
    const bool several = comparison_.of_several();
    const bool ringed = i == chosen_ && comparison_.count() > 1;
    QString words = QString("%1  ").arg(i + 1) + (several ? s.rider + ", " : QString()) + s.words();
    if (mirrored(i)) words += tr(" · mirrored");
    p.setFont(text_font(14, ringed));
    const QFontMetrics fm(p.font());
    const QRectF pill(area.left() + 8, area.top() + 8,
                      std::min(area.width() - 16, fm.horizontalAdvance(words) + 20.0), 26);
    QColor ground = theme().picture_ground;
    ground.setAlpha(200);
    p.setPen(Qt::NoPen);
    p.setBrush(ground);
    p.drawRoundedRect(pill, 13, 13);
    p.setPen(QPen(slot_colour(static_cast<int>(i)), 2));
    p.drawLine(QPointF(pill.left() + 10, pill.bottom() - 3), QPointF(pill.left() + 18, pill.bottom() - 3));
    p.setPen(kBone);
    p.drawText(pill.adjusted(10, 0, -8, 0), Qt::AlignLeft | Qt::AlignVCenter,
               fm.elidedText(words, Qt::ElideRight, static_cast<int>(pill.width() - 18)));
    if (!ringed || way_ != Way::beside) return;
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(kBone, 2));
    p.drawRect(area.adjusted(1, 1, -1, -1));
}

void CompareStage::paint_all(QPainter& p, const QRectF& all, const app::ComparedCovers* covers) const {
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(all, theme().picture_ground);
    const std::size_t n = std::min(comparison_.count(), stages_.size());
    if (n == 0) return;
    if (way_ == Way::beside) {
        for (std::size_t i = 0; i < n; ++i) paint_side(p, i, pane(i, all), 1, covers);
        for (std::size_t i = 0; i < n; ++i) paint_words(p, i, pane(i, all));
        return;
    }
    if (way_ == Way::turns) {
        paint_side(p, std::min(turn_, n - 1), all, 1, covers);
        return paint_words(p, std::min(turn_, n - 1), all);
    }
    for (std::size_t i = 0; i < n; ++i) {
        // Each as much as the others; of the figures alone no picture at all.
        const double share = way_ == Way::figures ? 0.0 : i == 0 ? 1.0 : 1.0 / static_cast<double>(i + 1);
        paint_side(p, i, all, share, covers);
    }
    for (std::size_t i = 0; i < n; ++i)
        paint_words(p, i, all.adjusted(0, 30.0 * static_cast<double>(i), 0, 0));
}

void CompareStage::paintEvent(QPaintEvent*) {
    QPainter p(this);
    paint_all(p, rect());
    if (comparison_.count() > 0) return;
    p.setPen(kSoft);
    p.setFont(text_font(18));
    p.drawText(QRectF(rect()).adjusted(40, 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap,
               tr("Mark two moments of a rider on the bench, of any two rides, and hold them against each "
                  "other here."));
}

QImage CompareStage::covered_picture(const app::ComparedCovers& covers) const {
    QImage out(size() * 2, QImage::Format_RGB32);
    out.setDevicePixelRatio(2);
    QPainter p(&out);
    paint_all(p, rect(), &covers);
    return out;
}

void CompareStage::mousePressEvent(QMouseEvent* e) {
    for (std::size_t i = 0; i < comparison_.count(); ++i) {
        if (pane(i, rect()).contains(e->position())) return choose(i);
    }
}

}  // namespace aspen::ui

#include "moc_compare_stage.cpp"
