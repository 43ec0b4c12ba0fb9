#include "ui/review/picture_view.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/review/annotated.hpp"
#include "exchange/frame_marks_painter.hpp"
#include "ui/review/lines_on_picture.hpp"
#include "ui/review/picture_accessible.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr double kHelmetUnderPrompt = 0.2;  // of the height from ear to heel
constexpr double kDragStart = 3;
constexpr double kMagnified =
    4;  // of the screen, and at least so many screen pixels a picture pixel: a quarter pixel shows
constexpr double kClosest = 16;
constexpr double kAims = 5;  // px: a click this close to a joint means that joint

}  // namespace

PictureView::PictureView(const app::BenchState& now, const KeyMap& keys, QWidget* parent)
    : BenchPanel(now, parent), prompt_(new HintLine(keys, this, 14)) {
    prompt_->set_pill(true);
    prompt_->set_colours(QColor(0xd6, 0xd9, 0xd2), kBone);
    prompt_->move(12, 12);
    add_layers();
    setMouseTracking(true);
    setMinimumSize(320, 200);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Picture"));
    make_joints_accessible();
    connect(&now_.deck(), &app::ClipDeck::picture_changed, this, &PictureView::refresh);
}

void PictureView::refresh() {
    update_cursor();
    update();
}

void PictureView::show_state(app::BenchParts what) {
    if (what & app::BenchPart::records) read_names();
    refresh();
}

void PictureView::show_frame() {
    clicks_.clear();
    refresh();
}

void PictureView::clip_opened() {
    leave_three();
    zoom_to_fit();
}

/// What lies over the picture, from the bottom up.
void PictureView::add_layers() {
    stage_.add_layer([this](QPainter& p, const PictureStage::Place&) {
        if (now_.deck().ready() && !now_.deck().picture_is_current()) paint_stand_in(p, now_.deck(), size());
        if (now_.deck().picture_is_current()) paint_figures(p);
    });
    stage_.add_layer([this](QPainter& p, const PictureStage::Place& place) {
        if (tool_ && now_.deck().ready()) tool_->paint(p, place);
    });
    stage_.add_layer(ground_layer(now_));
    stage_.add_layer([this](QPainter& p, const PictureStage::Place& place) {
        if (!line_) return;
        p.setPen(QPen(kPictureSky, 2));
        p.drawLine(place.map(line_->first), place.map(line_->second));
    });
    stage_.add_layer([this](QPainter& p, const PictureStage::Place&) { paint_loupe(p); });
    stage_.add_layer([this](QPainter& p, const PictureStage::Place&) { paint_reticle(p); });
}

PictureStage::Place PictureView::place() const {
    return PictureStage::fitted(now_.deck().display_size(), QRectF(rect()), zoom_, pan_);
}

QPointF PictureView::to_widget(core::Point p) const { return place().map(p); }

core::Point PictureView::to_picture(QPointF p) const { return place().unmap(p); }

bool PictureView::inside(core::Point p) const {
    return QRectF(QPointF(0, 0), QSizeF(now_.deck().display_size())).contains(p.x, p.y);
}

void PictureView::zoom_to_fit() {
    zoom_ = 1;
    pan_ = {};
    measure_.clear();
    tell_size();
    update();
}

void PictureView::zoom_by(double factor, QPointF at) {
    const core::Point under = to_picture(at);
    zoom_ = std::clamp(zoom_ * factor, 1.0, kClosest);
    if (zoom_ <= 1.0)
        pan_ = {};
    else
        pan_ += at - to_widget(under);
    tell_size();
    update();
}

void PictureView::frame(const QRectF& area, double margin) {
    const QRectF wanted = area.adjusted(-margin, -margin, margin, margin);
    const double fit = scale() / zoom_;
    zoom_ = std::clamp(std::min(width() / (wanted.width() * fit), height() / (wanted.height() * fit)), 1.0,
                       kClosest);
    pan_ = {};
    if (zoom_ > 1)
        pan_ = QPointF(width(), height()) / 2 - to_widget({wanted.center().x(), wanted.center().y()});
    tell_size();
    update();
}

bool PictureView::see(Part part) {
    using L = core::Landmark;
    if (part == Part::whole) return zoom_to_fit(), true;
    static const std::map<Part, std::vector<L>> joints{
        {Part::rider,
         {L::ear, L::eye, L::shoulder, L::elbow, L::wrist, L::hip, L::knee, L::ankle, L::heel, L::toe}},
        {Part::head, {L::ear, L::eye, L::chin, L::shoulder}},
        {Part::trunk,
         {L::ear, L::shoulder, L::elbow, L::hip, L::left_shoulder, L::right_shoulder, L::left_hip,
          L::right_hip}},
        {Part::leg,
         {L::hip, L::knee, L::ankle, L::heel, L::toe, L::leather_top, L::iron, L::left_knee, L::right_knee,
          L::left_heel, L::right_heel}},
        {Part::hand, {L::elbow, L::wrist, L::knuckle, L::bit, L::withers, L::left_knuckle, L::right_knuckle}},
        {Part::horse, {L::bit, L::poll, L::withers, L::croup, L::cantle, L::girth, L::heel, L::shoulder}}};
    const core::Figure f = now_.marking().figure();
    QRectF area;
    int n = 0;
    double trunk = 0.12 * std::min(now_.deck().display_size().width(), now_.deck().display_size().height());
    if (f[L::shoulder].visibility != core::Visibility::absent &&
        f[L::hip].visibility != core::Visibility::absent)
        trunk = core::distance(f[L::shoulder].at, f[L::hip].at);
    for (const L l : joints.at(part)) {
        if (f[l].visibility == core::Visibility::absent) continue;
        const QRectF spot(f[l].at.x - 1, f[l].at.y - 1, 2, 2);
        area = n++ == 0 ? spot : area.united(spot);
    }
    if (n < 1 || (part == Part::horse && n < 2)) return false;
    measure_.clear();
    // Head to heel means the helmet too, below what is asked over the picture.
    if (part == Part::rider) area.setTop(area.top() - kHelmetUnderPrompt * area.height());
    frame(area, (part == Part::horse ? 1.6 : 0.45) * trunk);
    return true;
}

void PictureView::show_measure(const QString& id) {
    if (id.isEmpty() || measure_ == id) return zoom_to_fit();
    const core::Judged* j = core::find(now_.marking().judged(), id.toStdString());
    if (!j) return;
    const core::Figure f = now_.marking().figure();
    QRectF area;
    int n = 0;
    for (const core::Landmark l : j->info().needs) {
        if (f[l].visibility == core::Visibility::absent) continue;
        const QRectF spot(f[l].at.x - 1, f[l].at.y - 1, 2, 2);
        area = n++ == 0 ? spot : area.united(spot);
    }
    if (n == 0) return;
    frame(area, std::max(40.0, 0.6 * std::max(area.width(), area.height())));
    measure_ = id;
    update();
}

void PictureView::set_lift(int level) {
    stage_.set_lift(level);
    update();
}

void PictureView::draw_line(Line line) {
    drawing_ = line;
    line_.reset();
    update_cursor();
    update();
}

void PictureView::ask_three(app::FigureMaker::Way way) {
    if (three_ == way) return leave_three();
    three_ = way;
    clicks_.clear();
    update_cursor();
    update();
}

void PictureView::leave_three() {
    three_.reset();
    clicks_.clear();
    update_cursor();
    update();
}

void PictureView::show_reticle(bool on) {
    if (!on)
        reticle_.reset();
    else if (!reticle_)
        reticle_ = to_picture(QPointF(width(), height()) / 2);
    update();
}

void PictureView::move_reticle(double dx, double dy) {
    if (!reticle_) return;
    const QSize size = now_.deck().display_size();
    reticle_ = core::Point{std::clamp(reticle_->x + dx, 0.0, size.width() - 1.0),
                           std::clamp(reticle_->y + dy, 0.0, size.height() - 1.0)};
    pointer_ = to_widget(*reticle_);
    if (!rect().adjusted(20, 20, -20, -20).contains(pointer_.toPoint()) && zoom_ > 1) {
        pan_ += QPointF(width(), height()) / 2 - pointer_;
        pointer_ = to_widget(*reticle_);
    }
    update();
}

void PictureView::press_reticle() {
    if (reticle_) click(*reticle_);
}

std::optional<core::Landmark> PictureView::joint_at(QPointF at) const {
    const core::Figure f = now_.marking().figure();
    std::optional<core::Landmark> best;
    double nearest = kHandleRadius;
    for (const core::Landmark l : core::landmarks_of(f.view)) {
        if (f[l].visibility == core::Visibility::absent) continue;
        const QPointF d = to_widget(f[l].at) - at;
        const double away = std::hypot(d.x(), d.y());
        if (away < nearest) nearest = away, best = l;
    }
    return best;
}

/// While a joint is asked for, a click beside another one places the asked one; only a click right on it
/// selects.
bool PictureView::aims_at(core::Landmark l, QPointF at) const {
    const QPointF d = to_widget(now_.marking().figure()[l].at) - at;
    return std::hypot(d.x(), d.y()) <= kAims;
}

void PictureView::update_cursor() {
    const bool places =
        (now_.marking().asked() || three_ || tool_takes()) && now_.deck().picture_is_current();
    setCursor(drawing_ != Line::none || places ? Qt::CrossCursor : Qt::ArrowCursor);
}

/// One click on the picture, by mouse or by the reticle.
void PictureView::click(core::Point at) {
    if (!now_.deck().picture_is_current() || !inside(at)) return;
    if (drawing_ != Line::none) {  // by keys: first one end, then the other
        if (!line_) {
            line_ = {at, at};
            return update();
        }
        const Line line = drawing_;
        const auto ends = std::pair(line_->first, at);
        draw_line(Line::none);
        emit line_drawn(line, ends.first, ends.second);
        return;
    }
    if (tool_takes()) return tool_->click(at, zoom_);
    if (!three_) return emit wants(app::PlaceJoint{at, zoom_});
    clicks_.push_back(at);
    if (clicks_.size() == 3) {
        const auto way = *three_;
        const auto clicks = clicks_;
        leave_three();
        emit three_clicked(clicks[0], clicks[1], clicks[2], way);
    }
    update();
}

void PictureView::mousePressEvent(QMouseEvent* e) {
    setFocus();
    press_ = e->position();
    moved_ = false;
    if (e->button() == Qt::MiddleButton ||
        (e->button() == Qt::LeftButton && e->modifiers() & Qt::ControlModifier)) {
        panning_ = true;
        pan_press_ = pan_;
        return;
    }
    if (e->button() != Qt::LeftButton || now_.deck().picture().isNull()) return;
    if (drawing_ != Line::none) {
        // A line of the ground may be two clicks: the second press is its other end.
        if (line_ && ground_kind(drawing_))
            line_->second = to_picture(press_);
        else
            line_ = {to_picture(press_), to_picture(press_)};
        return;
    }
    if (!three_ && !tool_takes()) held_ = joint_at(press_);
}

void PictureView::mouseMoveEvent(QMouseEvent* e) {
    pointer_ = e->position();
    const QPointF d = pointer_ - press_;
    if (e->buttons() != Qt::NoButton && std::hypot(d.x(), d.y()) > kDragStart) moved_ = true;
    if (panning_) {
        pan_ = pan_press_ + d;
    } else if (line_) {
        if (e->buttons() & Qt::LeftButton || ground_kind(drawing_)) line_->second = to_picture(pointer_);
    } else if (held_ && moved_ && now_.deck().picture_is_current()) {
        emit wants(
            app::DragJoint{*held_, to_picture(pointer_), zoom_, e->modifiers().testFlag(Qt::AltModifier)});
    }
    update();
}

void PictureView::mouseReleaseEvent(QMouseEvent* e) {
    if (panning_) {
        panning_ = false;
        return;
    }
    if (e->button() != Qt::LeftButton) return;
    if (line_) {
        const Line line = drawing_;
        const auto ends = *line_;
        if (ground_kind(line) && core::distance(ends.first, ends.second) * scale() < kDragStart) {
            tell_prompt();
            return update();
        }
        draw_line(Line::none);
        emit line_drawn(line, ends.first, ends.second);
        return;
    }
    if (now_.marking().dragging()) {
        emit wants(app::LetGoOfJoint{});
    } else if (held_ && (!now_.marking().asked() || aims_at(*held_, e->position()))) {
        emit wants(app::ChooseJoint{held_});
    } else if (!moved_) {
        click(to_picture(e->position()));
    }
    held_.reset();
    update();
}

void PictureView::wheelEvent(QWheelEvent* e) {
    zoom_by(std::pow(1.0015, e->angleDelta().y()), e->position());
    e->accept();
}

void PictureView::leaveEvent(QEvent*) {
    pointer_ = {-1, -1};
    update();
}

void PictureView::resizeEvent(QResizeEvent*) {
    tell_size();
    update();
}

/// The engine sends pictures no larger than they are seen while the hand moves.
void PictureView::tell_size() {
    emit wants(app::SeeAt{(QSizeF(size()) * zoom_ * devicePixelRatioF()).toSize()});
}

/// First names of the riders in a clip of several, read when they change and not at every movement of the
/// pointer.
void PictureView::read_names() {
    names_.clear();
    if (!now_.is_open() || now_.review().places().size() < 2) return;
    const auto name = [this](store::RiderId id) {
        const auto r = id ? now_.records().people.rider(id) : std::nullopt;
        return r ? QString::fromStdString(r->name).section(' ', 0, 0) : QStringLiteral("?");
    };
    for (const store::Slot& s : now_.review().places()) {
        const auto ride = now_.records().rides.ride(s.ride);
        names_[s.slot] = name(ride ? ride->rider : store::RiderId{});
    }
}

void PictureView::paint_figures(QPainter& p) const {
    FigureLook look{[this](core::Point q) { return to_widget(q); },
                    static_cast<double>(height()),
                    now_.marking().selected(),
                    now_.review().slot(),
                    false,
                    names_.value(now_.review().slot())};
    for (const store::Moment& m :
         now_.review().moments()) {  // the others in the picture, so that one sees whose is whose
        if (m.frame != now_.deck().frame() || m.slot == now_.review().slot()) continue;
        paint_figure(p, now_.review().figure_of(&m),
                     {look.to_widget, look.height, {}, m.slot, true, names_.value(m.slot)});
    }
    const core::Figure f = now_.marking().figure();
    paint_figure(p, f, look);
    if (f.marked() == 0) paint_unmarked(p, look);
    if (marks_ && !quiet_ && !now_.marking().selected() && measure_.isEmpty()) {
        const exchange::Annotated a = app::annotated_here(now_);
        const exchange::MarksLook marks{look.to_widget, 1, text_font(14, true)};
        exchange::paint_frame_marks(p, f, a.marks, a.target, marks);
        exchange::paint_drawn(p, a.drawn, marks);
    }
    if (const core::Judged* j =
            measure_.isEmpty() ? nullptr : core::find(now_.marking().judged(), measure_.toStdString()))
        paint_measure(p, f, *j, look, now_.amounts());
    p.setBrush(Qt::NoBrush);
    for (const core::Point& c : clicks_) {
        p.setPen(QPen(QColor(20, 26, 24, 170), 4));
        p.drawEllipse(to_widget(c), 5, 5);
        p.setPen(QPen(kPictureSky, 2));
        p.drawEllipse(to_widget(c), 5, 5);
    }
}

void PictureView::paint_reticle(QPainter& p) const {
    if (!reticle_) return;
    const QPointF c = to_widget(*reticle_);
    for (const auto& [colour, wide] : {std::pair{QColor(20, 26, 24, 190), 3.5}, {kPictureSky, 1.5}}) {
        p.setPen(QPen(colour, wide));
        for (const QPointF d : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)})
            p.drawLine(c + d * 6, c + d * 22);
    }
}

/// A joint that waits to be found right: it stands under the loupe.
std::optional<core::Landmark> PictureView::looked_at() const {
    const auto l = now_.marking().selected();
    if (!l || now_.marking().dragging() || quiet_) return std::nullopt;
    const core::Mark mark = now_.marking().figure()[*l];
    return mark.visibility != core::Visibility::absent && !mark.confirmed ? l : std::nullopt;
}

void PictureView::paint_loupe(QPainter& p) const {
    const auto joint = looked_at();
    if (joint && drawing_ == Line::none && !three_ && !reticle_)
        return paint_glass(p, to_widget(now_.marking().figure()[*joint].at));
    const bool placing = (tool_takes() || (!quiet_ && (now_.marking().asked() || three_ || reticle_))) &&
                         now_.deck().picture_is_current() && drawing_ == Line::none;
    if (pointer_.x() < 0 || panning_ || (!placing && !now_.marking().dragging()) ||
        (joint_at(pointer_) && !now_.marking().dragging() && !three_ && !reticle_ && !tool_takes()))
        return;
    paint_glass(p, pointer_);
}

/// The magnified picture round a place of the widget, beside it.
void PictureView::paint_glass(QPainter& p, QPointF place) const {
    const core::Point at = to_picture(place);
    if (!inside(at)) return;
    const double size = 132, magnified = std::max(kMagnified * scale(), kMagnified), share = size / magnified;
    QPointF corner = place + QPointF(26, 26);
    if (corner.x() + size > width()) corner.setX(place.x() - 26 - size);
    if (corner.y() + size > height()) corner.setY(place.y() - 26 - size);
    const QRectF glass(corner, QSizeF(size, size));
    p.save();
    QPainterPath round;
    round.addEllipse(glass);
    p.setClipPath(round);
    p.fillRect(glass, theme().picture_ground);
    const double shrunk =
        static_cast<double>(now_.deck().picture().width()) / now_.deck().display_size().width();
    const QRectF from((at.x - share / 2) * shrunk, (at.y - share / 2) * shrunk, share * shrunk,
                      share * shrunk);
    const QRect whole = from.toAlignedRect();
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.drawImage(glass, stage_.lifted(now_.deck().picture().copy(whole)),
                QRectF(from.topLeft() - whole.topLeft(), from.size()));
    p.setClipping(false);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(kBone, 2));
    p.drawEllipse(glass);
    p.setPen(QPen(QColor(255, 253, 248, 230), 1));  // hairs that leave the spot itself free
    const QPointF c = glass.center();
    for (const QPointF d : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)})
        p.drawLine(c + d * 7, c + d * 24);
    p.restore();
}

/// What the program knows of the rider on a frame without joints of its own.
void PictureView::paint_unmarked(QPainter& p, const FigureLook& look) const {
    const int frame = now_.deck().frame();
    if (const auto followed = followed_ ? followed_(frame) : std::nullopt)
        paint_figure(p, *followed, {look.to_widget, look.height, {}, now_.review().slot(), true, {}});
    else if (const auto read = read_ && marks_ && !quiet_ ? read_(frame) : std::nullopt)
        paint_moving_figure(p, *read, look.to_widget);
}

std::pair<QString, QString> PictureView::prompt() const {
    if (drawing_ != Line::none) return prompt_of(drawing_, line_.has_value());
    if (tool_takes() && now_.deck().ready()) return tool_->prompt();
    if (three_ && now_.deck().ready()) {
        const bool side = now_.marking().figure().view == core::View::side;
        const QString side_steps[] = {tr("Click the top of the head"), tr("Now the heel"), tr("And the toe")};
        const QString other_steps[] = {tr("Click the top of the head"), tr("Now the left heel"),
                                       tr("And the right heel")};
        const QString where[] = {tr("highest point of the helmet · the figure is laid from three clicks"),
                                 tr("rearmost edge of the sole"), tr("foremost edge of the sole")};
        const QString where_other[] = {
            tr("highest point of the helmet · the figure is laid from three clicks"),
            tr("the rider's own left"), tr("the rider's own right")};
        const std::size_t n = std::min<std::size_t>(clicks_.size(), 2);
        return {side ? side_steps[n] : other_steps[n], side ? where[n] : where_other[n]};
    }
    if (const auto l = looked_at())
        return {tr("Is the %1 right as it stands?").arg(text(core::spoken(*l))),
                (now_.marking().seen_elsewhere(*l) ? tr("it was read elsewhere · ") : QString()) +
                    tr("[confirm_one] yes · drag or nudge it · [take_away] takes it away · [let_go] later")};
    if (now_.marking().has_unconfirmed() && !now_.marking().selected()) {
        const auto l = now_.marking().asked();
        return {l ? tr("Click the ") + text(core::spoken(*l)) : tr("Are the joints right?"),
                tr("grey ones judge nothing yet: drag what is off · [confirm] confirms what the picture "
                   "shows, [confirm_one] "
                   "the next that was only laid")};
    }
    if (waiting_ > 0 && now_.deck().ready() && !now_.review().moment())
        return {waiting_ == 1 ? tr("A figure waits to be looked at")
                              : tr("%1 figures wait to be looked at").arg(waiting_),
                tr("[seems_next] shows the next, [confirm] takes it · [three_clicks] lays another on this "
                   "frame")};
    if (const auto l = now_.marking().asked(); l && now_.deck().ready()) {
        return {tr("Click the ") + text(core::spoken(*l)),
                QString::fromUtf8(core::where(*l).data()) + tr(" · [cannot_see] can't see it") +
                    (now_.review().moment() ? "" : tr(" · [three_clicks] lays it from three clicks"))};
    }
    if (now_.marking().selected())
        return {text(core::spoken(*now_.marking().selected())),
                tr("drag or nudge with the arrow keys · [take_away] takes it away · [let_go] lets go")};
    return {};
}

/// The line over the picture follows what is painted, but not from inside the painting.
void PictureView::tell_prompt() {
    prompt_waits_ = false;
    const auto [strong, rest] =
        (quiet_ && drawing_ == Line::none && !tool_takes()) || now_.deck().picture().isNull()
            ? std::pair<QString, QString>()
            : prompt();
    prompt_->setVisible(!strong.isEmpty());
    if (strong.isEmpty()) return;
    // Measuring it paints it, and painting asks for this again: once told, it is left alone.
    const int room = width() - 24;
    if (const Told now{strong, rest, room, prompt_->font()}; now == std::exchange(told_, now)) return;
    prompt_->say(strong, rest);
    prompt_->setWordWrap(false);
    prompt_->adjustSize();
    if (prompt_->width() > room) {
        prompt_->setWordWrap(true);
        prompt_->resize(room, prompt_->heightForWidth(room));
    }
}

core::SeenPart PictureView::seen_part() const {
    const QSize size = now_.deck().display_size();
    if (size.isEmpty() || zoom_ <= 1) return {};
    const core::Point a = to_picture({0, 0}), b = to_picture({width() * 1.0, height() * 1.0});
    core::SeenPart out;
    out.x = std::clamp((a.x + b.x) / 2 / size.width(), 0.0, 1.0);
    out.y = std::clamp((a.y + b.y) / 2 / size.height(), 0.0, 1.0);
    out.share = std::clamp(1 / zoom_, 0.05, 1.0);
    return out;
}

void PictureView::paintEvent(QPaintEvent*) {
    if (const core::SeenPart part = seen_part(); part != last_part_) {
        last_part_ = part;
        QMetaObject::invokeMethod(
            this, [this, part] { emit part_seen(part); }, Qt::QueuedConnection);
    }
    if (!std::exchange(prompt_waits_, true))
        QMetaObject::invokeMethod(this, &PictureView::tell_prompt, Qt::QueuedConnection);
    QPainter p(this);
    // Beside the picture lies the page, not a black bar; while nothing is shown yet, the dark of a stage.
    p.fillRect(rect(), now_.deck().picture().isNull() ? theme().picture_ground : theme().ground);
    const QImage& picture = now_.deck().picture();
    if (picture.isNull()) {
        p.setPen(QColor(0xb9, 0xc0, 0xba));
        p.setFont(text_font(18));
        p.drawText(
            rect(), Qt::AlignCenter,
            now_.is_open() ? tr("Opening the clip …") : tr("Choose a clip in the yard, or drop one here"));
        return;
    }
    stage_.set_picture(picture, now_.deck().display_size());
    stage_.paint(p, place());
    p.setRenderHint(QPainter::Antialiasing);
    if (hasFocus()) {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(QColor(255, 253, 248, 90), 1));
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

}  // namespace aspen::ui

#include "moc_picture_view.cpp"
