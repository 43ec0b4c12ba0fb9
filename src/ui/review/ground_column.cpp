#include "ui/review/ground_column.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "core/motion/happening_words.hpp"
#include "core/reading/refused.hpp"
#include "exchange/ridden_plan.hpp"
#include "ui/review/ground_on_picture.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kColumnMargin = 16;

exchange::GroundLook plan_look() {
    const Theme& t = theme();
    return {t.ink, t.quiet, t.line, t.ground, t.sky, t.clay, t.teal, text_font(12, true)};
}

/// "20 m at C", "17 x 35", "K M": the numbers and the words of it.
struct NumbersAndWords {
    std::vector<double> numbers;
    QStringList words;
};
NumbersAndWords parts_of_line(const QString& line) {
    NumbersAndWords out;
    for (QString part :
         line.simplified().replace(QString::fromUtf8("×"), " ").split(' ', Qt::SkipEmptyParts)) {
        bool number = false;
        const double v = part.replace(',', '.').toDouble(&number);
        if (number)
            out.numbers.push_back(v);
        else
            out.words << part.toUpper();
    }
    out.words.removeAll("M");
    return out;
}

}  // namespace

GroundColumn::GroundColumn(const app::BenchState& now, app::WayWork& work, app::Player& player,
                           WordLine& line, const KeyMap& keys, QWidget* parent)
    : BenchPanel(now, parent), work_(work), player_(player), line_(line) {
    setObjectName("panel");
    setAccessibleName(tr("The ground"));
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(kColumnMargin, 8, kColumnMargin, 10);
    all->setSpacing(4);
    heading_ = text_label("", this, 18, true);
    heading_->setWordWrap(true);
    about_ = quiet_label("", this);
    all->addWidget(heading_);
    all->addWidget(about_);
    all->addStretch(1);
    sayings_ = new QWidget(this);
    lines_ = new QVBoxLayout(sayings_);
    lines_->setContentsMargins(0, 0, 0, 0);
    lines_->setSpacing(2);
    all->addWidget(sayings_);
    on_button_ = verb_button("", "", this, true);
    connect(on_button_, &QPushButton::clicked, this, &GroundColumn::go_on);
    all->addWidget(on_button_);
    foot_ = new HintLine(keys, this, 12);
    foot_->setWordWrap(true);
    all->addWidget(foot_);
    connect(foot_, &HintLine::pressed, this, [this](const QString& key) {
        const QKeySequence pressed(key);
        if (pressed.isEmpty()) return;
        take_key(QKeyEvent(QEvent::KeyPress, pressed[0].key(), pressed[0].keyboardModifiers(), key));
    });
    connect(&work_, &app::WayWork::changed, this, &GroundColumn::refresh);
    connect(&work_, &app::WayWork::say, this, &GroundColumn::say);
}

void GroundColumn::open() {
    on_ = true;
    const app::RiddenGround* ground = work_.ground();
    stage_ = !ground || !ground->laid ? Stage::places : Stage::asked;
    next_.clear();
    waiting_.reset();
    work_.look_for_same_stand();
    if (ground && ground->laid) work_.read_pictures();
    refresh();
}

void GroundColumn::leave() {
    on_ = false;
    waiting_.reset();
    emit repaint_picture();
}

bool GroundColumn::step_back() {
    if (waiting_) {
        waiting_.reset();
        refresh();
        return true;
    }
    return false;
}

void GroundColumn::clip_opened() {
    if (on_) open();
}

/// What of it changes is said by the work.
void GroundColumn::show_state(app::BenchParts) {}

void GroundColumn::show_frame() {
    if (!on_) return;
    const app::RiddenGround* ground = work_.ground();
    plan_.horse.reset();
    const int at = ground ? ground->nearest(now_.deck().frame(), now_.deck().facts().average_fps) : -1;
    if (at >= 0) {
        const core::WayPoint& p = ground->way[static_cast<std::size_t>(at)];
        plan_.horse = p.place.at;
        plan_.horse_sd_m = p.place.sd_m;
    }
    update();
}

void GroundColumn::refresh() {
    if (!on_ || !now_.is_open()) return;
    const app::RiddenGround* ground = work_.ground();
    if (stage_ != Stage::places && (!ground || !ground->laid)) stage_ = Stage::places;
    rebuild_plan(ground);
    tell(ground);
    show_frame();
    emit repaint_picture();
}

void GroundColumn::rebuild_plan(const app::RiddenGround* ground) {
    plan_ = {};
    try {
        plan_.arena = app::arena_of(work_.marks().arena);
    } catch (const core::Refused& e) {
        return emit say(QString::fromUtf8(e.what()));
    }
    if (!ground) return;
    exchange::add_ridden(plan_, ground->way);
    for (const app::RiddenGround::Held& held : ground->held) {
        if (held.ridden) exchange::add_held(plan_, held.figure, *held.ridden, ground->way);
    }
    for (const store::Event& e : now_.review().events()) {
        if (e.slot != now_.review().slot() || e.event.starts_with("hoof")) continue;
        const double t = now_.deck().capture_map().real_s(e.time_s);
        for (const core::WayPoint& p : ground->way) {
            constexpr double kSame = 0.1;
            if (std::abs(p.time_s - t) > kSame) continue;
            plan_.happened.emplace_back(p.place.at, QString::fromUtf8(core::spoken_event(e.event).data()));
            break;
        }
    }
}

/// How far a place in the middle and one at the far end are known.
QString GroundColumn::how_sure(const app::RiddenGround& ground) const {
    double near = 1e9, far = 0;
    for (const auto& [name, at] : ground.arena.places()) {
        const Eigen::Vector2d p = ground.laid->picture(at);
        try {
            const double sd = ground.laid->place(p.x(), p.y(), 1).sd_m;
            near = std::min(near, sd);
            far = std::max(far, sd);
        } catch (const core::Refused&) {
            continue;  // behind the camera
        }
    }
    constexpr double kNinetyTold = 1.645, kUseless = 5;
    if (far == 0) return {};
    const QString to =
        far * kNinetyTold > kUseless ? tr("more than 5 m") : tr("%1 m").arg(far * kNinetyTold, 0, 'f', 1);
    return tr("places known to %1 m near by, %2 far off").arg(near * kNinetyTold, 0, 'f', 1).arg(to);
}

void GroundColumn::tell(const app::RiddenGround* ground) {
    clear(*lines_);
    said_.clear();
    const bool laid = ground && ground->laid;
    const store::LaidArena& arena = work_.marks().arena;
    if (stage_ == Stage::places) {
        heading_->setText(tr("Lay the arena"));
        QString about =
            tr("%1 · %2").arg(app::arena_in_words(arena), laid     ? how_sure(*ground)
                                                          : ground ? ground->trouble
                                                                   : tr("click what you see of it"));
        if (laid && ground->guessed) about += tr(" · a first guess: more letters make it better");
        about_->setText(about);
        on_button_->setText(tr("It lies right  Enter"));
        foot_->say(
            tr("[=Z] another arena · [=Shift+H] camera's height · [=Shift+W] its angle · [=Backspace] takes "
               "the last away"));
    } else if (stage_ == Stage::horse) {
        heading_->setText(tr("Where the horse is"));
        about_->setText(work_.busy()   ? tr("following it …")
                        : work_.read() ? tr("followed by itself; a click under the horse corrects it")
                                       : tr("click under the horse every half second"));
        on_button_->setText(tr("Say what was asked  Enter"));
        foot_->say(tr("[=Backspace] takes the last away · [=Shift+L] the letters again"));
    } else {
        heading_->setText(tr("What was asked?"));
        about_->setText(work_.busy() ? tr("following the horse …") : laid ? how_sure(*ground) : QString());
        on_button_->setText({});
        foot_->say(
            tr("[=1] circle · [=2] volte · [=3] wall · [=4] centre line · [=5] diagonal · [=6] corner · "
               "[=7] serpentine · [=Backspace] takes the last away · [=Shift+L] letters · [=Shift+P] horse"));
    }
    on_button_->setVisible(stage_ != Stage::asked && laid);
    if (laid) tell_held(*ground);
    setAccessibleDescription((QStringList{heading_->text(), about_->text()} + said_).join(". "));
}

void GroundColumn::tell_held(const app::RiddenGround& ground) {
    for (const app::RiddenGround::Held& held : ground.held) {
        const QString kind = text(std::string(core::word(held.figure.kind))).replace('_', ' ');
        QString title = sentence(kind);
        if (held.asked.diameter_m > 0) title += tr(" of %1 m").arg(held.asked.diameter_m);
        if (held.figure.kind == core::FigureKind::diagonal)
            title += tr(" %1 to %2").arg(text(held.asked.at), text(held.asked.until));
        else if (held.figure.kind != core::FigureKind::wall && !held.asked.at.empty())
            title += tr(" at %1").arg(text(held.asked.at));
        lines_->addWidget(text_label(title, this, 14, true));
        said_ << title;
        QStringList lines;
        if (!held.ridden) {
            lines << held.trouble;
        } else {
            for (const std::string& l : core::in_words(*held.ridden, held.figure, ground.arena, ground.way))
                lines << sentence(QString::fromStdString(l));
        }
        for (const QString& l : lines) {
            auto* label = text_label(l, this, 14);
            label->setWordWrap(true);
            lines_->addWidget(label);
            said_ << l;
        }
    }
}

QRectF GroundColumn::plan_area() const {
    const double top = about_->geometry().bottom() + 6, bottom = sayings_->geometry().top() - 6;
    return {static_cast<double>(kColumnMargin), top, width() - 2.0 * kColumnMargin,
            std::max(60.0, bottom - top)};
}

void GroundColumn::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    p.setRenderHint(QPainter::Antialiasing);
    exchange::paint_ground(p, plan_, plan_area(), plan_look());
}

void GroundColumn::mousePressEvent(QMouseEvent* e) {
    if (!plan_area().contains(e->position())) return;
    const core::GroundPoint at = exchange::GroundMap(plan_.arena, plan_area()).metres(e->position());
    if (const auto frame = work_.frame_near(at)) emit wants(app::GoTo{*frame});
}

bool GroundColumn::takes_clicks() const { return on_ && stage_ != Stage::asked; }

std::pair<QString, QString> GroundColumn::prompt() const {
    if (stage_ == Stage::horse)
        return {tr("Click the ground under the horse"), tr("midway between its hooves · [let_go] leaves it")};
    if (waiting_) return {tr("Which letter is that?"), tr("type it; 1 to 4 are the corners AK, CH, CM, AF")};
    if (next_.empty())
        return {tr("Type the letter farthest left, then click its foot"),
                tr("where its board meets the ground · then the next to the right, without typing")};
    return {tr("Click the foot of %1").arg(text(next_)),
            tr("or type another letter; 1 to 4 are the corners")};
}

/// Once it lies there, a click is meant for the place that is nearest.
std::string GroundColumn::nearest_place(core::Point at) const {
    const app::RiddenGround* ground = work_.ground();
    if (!ground || !ground->laid || ground->guessed) return {};
    const auto turn = ground->to_laid(now_.deck().frame());
    if (!turn) return {};
    constexpr double kNearShare = 0.05;  // of the picture's width
    double least = kNearShare * now_.deck().facts().width;
    std::string best;
    for (const auto& [name, place] : ground->arena.places()) {
        const auto seen = seen_on(*ground, *turn, place);
        if (!seen) continue;
        const double away = std::hypot(seen->x() - at.x, seen->y() - at.y);
        if (away < least) least = away, best = name;
    }
    return best;
}

void GroundColumn::click(core::Point at, double zoom) {
    try {
        if (stage_ == Stage::horse) return work_.mark_horse(at, zoom);
        std::string name = next_;
        if (name.empty()) name = nearest_place(at);
        if (name.empty()) {
            waiting_ = {at, zoom};
            return refresh();
        }
        next_ = plan_.arena.next_clockwise(name);
        work_.mark_place(name, at, zoom);
        const app::RiddenGround* ground = work_.ground();
        const std::size_t marked = work_.marks().marks.size();
        if (ground && !ground->laid && marked > 1 && !ground->trouble.isEmpty())
            emit say(sentence(ground->trouble) + ".");
    } catch (const core::Refused& e) {
        emit say(QString::fromUtf8(e.what()));
    }
}

void GroundColumn::paint(QPainter& p, const PictureStage::Place& place) const {
    if (!on_ || !now_.is_open()) return;
    paint_ground_over(p, place, work_, now_, waiting_ ? std::optional(waiting_->first) : std::nullopt);
}

void GroundColumn::place_named(const std::string& name) {
    try {
        (void)plan_.arena.at(name);
    } catch (const core::Refused& e) {
        return emit say(QString::fromUtf8(e.what()));
    }
    next_ = name;
    if (waiting_) {
        const auto [at, zoom] = *std::exchange(waiting_, std::nullopt);
        return click(at, zoom);
    }
    refresh();
}

bool GroundColumn::place_key(const QKeyEvent& e) {
    const bool bare = (e.modifiers() & ~Qt::KeypadModifier) == 0;
    if (e.modifiers() == Qt::ShiftModifier && e.key() == Qt::Key_H) return say_height(), true;
    if (e.modifiers() == Qt::ShiftModifier && e.key() == Qt::Key_W) return say_wide(), true;
    if (!bare) return false;
    if (e.key() == Qt::Key_Backspace) return work_.take_back_place(), true;
    if (e.key() == Qt::Key_Z) return other_arena(), true;
    const bool cones = plan_.arena.places().contains("CONE1");
    if (e.key() >= Qt::Key_1 && e.key() <= Qt::Key_4) {
        constexpr const char* kCorners[] = {"AK", "CH", "CM", "AF"};
        const int n = e.key() - Qt::Key_1;
        if (cones && n > 1) return true;
        place_named(cones ? (n == 0 ? "CONE1" : "CONE2") : kCorners[n]);
        return true;
    }
    if (e.key() < Qt::Key_A || e.key() > Qt::Key_Y) return false;
    place_named(std::string(1, static_cast<char>(e.key())));
    return true;
}

bool GroundColumn::asked_key(const QKeyEvent& e) {
    if ((e.modifiers() & ~Qt::KeypadModifier) != 0) return false;
    if (e.key() == Qt::Key_Backspace) {
        stage_ == Stage::horse ? work_.take_back_horse() : work_.take_back_asked();
        return true;
    }
    if (stage_ != Stage::asked || e.key() < Qt::Key_1 || e.key() > Qt::Key_7) return false;
    using K = core::FigureKind;
    constexpr K kByDigit[] = {K::circle,   K::circle, K::wall,      K::centre_line,
                              K::diagonal, K::corner, K::serpentine};
    const int n = e.key() - Qt::Key_1;
    if (n == 0) return ask_circle(), true;
    if (n == 4) return ask_diagonal(), true;
    ask_figure(kByDigit[n]);
    return true;
}

bool GroundColumn::take_key(const QKeyEvent& e) {
    if (!on_ || e.isAutoRepeat()) return false;
    try {
        const bool enter = e.key() == Qt::Key_Return || e.key() == Qt::Key_Enter;
        if (enter && e.modifiers() == Qt::NoModifier) return go_on(), true;
        if (e.modifiers() == Qt::ShiftModifier && (e.key() == Qt::Key_L || e.key() == Qt::Key_P)) {
            stage_ = e.key() == Qt::Key_L ? Stage::places : Stage::horse;
            refresh();
            return true;
        }
        return stage_ == Stage::places ? place_key(e) : asked_key(e);
    } catch (const core::Refused& trouble) {
        emit say(QString::fromUtf8(trouble.what()));
        return true;
    }
}

void GroundColumn::go_on() {
    const app::RiddenGround* ground = work_.ground();
    if (!ground || !ground->laid) {
        emit say(tr("Click two letters at least; four that are no line make it sure."));
        return;
    }
    if (stage_ == Stage::places) {
        work_.read_pictures();
        stage_ = Stage::horse;
    } else {
        stage_ = Stage::asked;
    }
    refresh();
}

void GroundColumn::other_arena() {
    store::LaidArena next = work_.marks().arena;
    const bool hall = !next.places.empty();
    const bool cones = next.places.find("CONE1") != std::string::npos;
    const auto keep = [this, now = next](store::LaidArena laid) {
        laid.height_m = now.height_m;
        laid.wide_deg = now.wide_deg;
        try {
            work_.choose_arena(laid);
        } catch (const core::Refused& e) {
            emit say(QString::fromUtf8(e.what()));
        }
        next_.clear();
    };
    if (!hall && next.length_m < 50) {
        store::LaidArena large;
        large.length_m = 60;
        return keep(large);
    }
    if (!hall)
        return line_.ask(
            tr("A hall of own measures, metres: width, length"), {},
            [this, keep](const QString& said) {
                const auto parts = parts_of_line(said);
                if (parts.numbers.size() < 2) return emit say(tr("Two numbers, as in 17 35."));
                keep(app::own_hall(std::max(parts.numbers[0], parts.numbers[1]),
                                   std::min(parts.numbers[0], parts.numbers[1])));
            },
            "17 35");
    if (!cones)
        return line_.ask(
            tr("A field with two cones: how far apart, metres"), {},
            [this, keep](const QString& said) {
                const auto parts = parts_of_line(said);
                if (parts.numbers.empty() || parts.numbers[0] <= 0)
                    return emit say(tr("One number, as in 30."));
                keep(app::two_cones(parts.numbers[0]));
            },
            "30");
    keep({});
}

void GroundColumn::say_height() {
    line_.ask(
        tr("How high the camera stands, metres"), {},
        [this](const QString& said) {
            const auto parts = parts_of_line(said);
            if (parts.numbers.empty() || parts.numbers[0] <= 0) return emit say(tr("One number, as in 1.7."));
            store::LaidArena arena = work_.marks().arena;
            arena.height_m = parts.numbers[0];
            work_.choose_arena(arena);
        },
        "1.7");
}

void GroundColumn::say_wide() {
    line_.ask(
        tr("How wide the camera sees across its longer side, degrees"), {},
        [this](const QString& said) {
            const auto parts = parts_of_line(said);
            if (parts.numbers.empty() || parts.numbers[0] < 5 || parts.numbers[0] > 150)
                return emit say(tr("One number between 5 and 150."));
            store::LaidArena arena = work_.marks().arena;
            arena.wide_deg = parts.numbers[0];
            work_.choose_arena(arena);
        },
        "65");
}

/// Between the loop's marks where they are set, else the whole stretch.
std::pair<int, int> GroundColumn::asked_frames() const {
    if (player_.from() && player_.to()) return {*player_.from(), *player_.to()};
    const std::size_t place = core::stretch_at(now_.review().stretches(), now_.deck().frame());
    return core::extent(now_.review().stretches(), place, now_.deck().facts().frames);
}

void GroundColumn::ask_circle() {
    const auto [from, to] = asked_frames();
    store::AskedLine asked;
    if (const auto likely = work_.likely_circle(from, to)) asked = *likely;
    asked.kind = "circle";
    asked.from_frame = from;
    asked.to_frame = to;
    const QString start =
        asked.diameter_m > 0 ? tr("%1 at %2").arg(asked.diameter_m).arg(text(asked.at)) : QString("20");
    line_.ask(
        tr("How large, and where: metres and a letter; the metres alone, or \"as ridden\""), {},
        [this, asked](const QString& said) mutable {
            const auto parts = parts_of_line(said);
            asked.diameter_m = parts.numbers.empty() ? 0 : parts.numbers[0];
            asked.at.clear();
            for (const QString& w : parts.words) {
                if (plan_.arena.places().contains(w.toStdString())) asked.at = w.toStdString();
            }
            try {
                work_.ask_for(asked);
            } catch (const core::Refused& e) {
                emit say(QString::fromUtf8(e.what()));
            }
        },
        start);
}

void GroundColumn::ask_diagonal() {
    const auto [from, to] = asked_frames();
    line_.ask(
        tr("From which letter to which"), {},
        [this, from = from, to = to](const QString& said) {
            const QStringList names = said.toUpper().split(' ', Qt::SkipEmptyParts);
            if (names.size() < 2) return emit say(tr("Two letters, as in K M."));
            store::AskedLine asked;
            asked.kind = "diagonal";
            asked.from_frame = from;
            asked.to_frame = to;
            asked.at = names.front().toStdString();
            asked.until = names.back().toStdString();
            try {
                work_.ask_for(asked);
            } catch (const core::Refused& e) {
                emit say(QString::fromUtf8(e.what()));
            }
        },
        "K M");
}

void GroundColumn::ask_figure(core::FigureKind kind) {
    const app::RiddenGround* ground = work_.ground();
    if (!ground || !ground->laid) return;
    store::AskedLine asked;
    asked.kind = core::word(kind);
    std::tie(asked.from_frame, asked.to_frame) = asked_frames();
    if (kind == core::FigureKind::circle) asked.diameter_m = 10;
    const int here = ground->nearest(now_.deck().frame(), now_.deck().facts().average_fps);
    const core::GroundPoint at =
        here >= 0 ? ground->way[static_cast<std::size_t>(here)].place.at : core::GroundPoint{};
    // The wall and the corner are those the horse is nearest to here.
    if (kind == core::FigureKind::wall) asked.at = at.y >= 0 ? "left" : "right";
    if (kind == core::FigureKind::corner) {
        double least = 1e9;
        for (const auto& [name, place] : ground->arena.places()) {
            if (ground->arena.is_corner(name) && core::distance(place, at) < least)
                least = core::distance(place, at), asked.at = name;
        }
        constexpr double kAboutS = 4;
        const auto about = static_cast<int>(std::lround(kAboutS * now_.deck().facts().average_fps));
        asked.from_frame = std::max(asked.from_frame, now_.deck().frame() - about);
        asked.to_frame = std::min(asked.to_frame, now_.deck().frame() + about);
    }
    work_.ask_for(asked);
}

}  // namespace aspen::ui

#include "moc_ground_column.cpp"
