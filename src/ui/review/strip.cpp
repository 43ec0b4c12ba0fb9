#include "ui/review/strip.hpp"

#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/review/riding.hpp"
#include "app/yard/changes.hpp"
#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

constexpr double kFilmTop = 16, kFilmHigh = 34, kStripSide = 16, kLaneTop = 53, kLaneHigh = 15,
                 kWordsTop = 70;
constexpr double kBorderReach = 5;

/// When feet land within a stride (common practice, no source: four even beats; two pairs with a gap; three
/// and a rest).
std::vector<double> beats(core::Gait gait) {
    using G = core::Gait;
    switch (gait) {
        case G::halt:
            return {};
        case G::trot:
            return {0.0, 0.07, 0.5, 0.57};
        case G::canter:
            return {0.0, 0.22, 0.44};
        case G::pace:
        case G::step_pace:
            return {0.0, 0.12, 0.5, 0.62};
        case G::jump:
            return {0.0, 0.08};
        default:
            return {0.0, 0.25, 0.5, 0.75};
    }
}

QString speed_words(double speed) {
    if (speed == 0.125) return "⅛ ×";
    if (speed == 0.25) return "¼ ×";
    if (speed == 0.5) return "½ ×";
    return speed == 2 ? "2 ×" : "1 ×";
}

}  // namespace

Strip::Strip(const app::BenchState& now, app::Player& player, QWidget* parent)
    : BenchPanel(now, parent), player_(player) {
    setFixedHeight(100);
    setMouseTracking(true);
    setAccessibleName(tr("Position in the clip"));
    const auto button = [this](const QString& name, auto act) {
        auto* b = new QPushButton(this);
        b->setObjectName("word");
        b->setAccessibleName(name);
        b->setToolTip(name);
        b->setFocusPolicy(Qt::TabFocus);
        connect(b, &QPushButton::clicked, this, act);
        return b;
    };
    back_ = button(tr("Play backwards, Shift+Space"), [this] {
        player_.playing() && player_.direction() < 0 ? player_.pause() : player_.play(-1);
    });
    play_ = button(tr("Play, Space"), [this] {
        player_.playing() && player_.direction() > 0 ? player_.pause() : player_.play(1);
    });
    speed_ = button(tr("Speed: S slower, F faster"), [] {});
    auto* speeds = new QMenu(speed_);
    for (std::size_t i = 0; i < std::size(app::Player::kSpeeds); ++i) {
        connect(speeds->addAction(speed_words(app::Player::kSpeeds[i])), &QAction::triggered, this,
                [this, i] {
                    player_.change_speed(
                        static_cast<int>(i) -
                        static_cast<int>(std::ranges::find(app::Player::kSpeeds, player_.speed()) -
                                         std::begin(app::Player::kSpeeds)));
                });
    }
    speed_->setMenu(speeds);
    loop_ = button(tr("Let go of the loop, L"), [this] { player_.clear_marks(); });
    loop_->setText(tr("let go of the loop   L"));
    connect(&now_.deck(), &app::ClipDeck::previews_made, this, &Strip::fill_film);
    connect(&now_.deck(), &app::ClipDeck::opening, this, [this](double share) {
        opening_ = share;
        update();
    });
    connect(&player_, &app::Player::changed, this, &Strip::refresh_words);
    refresh_words();
}

void Strip::show_state(app::BenchParts) { update(); }

void Strip::show_frame() { update(); }

void Strip::clip_opened() {
    opening_ = 0;
    stills_.clear();
    fill_film();
    refresh_words();
}

void Strip::clip_closing() {
    stills_.clear();
    update();
}

QRectF Strip::film() const { return QRectF(kStripSide, kFilmTop, width() - 2 * kStripSide, kFilmHigh); }
double Strip::x_of(int frame) const {
    return film().left() + film().width() * frame / std::max(1, now_.deck().facts().frames - 1);
}

/// Asks for the small pictures that are made by now; each is the frame in the middle of its place.
void Strip::fill_film() {
    update();
    if (!now_.deck().ready() || width() < 100) return;
    const QSize size = now_.deck().display_size();
    const double wide = std::clamp(kFilmHigh * size.width() / std::max(1, size.height()), 18.0, 90.0);
    const auto places = static_cast<std::size_t>(std::max(1.0, std::round(film().width() / wide)));
    if (stills_.size() != places) stills_.assign(places, {});
    for (std::size_t i = 0; i < places; ++i) {
        if (!stills_[i].image.isNull()) continue;
        const int frame = static_cast<int>((static_cast<double>(i) + 0.5) / static_cast<double>(places) *
                                           now_.deck().facts().frames);
        const QImage small = now_.deck().small_picture(std::min(frame, now_.deck().facts().frames - 1));
        if (!small.isNull())
            stills_[i] = {small.scaledToHeight(static_cast<int>(kFilmHigh * devicePixelRatioF()),
                                               Qt::SmoothTransformation),
                          frame};
    }
}

void Strip::refresh_words() {
    const bool plays = player_.playing();
    back_->setText(plays && player_.direction() < 0 ? "❚❚" : "◀");
    play_->setText(plays && player_.direction() > 0 ? "❚❚" : "▶");
    speed_->setText(speed_words(player_.speed()));
    for (QPushButton* b : {back_, play_, speed_}) {
        b->setVisible(now_.deck().ready());
        b->resize(std::max(34, b->sizeHint().width()), 28);
    }
    loop_->setVisible(now_.deck().ready() && player_.loops());
    loop_->resize(loop_->sizeHint().width(), 28);
    int x = width() - static_cast<int>(kStripSide);
    for (QPushButton* b : {speed_, play_, back_, loop_}) {
        if (b == loop_ && b->isHidden()) continue;
        x -= b->width();
        b->move(x, static_cast<int>(kWordsTop));
        x -= 4;
    }
    update();
}

void Strip::resizeEvent(QResizeEvent*) {
    fill_film();
    refresh_words();
}

void Strip::go(double x, media::Motion motion) {
    if (!now_.deck().ready()) return;
    const double share = std::clamp((x - film().left()) / film().width(), 0.0, 1.0);
    emit wants(app::GoTo{static_cast<int>(std::lround(share * (now_.deck().facts().frames - 1))), motion});
}

std::optional<std::size_t> Strip::border_at(QPointF p) const {
    if (p.y() < kLaneTop - 2 || p.y() > kLaneTop + kLaneHigh + 2) return std::nullopt;
    const core::Stretches& all = now_.review().stretches();
    for (std::size_t i = 1; i < all.size(); ++i) {
        if (std::abs(x_of(all[i].first) - p.x()) <= kBorderReach) return i;
    }
    return std::nullopt;
}

void Strip::mousePressEvent(QMouseEvent* e) {
    held_border_ = now_.deck().ready() ? border_at(e->position()) : std::nullopt;
    begins_ = true;
    if (!held_border_) go(e->position().x(), media::Motion::scrub);
}
void Strip::mouseMoveEvent(QMouseEvent* e) {
    if (!(e->buttons() & Qt::LeftButton)) {
        setCursor(now_.deck().ready() && border_at(e->position()) ? Qt::SizeHorCursor : Qt::ArrowCursor);
        return;
    }
    if (!held_border_) return go(e->position().x(), media::Motion::scrub);
    const double share = std::clamp((e->position().x() - film().left()) / film().width(), 0.0, 1.0);
    const int frame = static_cast<int>(std::lround(share * (now_.deck().facts().frames - 1)));
    emit wants(app::MoveBorder{*held_border_, frame, std::exchange(begins_, false)});
}
void Strip::mouseReleaseEvent(QMouseEvent*) {
    held_border_.reset();
    emit wants(app::RestHere{});
}
void Strip::mouseDoubleClickEvent(QMouseEvent* e) {
    if (!now_.deck().ready() || e->position().y() < kLaneTop || e->position().y() > kLaneTop + kLaneHigh)
        return;
    emit wants_name(core::stretch_at(now_.review().stretches(), now_.deck().frame()));
}

void Strip::paint_film(QPainter& p) const {
    const Theme& t = theme();
    const QRectF bar = film();
    QPainterPath round;
    round.addRoundedRect(bar, 6, 6);
    p.save();
    p.setClipPath(round);
    p.fillRect(bar, t.line);
    if (!stills_.empty()) {
        const double wide = bar.width() / static_cast<double>(stills_.size());
        p.setRenderHint(QPainter::SmoothPixmapTransform);
        for (std::size_t i = 0; i < stills_.size(); ++i) {
            const QImage& s = stills_[i].image;
            if (s.isNull()) continue;
            const QRectF to(bar.left() + static_cast<double>(i) * wide, bar.top(), wide + 0.5, bar.height());
            const double keep = std::min<double>(s.width(), s.height() * to.width() / to.height());
            p.drawImage(to, s, QRectF((s.width() - keep) / 2, 0, keep, s.height()));
        }
    }
    if (player_.from() || player_.to()) {  // what is outside the marked stretch steps back
        QColor veil = t.ground;
        veil.setAlpha(190);
        if (player_.from())
            p.fillRect(QRectF(QPointF(bar.left(), bar.top()), QPointF(x_of(*player_.from()), bar.bottom())),
                       veil);
        if (player_.to())
            p.fillRect(QRectF(QPointF(x_of(*player_.to()), bar.top()), QPointF(bar.right(), bar.bottom())),
                       veil);
    }
    for (const int n : now_.deck().facts().damaged) {
        p.fillRect(QRectF(x_of(n) - 1, bar.top(), std::max(2.5, bar.width() / now_.deck().facts().frames),
                          bar.height()),
                   QBrush(QColor(20, 26, 24), Qt::BDiagPattern));
    }
    for (const auto& [from, to] : lit_) {  // at its lower edge, as on the curve's upper one
        const QRectF stride(QPointF(x_of(from), bar.bottom() - 4), QPointF(x_of(to), bar.bottom()));
        p.fillRect(stride.adjusted(0.5, 0, -0.5, 0), t.clay);
    }
    p.restore();
}

void Strip::light(std::vector<std::pair<int, int>> strides) {
    lit_ = std::move(strides);
    update();
}

void Strip::propose(std::vector<int> frames) {
    proposed_ = std::move(frames);
    update();
}

void Strip::paint_footfall(QPainter& p, const QRectF& area, core::Gait gait, double direction) const {
    p.setPen(Qt::NoPen);
    p.setBrush(theme().quiet);
    if (gait == core::Gait::halt)
        return p.drawRect(
            QRectF(area.left() + 8, area.center().y() - 0.5, std::max(0.0, area.width() - 16), 1));
    const double stride = 46;
    for (double start = 6; start < area.width() - 6; start += stride) {
        for (const double beat : beats(gait)) {
            const double x = start + beat * stride;
            if (x > area.width() - 4) continue;
            p.drawEllipse(QPointF(direction > 0 ? area.left() + x : area.right() - x, area.center().y()), 1.8,
                          1.8);
        }
    }
}

/// The direction the dots run: the rein where it was said, else the way the horse goes in the picture.
static double runs(const core::Stretch& s) {
    if (s.rein) return *s.rein == core::Rein::left ? -1 : 1;
    return s.travel == core::Travel::left ? -1 : 1;
}

void Strip::paint_lane(QPainter& p) const {
    const Theme& t = theme();
    const QRectF lane(film().left(), kLaneTop, film().width(), kLaneHigh);
    const core::Stretches& all = now_.review().stretches();
    if (all.size() == 1 && all.front().judged && all.front().name.empty() && all.front().shown.empty()) {
        const core::Stretch& s = all.front();
        if (s.gait) paint_footfall(p, lane, *s.gait, runs(s));
        return;
    }
    for (std::size_t i = 0; i < all.size(); ++i) {
        const auto [first, last] = core::extent(all, i, now_.deck().facts().frames);
        const QRectF area(QPointF(x_of(first) + (i > 0 ? 1 : 0), lane.top()),
                          QPointF(last == now_.deck().facts().frames - 1 ? lane.right() : x_of(last + 1) - 1,
                                  lane.bottom()));
        p.setPen(Qt::NoPen);
        QColor ground = t.line;
        ground.setAlpha(i % 2 ? 255 : 150);
        p.setBrush(ground);
        p.drawRoundedRect(area, 3, 3);
        p.save();
        p.setClipRect(area);
        const core::Stretch& s = all[i];
        if (!s.judged)
            p.fillRect(area, QBrush(t.quiet, Qt::BDiagPattern));
        else if (s.gait)
            paint_footfall(p, area, *s.gait, runs(s));
        const QString words = !s.name.empty() ? QString::fromStdString(s.name)
                                              : QString::fromStdString(s.shown).replace('_', ' ');
        if (!words.isEmpty()) {
            p.setFont(text_font(12));
            const double wide = p.fontMetrics().horizontalAdvance(words) + 8.0;
            if (wide < area.width()) {
                p.fillRect(QRectF(area.left() + 2, area.top(), wide, area.height()), ground.lighter(100));
                p.setPen(t.ink);
                p.drawText(QRectF(area.left() + 6, area.top() - 1, wide, area.height()), Qt::AlignVCenter,
                           words);
            }
        }
        p.restore();
    }
}

/// Above the film: good as a leaf, look here as an open ring, words as a small line of writing.
void Strip::paint_notes(QPainter& p) const {
    const Theme& t = theme();
    for (const store::Note& n : now_.review().notes()) {
        const double x = x_of(n.frame), y = film().top() - 10;
        p.setPen(QPen(t.ink, 1));
        p.drawLine(QPointF(x, y + 4), QPointF(x, film().top()));
        p.setPen(QPen(t.ink, 1.6));
        p.setBrush(Qt::NoBrush);
        if (n.kind == store::NoteKind::look) p.drawEllipse(QPointF(x, y), 3.6, 3.6);
        if (n.kind == store::NoteKind::words) {
            for (const double d : {-2.5, 0.5, 3.5})
                p.drawLine(QPointF(x - 4, y + d - 1), QPointF(x + (d > 3 ? 1 : 4), y + d - 1));
        }
        if (n.kind == store::NoteKind::good) {
            QPainterPath leaf(QPointF(x, y + 4.5));
            leaf.quadTo(x - 6, y, x, y - 5.5);
            leaf.quadTo(x + 6, y, x, y + 4.5);
            p.setBrush(t.ink);
            p.drawPath(leaf);
        }
    }
}

/// What is ridden at this frame, how long the stretch is and about how many strides it holds.
QString Strip::here_in_words() const {
    const core::Stretches& all = now_.review().stretches();
    const auto at = core::stretch_at(all, now_.deck().frame());
    const core::Stretch& s = all[at];
    if (all.size() == 1 && s.says_nothing()) return {};
    const auto said = [](std::string_view w) {
        return QString::fromUtf8(w.data(), static_cast<qsizetype>(w.size())).replace('_', ' ');
    };
    QStringList words;
    if (!s.name.empty()) words << QString::fromStdString(s.name);
    if (s.gait) words << said(core::spoken(*s.gait));
    if (s.seat) words << said(core::spoken(*s.seat));
    if (s.rein) words << said(core::spoken(*s.rein));
    words << app::riding_in_words(s);
    if (!s.shown.empty()) words << said(s.shown);
    if (!s.asked.empty() && s.asked != s.shown) words << tr("asked: ") + said(s.asked);
    if (!s.judged) words << tr("not judged from here");
    const auto [first, last] = core::extent(all, at, now_.deck().facts().frames);
    const double end = last + 1 < now_.deck().facts().frames
                           ? now_.deck().real_s(last + 1)
                           : now_.deck().real_s(last) + 1 / std::max(1.0, now_.deck().facts().average_fps);
    const double seconds = end - now_.deck().real_s(first);
    QString length = QString("%1 s").arg(seconds, 0, 'f', 1);
    const double tempo = core::typical_tempo_per_min(now_.review().setting().gait);
    if (s.gait && tempo > 0)
        length += tr(", about %1 strides").arg(static_cast<int>(std::lround(seconds * tempo / 60)));
    words << length << tr("%1 of %2").arg(at + 1).arg(all.size());
    return words.join(", ");
}

void Strip::paint_marks(QPainter& p) const {
    const Theme& t = theme();
    const QRectF bar = film();
    p.setPen(Qt::NoPen);
    for (const store::Moment& m : now_.review().moments()) {
        if (m.slot != now_.review().slot()) continue;
        const double x = x_of(m.frame);
        const QPointF pin[] = {{x, bar.top() + 3}, {x - 5, bar.top() - 6}, {x + 5, bar.top() - 6}};
        p.setBrush(t.ink);
        p.drawPolygon(pin, 3);
        p.setBrush(QColor(255, 253, 248));
        p.drawRect(QRectF(x - 1.5, bar.top() + 2, 3, bar.height() - 2));
        p.setBrush(QColor(20, 26, 24));
        p.drawRect(QRectF(x - 0.5, bar.top() + 2, 1, bar.height() - 2));
    }
    p.setBrush(t.ground);
    p.setPen(QPen(t.ink, 1.2));
    for (const int frame : proposed_) {  // a pin nobody has put in yet
        const double x = x_of(frame);
        const QPointF pin[] = {{x, bar.top() + 3}, {x - 4.5, bar.top() - 5.5}, {x + 4.5, bar.top() - 5.5}};
        p.drawPolygon(pin, 3);
    }
    p.setPen(QPen(t.ink, 2.4, Qt::SolidLine, Qt::SquareCap));
    for (const auto& [frame, way] : {std::pair{player_.from(), 1.0}, {player_.to(), -1.0}}) {
        if (!frame) continue;
        const double x = x_of(*frame);
        const QPointF bracket[] = {
            {x + 6 * way, bar.top()}, {x, bar.top()}, {x, bar.bottom()}, {x + 6 * way, bar.bottom()}};
        p.drawPolyline(bracket, 4);
    }
    const double x = x_of(now_.deck().frame());
    p.setBrush(t.panel);
    p.setPen(QPen(t.ink, 2));
    p.drawRoundedRect(QRectF(x - 4, bar.top() - 4, 8, bar.height() + 8), 4, 4);
}

void Strip::paint_words(QPainter& p) const {
    const Theme& t = theme();
    const media::ClipFacts& facts = now_.deck().facts();
    const QRectF row(kStripSide, kWordsTop, width() - 2 * kStripSide, 28);
    p.setPen(t.ink);
    p.setFont(text_font(14, true));
    QString frame = tr("Frame %1").arg(now_.deck().frame());
    if (now_.deck().field() == 1) frame += QString::fromUtf8("½");
    p.drawText(row, Qt::AlignLeft | Qt::AlignVCenter, frame);
    const double used = p.fontMetrics().horizontalAdvance(frame) + 10;
    QStringList words{tr("of %1").arg(facts.frames - 1),
                      QString("%1 s").arg(now_.deck().stream_s(now_.deck().frame()), 0, 'f', 3)};
    const core::CaptureMap real = now_.deck().capture_map();
    if (!real.is_plain()) words << tr("really %1 s").arg(now_.deck().real_s(now_.deck().frame()), 0, 'f', 3);
    if (facts.time_source == media::TimeSource::made) words << tr("times made, the clip has none");
    if (facts.time_source == media::TimeSource::repaired) words << tr("times repaired");
    if (now_.deck().damaged(now_.deck().frame())) words << tr("this frame is damaged");
    if (const QString here = here_in_words(); !here.isEmpty()) words << here;
    for (const store::Note& n : now_.review().notes()) {
        if (n.frame == now_.deck().frame())
            words << (n.kind == store::NoteKind::good   ? tr("good")
                      : n.kind == store::NoteKind::look ? tr("look here")
                                                        : "“" + QString::fromStdString(n.words) + "”");
    }
    if (player_.playing())
        words << (player_.left_out() > 1
                      ? tr("%1 frames left out, the machine is busy").arg(player_.left_out())
                      : tr("playing"));
    else if (player_.loops())
        words << tr("loop");
    p.setFont(text_font(12));
    p.setPen(t.quiet);
    const double until = (loop_->isHidden() ? back_ : loop_)->x() - 12;
    p.drawText(QRectF(kStripSide + used, kWordsTop, until - kStripSide - used, 28),
               Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(words.join(" · "), Qt::ElideRight,
                                          static_cast<int>(until - kStripSide - used)));
}

void Strip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    p.fillRect(rect(), t.ground);
    if (!now_.deck().ready()) {
        const QRectF bar = film();
        p.setPen(Qt::NoPen);
        p.setBrush(t.line);
        p.drawRoundedRect(bar, 6, 6);
        if (now_.is_open() && opening_ > 0) {
            p.setBrush(t.quiet);
            p.drawRoundedRect(QRectF(bar.left(), bar.top(), bar.width() * opening_, bar.height()), 6, 6);
            p.setPen(t.quiet);
            p.setFont(text_font(12));
            p.drawText(QRectF(kStripSide, kWordsTop, width() - 2 * kStripSide, 28),
                       Qt::AlignLeft | Qt::AlignVCenter,
                       tr("counting the frames: this clip does not say how many it has …"));
        }
        return;
    }
    paint_film(p);
    paint_lane(p);
    paint_notes(p);
    paint_marks(p);
    paint_words(p);
}

}  // namespace aspen::ui

#include "moc_strip.cpp"
