#include "ui/arena/arena_view.hpp"

#include <QAction>
#include <QFileDialog>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPdfWriter>
#include <QSaveFile>
#include <QStandardPaths>
#include <algorithm>
#include <cmath>
#include <sstream>

#include "core/reading/refused.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr const char* kArenaGaits[] = {"walk", "trot", "canter"};
constexpr const char* kKinds[] = {"crosses", "uprights", "rising", "middle_highest"};
constexpr const char* kPatterns[] = {"strides", "two_up_one_down", "count"};
constexpr const char kCircleLetters[] = "ACBEX";

QString metres(double m) { return QLocale().toString(m, 'f', 2) + QObject::tr(" m"); }

exchange::GroundLook look_of(const Theme& t) {
    return {t.ink, t.quiet, t.line, t.panel, t.sky, t.clay, t.teal, text_font(14, true)};
}

}  // namespace

ArenaView::ArenaView(app::Yard& yard, QWidget* parent) : View(parent), yard_(yard) {
    setFocusPolicy(Qt::StrongFocus);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(20, 14, 20, 10);
    controls_ = new QWidget(this);
    controls_->setFixedWidth(scaled_px(340));
    row->addWidget(controls_);
    row->addStretch(1);
    build_deeds();
    build_controls();
}

void ArenaView::build_deeds() {
    const auto deed = [this](const QString& id, const QString& words, std::function<void()> act) {
        deeds_.add(id, words, std::move(act));
    };
    deed("sum_poles", tr("Poles in a row"), [this] { choose(Sum::poles); });
    deed("sum_fan", tr("Poles on a circle"), [this] { choose(Sum::fan); });
    deed("sum_grid", tr("A grid"), [this] { choose(Sum::grid); });
    deed("sum_circle", tr("A circle"), [this] { choose(Sum::circle); });
    deed("sum_pace", tr("Pace and click track"), [this] { choose(Sum::pace); });
    deed("sum_line", tr("A line from letter to letter, and serpentines"), [this] { choose(Sum::line); });
    deed("arena_size", tr("20 x 40 or 20 x 60"), [this] { size_->click(); });
    deed("next_horse", tr("The next horse"), [this] { horse_->click(); });
    deed("next_gait", tr("The next gait"), [this] { gait_->click(); });
    deed("next_kind", tr("The next kind"), [this] {
        kind_ = (kind_ + 1) % 4;
        pattern_now_ = (pattern_now_ + 1) % 3;
        letter_ = (letter_ + 1) % 5;
        rebuild();
    });
    deed("play_clicks", tr("Play or stop the click track"), [this] { play_or_stop(); });
    deed("save_clicks", tr("Save the click track"), [this] { save_clicks(); });
    deed("save_drawing", tr("Save the drawing"), [this] {
        const QString file = QFileDialog::getSaveFileName(
            this, tr("Save the drawing"),
            QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation) + "/ground.pdf",
            tr("PDF (*.pdf)"));
        if (file.isEmpty()) return;
        const QString trouble = save_drawing(file);
        emit say(trouble.isEmpty() ? tr("Saved: ") + file : trouble);
    });
}

void ArenaView::build_controls() {
    auto* box = new QVBoxLayout(controls_);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(6);
    auto* sums = new QGridLayout;
    sums->setSpacing(6);
    const QString names[] = {tr("Poles  1"),  tr("On a circle  2"), tr("Grid  3"),
                             tr("Circle  4"), tr("Pace  5"),        tr("Line  6")};
    for (int i = 0; i < 6; ++i) {
        auto* b = new QPushButton(names[i], this);
        b->setCheckable(true);
        b->setFocusPolicy(Qt::NoFocus);
        connect(b, &QPushButton::clicked, this, [this, i] { choose(static_cast<Sum>(i)); });
        sums->addWidget(b, i / 3, i % 3);
        sums_.push_back(b);
    }
    box->addLayout(sums);
    box->addSpacing(8);
    const auto button = [&](std::function<void()> act) {
        auto* b = new QPushButton(this);
        b->setFocusPolicy(Qt::NoFocus);
        connect(b, &QPushButton::clicked, this, [this, act = std::move(act)] {
            act();
            rebuild();
        });
        box->addWidget(b);
        return b;
    };
    size_ = button([this] {
        length_ = length_ == 60 ? 40 : 60;
        line_from_ = 'K';  // letters that both have
        line_to_ = 'M';
    });
    horse_ = button([this] {
        const auto all = yard_.records().people.horses();
        std::size_t next = 0;
        for (std::size_t i = 0; i < all.size(); ++i) {
            if (on_ && all[i].id == *on_) next = i + 1;
        }
        on_ = next < all.size() ? std::optional(all[next].id) : std::nullopt;
    });
    gait_ = button([this] { gait_now_ = (gait_now_ + 1) % 3; });
    pattern_ = button([this] {
        kind_ = (kind_ + 1) % 4;
        pattern_now_ = (pattern_now_ + 1) % 3;
        letter_ = (letter_ + 1) % 5;
    });
    build_steppers(*box);
    box->addSpacing(8);
    results_ = new QVBoxLayout;
    results_->setSpacing(3);
    box->addLayout(results_);
    box->addStretch(1);
    build_verbs(*box);
}

void ArenaView::build_steppers(QVBoxLayout& box) {
    const auto stepper = [&](const QString& id, const QString& words, int least, int most, int at) {
        auto* s = new Stepper(words, least, most, this);
        s->set_value(at);
        connect(s, &Stepper::changed, this, &ArenaView::rebuild);
        box.addWidget(s);
        steppers_[id] = s;
    };
    stepper("poles", tr("Poles"), 1, 8, 4);
    stepper("step", tr("Step or stride, cm"), 30, 800, 125);
    stepper("raised", tr("Raised, cm"), 0, 30, 0);
    stepper("radius", tr("Radius, m"), 4, 20, 8);
    stepper("fences", tr("Fences"), 2, 4, 3);
    stepper("height", tr("Highest, cm"), 20, 80, 40);
    stepper("across", tr("Across, m"), 6, 20, 20);
    stepper("tempo", tr("Strides a minute"), 30, 150, 78);
    stepper("count", tr("Strides a count"), 2, 20, 5);
}

void ArenaView::build_verbs(QVBoxLayout& box) {
    auto* verbs = new QGridLayout;
    int at = 0;
    for (const auto& [id, words] : {std::pair{"play_clicks", tr("Click   Space")},
                                    {"save_clicks", tr("Save it   W")},
                                    {"save_drawing", tr("Save the drawing   S")}}) {
        auto* b = new QPushButton(words, this);
        if (QString(id) == "save_drawing")
            b->setObjectName("next");  // what is laid out here goes to the ring
        b->setFocusPolicy(Qt::NoFocus);
        if (QAction* a = deeds_.find(id)) connect(b, &QPushButton::clicked, a, &QAction::trigger);
        verbs->addWidget(b, at / 2, at % 2, 1, at == 2 ? 2 : 1);
        ++at;
    }
    box.addLayout(verbs);
}

Stepper& ArenaView::stepper(const QString& id) { return *steppers_.at(id); }

void ArenaView::open() {
    rebuild();
    setFocus();
}

void ArenaView::choose(Sum sum) {
    sum_ = sum;
    rebuild();
}

std::optional<double> ArenaView::height_of_horse() const {
    const auto horse = on_ ? yard_.records().people.horse(*on_) : std::nullopt;
    return horse && horse->height_cm ? std::optional<double>(*horse->height_cm) : std::nullopt;
}

core::ClickWish ArenaView::click_wish() const {
    core::ClickWish w;
    w.tempo_per_min = steppers_.at("tempo")->value();
    w.beats = gait_now_ == 0 ? 4 : gait_now_ == 1 ? 2 : 3;
    w.pattern = core::click_pattern_from(kPatterns[pattern_now_]);
    w.count = steppers_.at("count")->value();
    w.seconds = 60;
    return w;
}

void ArenaView::write_row(const QString& words) { plan_.results << words; }

void ArenaView::shape_poles(bool fan) {
    core::PoleWish wish;
    wish.gait = core::pole_gait_from(kArenaGaits[gait_now_]);
    wish.poles = steppers_["poles"]->value();
    wish.step_m = steppers_["step"]->value() / 100.0;
    wish.raised_cm = steppers_["raised"]->value();
    if (fan) wish.circle_radius_m = steppers_["radius"]->value();
    const core::PoleRow row = core::pole_row(wish);
    if (fan) {
        const core::GroundPoint centre{length_ / 2.0, 0};
        exchange::lay_fan(plan_, centre, *wish.circle_radius_m, *row.angle_deg, wish.poles, wish.pole_m);
        write_row(tr("Inner end  %1").arg(metres(*row.inner_m)));
        write_row(tr("Middle  %1").arg(metres(*row.middle_m)));
        write_row(tr("Outer end  %1").arg(metres(*row.outer_m)));
        core::RiddenCircle c;
        c.centre = centre;
        c.radius_m = *wish.circle_radius_m;
        plan_.circle = c;
    } else {
        exchange::lay_row(plan_, row.tape_m, at_, 0, wish.pole_m, false);
        row_m_ = row.tape_m;
        const core::TapeMark t = core::tape_mark(core::Arena(length_), at_);
        write_row(tr("First pole: %1 from %2, %3 from %4")
                      .arg(metres(t.from_first_m), QString(QChar(t.first)), metres(t.from_second_m),
                           QString(QChar(t.second))));
    }
    write_row(tr("Begin at %1, with %2")
                  .arg(metres(row.first_m), row.laid.front() == 1 ? tr("one pole") : tr("two poles")));
    if (row.openings.size() > 1)
        write_row(tr("Open to %1 in %2 steps").arg(metres(row.working_m)).arg(row.openings.size() - 1));
    for (const std::string& a : row.assumptions) plan_.notes << sentence(text(a)) + ".";
}

void ArenaView::shape_grid() {
    core::GridWish wish;
    wish.kind = core::grid_kind_from(kKinds[kind_]);
    wish.fences = steppers_["fences"]->value();
    wish.canter_in = gait_now_ == 2;
    wish.withers_cm = height_of_horse();
    wish.last_height_cm = steppers_["height"]->value();
    const core::Grid g = core::grid(wish);
    std::vector<double> at;
    if (g.placing_pole_m) exchange::lay_row(plan_, {0}, at_, 0, 3, false);
    for (const core::GridFence& f : g.fences) at.push_back(f.at_m);
    exchange::lay_row(plan_, at, at_, 0, 3, true);
    if (g.placing_pole_m) {
        row_m_.push_back(0);
        write_row(tr("Pole to the first  %1").arg(metres(*g.placing_pole_m)));
    }
    row_m_.insert(row_m_.end(), at.begin(), at.end());
    write_row(tr("Bounce  %1").arg(metres(g.bounce_m)));
    QStringList heights;
    for (const core::GridFence& f : g.fences)
        heights << tr("%1 %2 cm").arg(text(f.what)).arg(f.height_cm, 0, 'f', 0);
    write_row(heights.join(", "));
    for (const std::string& a : g.assumptions) plan_.notes << sentence(text(a)) + ".";
}

void ArenaView::shape_circle() {
    const char letter = kCircleLetters[letter_];
    plan_.circle = core::circle_at(core::Arena(length_), letter, steppers_["across"]->value());
    const core::Pace p = core::pace(steppers_["tempo"]->value(),
                                    steppers_["step"]->value() / 100.0 * (gait_now_ == 1 ? 2 : 1));
    write_row(tr("Once round  %1").arg(metres(plan_.circle->length_m)));
    write_row(tr("%1 strides, %2 s")
                  .arg(core::strides_over(p, plan_.circle->length_m), 0, 'f', 1)
                  .arg(core::seconds_over(p, plan_.circle->length_m), 0, 'f', 0));
    write_row(tr("The horse leans in %1°").arg(core::lean_deg(p, plan_.circle->radius_m), 0, 'f', 0));
    QStringList touches;
    for (const core::GroundPoint& t : plan_.circle->touches)
        touches << tr("%1 from A's end, %2 from K's side").arg(metres(t.y), metres(t.x));
    plan_.notes << tr("It touches: ") + touches.join("; ") + ".";
}

void ArenaView::shape_pace() {
    const double stride = steppers_["step"]->value() / 100.0 * (gait_now_ == 1 ? 2 : 1);
    const core::Pace p = core::pace(steppers_["tempo"]->value(), stride);
    write_row(tr("%1 m a minute").arg(p.metres_per_min, 0, 'f', 0));
    write_row(tr("%1 km/h, %2 mph").arg(p.km_per_h, 0, 'f', 1).arg(p.miles_per_h, 0, 'f', 1));
    write_row(tr("Once round in %1 s").arg(core::seconds_over(p, 2.0 * (20 + length_)), 0, 'f', 0));
    const core::ClickWish w = click_wish();
    const auto all = core::clicks(w);
    write_row(tr("%1 beats a minute").arg(w.tempo_per_min * w.beats, 0, 'f', 0));
    plan_.notes << (w.pattern == core::ClickPattern::two_up_one_down
                        ? tr("The accent is the sit: up, up, down.")
                    : w.pattern == core::ClickPattern::count
                        ? tr("The accent begins each count.")
                        : tr("The accent is the first beat of a stride."));
    plan_.notes << tr("The tempo is this horse's own good one.");
}

void ArenaView::shape_line() {
    const core::Arena arena(length_);
    plan_.line = {arena.at(line_from_), arena.at(line_to_)};
    const core::Pace p = core::pace(steppers_["tempo"]->value(),
                                    steppers_["step"]->value() / 100.0 * (gait_now_ == 1 ? 2 : 1));
    const double m = arena.between(line_from_, line_to_);
    write_row(tr("%1 to %2  %3").arg(QChar(line_from_)).arg(QChar(line_to_)).arg(metres(m)));
    write_row(tr("%1 strides, %2 s")
                  .arg(core::strides_over(p, m), 0, 'f', 1)
                  .arg(core::seconds_over(p, m), 0, 'f', 0));
    for (const int loops : {3, 4}) {
        const double way = core::serpentine_m(arena, loops);
        write_row(tr("Serpentine of %1 loops  %2, %3 s")
                      .arg(loops)
                      .arg(metres(way))
                      .arg(core::seconds_over(p, way), 0, 'f', 0));
    }
    plan_.notes << tr("Click two letters for another line.");
}

void ArenaView::rebuild() {
    plan_ = {};
    plan_.arena = core::ArenaFrame(length_, core::Arena::kWidthM);
    row_m_.clear();
    at_.x = std::min(at_.x, length_ - 2.0);
    try {
        switch (sum_) {
            case Sum::poles:
                shape_poles(false);
                break;
            case Sum::fan:
                shape_poles(true);
                break;
            case Sum::grid:
                shape_grid();
                break;
            case Sum::circle:
                shape_circle();
                break;
            case Sum::pace:
                shape_pace();
                break;
            case Sum::line:
                shape_line();
                break;
        }
    } catch (const core::Refused& e) {
        plan_.notes << sentence(QString::fromUtf8(e.what())) + ".";
    }
    show_controls();
    clear(*results_);
    for (qsizetype i = 0; i < plan_.results.size(); ++i)
        results_->addWidget(text_label(plan_.results[i], this, i < 3 ? 18 : 14, i == 0));
    results_->addSpacing(6);
    for (const QString& note : plan_.notes) results_->addWidget(quiet_label(note, this));
    update();
}

/// Only what belongs to the sum that is shown.
void ArenaView::show_controls() {
    for (std::size_t i = 0; i < sums_.size(); ++i) sums_[i]->setChecked(i == static_cast<std::size_t>(sum_));
    const bool poles = sum_ == Sum::poles || sum_ == Sum::fan, pace = sum_ == Sum::pace,
               ridden = pace || sum_ == Sum::circle || sum_ == Sum::line;
    const std::pair<const char*, bool> shown[] = {{"poles", poles},
                                                  {"step", poles || ridden},
                                                  {"raised", poles},
                                                  {"radius", sum_ == Sum::fan},
                                                  {"fences", sum_ == Sum::grid},
                                                  {"height", sum_ == Sum::grid},
                                                  {"across", sum_ == Sum::circle},
                                                  {"tempo", ridden},
                                                  {"count", pace && pattern_now_ == 2}};
    for (const auto& [id, on] : shown) steppers_[id]->setVisible(on);
    size_->setText(tr("Arena 20 × %1 m   Z").arg(length_));
    const auto horse = on_ ? yard_.records().people.horse(*on_) : std::nullopt;
    horse_->setText((horse ? tr("For %1").arg(text(horse->name)) +
                                 (horse->height_cm ? tr(", %1 cm").arg(*horse->height_cm) : QString())
                           : tr("For any horse")) +
                    "   H");
    horse_->setVisible(sum_ == Sum::grid);
    gait_->setText(tr("In %1").arg(text(kArenaGaits[gait_now_])) + "   G");
    pattern_->setVisible(sum_ == Sum::grid || pace || sum_ == Sum::circle);
    pattern_->setText((sum_ == Sum::grid     ? QString(kKinds[kind_]).replace('_', ' ')
                       : sum_ == Sum::circle ? tr("At %1").arg(QChar(kCircleLetters[letter_]))
                                             : QString(kPatterns[pattern_now_]).replace('_', ' ')) +
                      "   K");
}

void ArenaView::paint_detail(QPainter& p, const QRectF& area) const {
    if (row_m_.size() < 2) return;
    const Theme& t = theme();
    const double span = row_m_.back() - row_m_.front(), scale = (area.width() - scaled_px(60)) / span;
    const double y = area.center().y(), half = std::clamp(area.height() / 4, 18.0, 70.0),
                 x0 = area.left() + scaled_px(30);
    p.setPen(QPen(t.line, 1));
    p.drawLine(QPointF(x0, y), QPointF(x0 + span * scale, y));
    for (std::size_t i = 0; i < row_m_.size(); ++i) {
        const double x = x0 + (row_m_[i] - row_m_.front()) * scale;
        p.setPen(QPen(t.ink, 4, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(QPointF(x, y - half), QPointF(x, y + half));
        p.setFont(text_font(12));
        p.setPen(t.quiet);
        p.drawText(QRectF(x - 40, y + half + scaled_px(4), 80, scaled_px(16)), Qt::AlignCenter,
                   metres(row_m_[i]));
        if (i == 0) continue;
        const double before = x0 + (row_m_[i - 1] - row_m_.front()) * scale;
        p.setFont(text_font(18, true));
        p.setPen(t.ink);
        p.drawText(QRectF(before, y - scaled_px(26), x - before, scaled_px(20)), Qt::AlignCenter,
                   metres(row_m_[i] - row_m_[i - 1]));
    }
}

void ArenaView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF all = drawing();
    const bool detail = row_m_.size() >= 2;
    const QRectF top = arena_area();
    exchange::paint_ground(p, plan_, top, look_of(theme()));
    if (detail)
        paint_detail(
            p, QRectF(all.left(), top.bottom(), all.width(), all.bottom() - top.bottom() - scaled_px(24)));
    p.setFont(text_font(12));
    p.setPen(theme().quiet);
    const QString words = sum_ == Sum::poles || sum_ == Sum::grid
                              ? tr("Starting points for the person on the ground. Click where the first one "
                                   "lies, or use the arrows.")
                              : tr("Starting points for the person on the ground.");
    p.drawText(QRectF(all.left(), all.bottom() - scaled_px(18), all.width(), scaled_px(18)), Qt::AlignCenter,
               words);
}

QRectF ArenaView::drawing() const {
    const double left = controls_->geometry().right() + scaled_px(24);
    return {left, static_cast<double>(scaled_px(14)), width() - left - scaled_px(16),
            static_cast<double>(height() - scaled_px(28))};
}

/// As tall as its width makes it, so that what lies below gets the rest.
QRectF ArenaView::arena_area() const {
    QRectF out = drawing();
    const double room = out.height() - scaled_px(row_m_.size() >= 2 ? 150 : 30);
    out.setHeight(row_m_.size() >= 2 ? std::min(room, exchange::plan_height(plan_.arena, out.width()))
                                     : room);
    return out;
}

void ArenaView::mousePressEvent(QMouseEvent* e) {
    const core::GroundPoint at = exchange::GroundMap(plan_.arena, arena_area()).metres(e->position());
    if (at.x < 0 || at.x > length_ || std::abs(at.y) > core::Arena::kWidthM / 2.0) return;
    if (sum_ == Sum::line) {
        // The nearest letter: what was the end becomes the beginning.
        const core::Arena arena(length_);
        const auto& letters = arena.letters();
        const auto nearest = std::ranges::min_element(
            letters, {}, [&](const core::ArenaLetter& l) { return core::distance(l.at, at); });
        line_from_ = std::exchange(line_to_, nearest->letter);
        return rebuild();
    }
    at_ = {std::round(at.x * 2) / 2, std::round(at.y * 2) / 2};
    rebuild();
}

void ArenaView::play_or_stop() {
    if (clicks_.playing()) return clicks_.stop();
    try {
        if (!clicks_.play(click_wish())) emit say(tr("The click track could not be played."));
    } catch (const core::Refused& e) {
        emit say(QString::fromUtf8(e.what()));
    }
}

void ArenaView::save_clicks() {
    const QString file = QFileDialog::getSaveFileName(
        this, tr("Save the click track"),
        QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation) + "/click.wav",
        tr("Sound (*.wav)"));
    if (file.isEmpty()) return;
    try {
        std::ostringstream out;
        core::write_wav(out, core::click_samples(click_wish()));
        const std::string bytes = out.str();
        QSaveFile to(file);
        const bool written = to.open(QIODevice::WriteOnly) &&
                             to.write(bytes.data(), static_cast<qint64>(bytes.size())) > 0 && to.commit();
        emit say(written ? tr("Saved: ") + file
                         : tr("%1: cannot be written; choose another folder.").arg(file));
    } catch (const core::Refused& e) {
        emit say(QString::fromUtf8(e.what()));
    }
}

QString ArenaView::save_drawing(const QString& file) {
    if (plan_.results.isEmpty()) rebuild();  // asked for by name before the view was ever shown
    QSaveFile to(file);
    if (!to.open(QIODevice::WriteOnly)) return tr("%1: cannot be written; choose another folder.").arg(file);
    {
        QPdfWriter pdf(&to);
        pdf.setPageSize(QPageSize(QPageSize::A4));
        pdf.setPageOrientation(QPageLayout::Landscape);
        pdf.setResolution(120);
        pdf.setTitle(tr("Ground plan"));
        QPainter p(&pdf);
        exchange::GroundLook look{Qt::black,
                                  QColor(0x55, 0x62, 0x5b),
                                  QColor(0xc0, 0xc0, 0xc0),
                                  Qt::white,
                                  QColor(0x2f, 0x5d, 0x8a),
                                  QColor(0xa8, 0x39, 0x1c),
                                  QColor(0x17, 0x6b, 0x58),
                                  text_font(14, true)};
        const QRectF page(QPointF(0, 0), QSizeF(pdf.width(), pdf.height()));
        const double scale = exchange::paint_ground(
            p, plan_, {page.left(), page.top(), page.width(), page.height() * 0.68}, look);
        double y = page.height() * 0.72;
        const auto line = [&](const QString& words, int px, bool strong) {
            QFont f = text_font(px, strong);
            f.setPixelSize(px * 4 / 3);
            p.setFont(f);
            p.setPen(Qt::black);
            QRectF used;
            p.drawText(QRectF(0, y, page.width(), 400), Qt::TextWordWrap, words, &used);
            y += used.height() + 3;
        };
        for (const QString& r : plan_.results) line(r, 14, true);
        for (const QString& n : plan_.notes) line(n, 12, false);
        line(tr("Drawn to scale, 1 : %1. Starting points for the person on the ground, who looks at the "
                "horse and adjusts.")
                 .arg(120 / 0.0254 / scale, 0, 'f', 0),
             12, false);
    }
    return to.commit() ? QString() : tr("%1: cannot be written; choose another folder.").arg(file);
}

void ArenaView::keyPressEvent(QKeyEvent* e) {
    const std::pair<int, core::GroundPoint> arrows[] = {{Qt::Key_Left, {-0.5, 0}},
                                                        {Qt::Key_Right, {0.5, 0}},
                                                        {Qt::Key_Up, {0, 0.5}},
                                                        {Qt::Key_Down, {0, -0.5}}};
    for (const auto& [key, by] : arrows) {
        if (e->key() != key || e->modifiers() != Qt::NoModifier) continue;
        constexpr double kHalfWide = core::Arena::kWidthM / 2.0;
        at_ = {std::clamp(at_.x + by.x, 0.0, static_cast<double>(length_)),
               std::clamp(at_.y + by.y, -kHalfWide, kHalfWide)};
        return rebuild();
    }
    if (deeds_.take(*e)) return;
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_arena_view.cpp"
