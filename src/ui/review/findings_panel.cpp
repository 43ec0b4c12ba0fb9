#include "ui/review/findings_panel.hpp"

#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollArea>
#include <QTimer>
#include <algorithm>

#include "app/review/eye_pass.hpp"
#include "app/review/finding_row.hpp"
#include "app/review/leathers.hpp"
#include "app/rides/stride_values.hpp"
#include "app/yard/changes.hpp"
#include "core/judging/sides.hpp"
#include "ui/shared/rail.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr std::size_t kStrongLines = 3;

/// The small rail of a fault's leading measure at the current moment.
class EvidenceRail : public QWidget {
  public:
    explicit EvidenceRail(QWidget* parent) : QWidget(parent) { setFixedSize(72, 28); }
    void show_value(const RailValue& value, const QString& words) {
        setToolTip(words);
        if (value_ == value) return;
        value_ = value;
        update();
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        paint_rail(p, rect(), value_);
    }

  private:
    RailValue value_;
};

/// A row that can be pointed at to make it the current one.
class FindingLine : public QWidget {
  public:
    FindingLine(std::function<void()> chosen, bool current, QWidget* parent)
        : QWidget(parent), chosen_(std::move(chosen)), current_(current) {}

  protected:
    void mousePressEvent(QMouseEvent*) override { QTimer::singleShot(0, this, chosen_); }
    void paintEvent(QPaintEvent*) override {
        if (!current_) return;
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(Qt::NoPen);
        p.setBrush(theme().panel);
        p.drawRoundedRect(rect(), 6, 6);
        p.setBrush(theme().quiet);
        p.drawRoundedRect(QRectF(0, 8, 3, height() - 16), 1.5, 1.5);
    }

  private:
    std::function<void()> chosen_;
    bool current_;
};

QString how_often(const core::FoundFault& f, std::size_t moments) {
    if (f.strides > 0 && f.strides == f.judgeable)
        return QObject::tr("in %1 of %2 strides").arg(f.certain).arg(f.strides);
    const auto n = static_cast<int>(std::lround(f.share * static_cast<double>(moments)));
    if (moments < 2) return QObject::tr("one moment so far");
    return QObject::tr("at %1 of %2 moments").arg(n).arg(moments);
}

/// What is not said yet, and no more than that.
QString still_to_say(const std::vector<std::string>& missing) {
    const std::pair<const char*, QString> words[] = {
        {"rider", QObject::tr("who rides")},        {"horse", QObject::tr("which horse")},
        {"school", QObject::tr("in which school")}, {"gait", QObject::tr("in which gait")},
        {"seat", QObject::tr("in which seat")},     {"travel", QObject::tr("which way the horse goes")}};
    QStringList out;
    for (const auto& [what, spoken] : words) {
        if (std::ranges::find(missing, what) != missing.end()) out << spoken;
    }
    return QObject::tr("Say %1: then the bands are known.").arg(out.join(QObject::tr(", ")));
}

}  // namespace

FindingsPanel::FindingsPanel(const app::BenchState& now, const KeyMap& keys, QWidget* parent)
    : BenchPanel(now, parent), keys_(keys) {
    setObjectName("ground");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 4, 16, 8);
    row->setSpacing(24);
    auto* holder = new QWidget;
    auto* list = new QVBoxLayout(holder);
    list->setContentsMargins(0, 0, 0, 0);
    list->setSpacing(2);
    lines_ = std::make_unique<StandingLines>(*list);
    row->addWidget(scrolled(holder, this), 4);
    side_ = new QWidget(this);
    auto* side = new QVBoxLayout(side_);
    side->setContentsMargins(0, 0, 0, 0);
    side->setSpacing(4);
    focus_ = heading_label("", this);
    why_ = quiet_label("", this);
    next_ = verb_button(tr("Choose the exercise"), "Enter", this, true);
    connect(next_, &QPushButton::clicked, this, &FindingsPanel::wants_exercise);
    side->addWidget(focus_);
    side->addWidget(why_);
    side->addStretch(1);
    side->addWidget(next_, 0, Qt::AlignLeft);
    row->addWidget(side_, 2);
    refresh();
}

void FindingsPanel::show_state(app::BenchParts what) {
    using P = app::BenchPart;
    if (!now_.marking().dragging() && what & (P::clip | P::findings | P::figure)) refresh();
}

std::vector<const app::FindingRow*> FindingsPanel::callable() const {
    std::vector<const app::FindingRow*> out;
    for (const app::FindingRow& r : now_.findings().rows()) {
        if (r.found.verdict == core::Verdict::outside || r.decision != store::Decision::open)
            out.push_back(&r);
    }
    return out;
}

/// The fault as the coach names it, how often it was seen and in what; two lines where it is current.
QString FindingsPanel::words_of(const app::FindingRow& row, bool current) const {
    const bool rejected = row.decision == store::Decision::rejected;
    const core::Fault* said = row.changed_to ? row.changed_to : row.found.fault;
    const QString name = QString::fromStdString(said->name), quiet = theme().quiet.name();
    QString first = rejected ? "<s>" + name + "</s>" : "<b>" + name + "</b>";
    if (row.changed_to)
        first += tr(" <span style='color:%1'>measured: %2</span>")
                     .arg(quiet, QString::fromStdString(row.found.fault->name).toLower());
    QString second = row.found.verdict == core::Verdict::outside
                         ? how_often(row.found, static_cast<std::size_t>(row.moments))
                         : tr("not measured now; your word stands");
    if (row.decision == store::Decision::asked_back) second = tr("did you ask for that? waits for the rider");
    // Told apart only where there is more than one: gait, seat and side.
    const auto& all = now_.findings().rows();
    if (std::ranges::any_of(all,
                            [&](const app::FindingRow& r) { return core::told_apart(r.seen, row.seen); }))
        second = QString::fromStdString(core::spoken(row.seen)) + " · " + second;
    if (row.frame >= 0) second += tr(" · seen at frame %1").arg(row.frame);
    if (current) second += tr(" · <a href='why' style='color:%1'>why?</a>").arg(theme().sky.name());
    return QString("%1%4<span style='font-size:12px; color:%2'>%3</span>")
        .arg(first, quiet, second, current ? "<br>" : " &nbsp; ");
}

QWidget* FindingsPanel::row_for(const app::FindingRow& row, bool current, const QString& html) {
    const QString id = QString::fromStdString(row.key());
    auto* line = new FindingLine(
        [this, id] {
            current_ = id;
            tell_current();
            chosen_by_hand_ = true;
            refresh();
        },
        current, this);
    auto* layout = new QHBoxLayout(line);
    layout->setContentsMargins(10, 2, 6, 2);
    layout->setSpacing(8);
    // The current one has room for how often; the others stand in one line, so that four can be seen.
    line->setFixedHeight(current ? 44 : 31);
    const core::Fault* said = row.changed_to ? row.changed_to : row.found.fault;
    const QString name = QString::fromStdString(said->name);
    auto* words = new QLabel(html, line);
    if (current) {
        words->setTextInteractionFlags(Qt::LinksAccessibleByMouse);
        connect(words, &QLabel::linkActivated, this, &FindingsPanel::wants_why, Qt::QueuedConnection);
    }
    words->setToolTip(QString::fromStdString(said->says));
    words->setMinimumWidth(0);
    words->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    layout->addWidget(words, 1);
    auto* rail = new EvidenceRail(line);
    rail->setObjectName("rail");
    layout->addWidget(rail);
    const auto mark = [&](const QString& verb, const QString& done, const char* key,
                          store::Decision decision) {
        const bool on = row.decision == decision;
        if (!current && !on) return;
        auto* b = new QPushButton(on ? QString("✓ %1").arg(done) : QString("%1  %2").arg(verb, key), line);
        b->setObjectName("deed");
        b->setAccessibleName(QString("%1 %2").arg(verb, name));
        b->setFocusPolicy(Qt::TabFocus);
        connect(b, &QPushButton::clicked, this, [this, id, decision] {
            current_ = id;
            tell_current();
            QTimer::singleShot(0, this, [this, decision] {
                decision == store::Decision::changed ? change_current() : decide_current(decision);
            });
        });
        layout->addWidget(b);
    };
    mark(tr("Accept"), tr("accepted"), "A", store::Decision::accepted);
    mark(tr("Change"), tr("changed"), "C", store::Decision::changed);
    mark(tr("Ask back"), tr("asked the rider"), "B", store::Decision::asked_back);
    mark(tr("Reject"), tr("rejected"), "R", store::Decision::rejected);
    return line;
}

/// What the moment here says of it; what no moment shows, by its mean over the strides.
void FindingsPanel::show_rail(QWidget& line, const app::FindingRow& row, const core::RideData& ride) const {
    auto* rail = static_cast<EvidenceRail*>(line.findChild<QWidget*>("rail"));
    RailValue value;
    QString words;
    if (const core::Judged* j = core::find(now_.marking().judged(), core::leading_measure(*row.found.fault)))
        value = rail_value(*j);
    if (row.found.strides > 0) {
        const auto over = app::mean_over_strides(ride, row.seen, *row.found.fault, now_.knowledge().schools);
        if (over) {
            value = rail_value(*over);
            words = value_words(*over, now_.amounts());
        }
    }
    rail->show_value(value, words);
}

/// What the coach said in own words: a strength or a finding, with the frame it was seen at.
QWidget* FindingsPanel::row_for(const store::Remark& remark) {
    auto* line = new FindingLine([this, frame = remark.frame] { emit wants(app::GoTo{frame}); }, false, this);
    auto* layout = new QHBoxLayout(line);
    layout->setContentsMargins(10, 2, 6, 2);
    line->setFixedHeight(34);
    const auto part = core::body_part_from(remark.part);
    auto* words = new QLabel(
        QString("%1 <b>%2</b> <span style='font-size:12px; color:%3'>%4 · frame %5</span>")
            .arg(remark.kind == store::RemarkKind::strength ? QString::fromUtf8("❧") : QString::fromUtf8("•"),
                 QString::fromStdString(remark.words).toHtmlEscaped(), theme().quiet.name(),
                 part ? text(core::spoken(*part)) : QString())
            .arg(remark.frame),
        line);
    words->setMinimumWidth(0);
    words->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    layout->addWidget(words, 1);
    auto* away = new QPushButton(tr("take away"), line);
    away->setObjectName("word");
    away->setFocusPolicy(Qt::TabFocus);
    away->setAccessibleName(tr("Take away ") + QString::fromStdString(remark.words));
    connect(away, &QPushButton::clicked, this, [this, remark] {
        QTimer::singleShot(0, this, [this, remark] { emit wants(app::TakeAwayRemark{remark}); });
    });
    layout->addWidget(away);
    return line;
}

/// Before anything is marked: three ways on, each in a few words with keys that can be clicked.
QWidget* FindingsPanel::first_steps() {
    auto* steps = new QWidget(this);
    auto* row = new QHBoxLayout(steps);
    row->setContentsMargins(10, 2, 6, 2);
    row->setSpacing(20);
    const std::tuple<QString, QString> all[] = {
        {tr("1  Look through"),
         tr("[play] plays. [note_good] good, [note_look] look here, [note_words] a word. "
            "[gait_trot] and the like cut by what is ridden.")},
        {tr("2  Stop on a telling frame"),
         tr("[three_clicks] lays the figure from three clicks, or click the nine "
            "joints. [carry] carries them to the next moment.")},
        {tr("Or without a joint"),
         tr("[checks] asks the eye head to heel. [name_by_letters] names anything by how it "
            "begins. [all_keys] shows every key.")}};
    for (const auto& [title, words] : all) {
        auto* step = new QVBoxLayout;
        step->setSpacing(4);
        step->addWidget(text_label(title, steps, 14, true));
        auto* hint = new HintLine(keys_, steps, 14);
        hint->setWordWrap(true);
        hint->say(words);
        step->addWidget(hint);
        step->addStretch(1);
        row->addLayout(step, 1);
    }
    return steps;
}

void FindingsPanel::tell_current() {
    const core::Fault* fault = now_.knowledge().faults.find(current().toStdString());
    emit current_changed(fault ? text(fault->name) : current());
}

/// The row the keys act on: the one that was chosen, else the first that waits for a word.
void FindingsPanel::choose_current(const std::vector<const app::FindingRow*>& rows) {
    const bool there = std::ranges::any_of(
        rows, [&](const auto* r) { return QString::fromStdString(r->key()) == current_; });
    if (!there) chosen_by_hand_ = false;
    if (chosen_by_hand_) return;
    const auto open =
        std::ranges::find_if(rows, [](const auto* r) { return r->decision == store::Decision::open; });
    const app::FindingRow* first = open != rows.end() ? *open : rows.empty() ? nullptr : rows.front();
    current_ = first ? QString::fromStdString(first->key()) : QString();
}

void FindingsPanel::refresh() {
    const auto rows = callable();
    choose_current(rows);
    lines_->begin();
    const bool strides = std::ranges::any_of(rows, [](const auto* r) { return r->found.strides > 0; });
    const core::RideData ride = strides ? now_.review().gathered(std::nullopt) : core::RideData{};
    const std::size_t shown = strong_of(rows);
    std::size_t folded = 0;
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const app::FindingRow* row = rows[i];
        const QString key = QString::fromStdString(row->key());
        const bool current = key == current_;
        // A finding that is about safety is never folded away.
        if (i >= shown && row->found.group() != core::AttentionGroup::safety) {
            ++folded;
            continue;
        }
        const QString html = words_of(*row, current);
        const QString says = QString("%1\n%2\n%3").arg(key, html).arg(static_cast<int>(row->decision));
        show_rail(*lines_->add(says, [&] { return row_for(*row, current, html); }), *row, ride);
    }
    if (folded > 0) add_fold(folded);
    for (const store::Remark& r : now_.review().remarks()) {
        lines_->add(QString("remark %1 %2").arg(r.id.value).arg(text(r.words)), [&] { return row_for(r); });
    }
    add_notes(rows.empty());
    lines_->end();
    refresh_focus();
}

/// How many stand open: three, and all where it was asked for or the keys are below the third.
std::size_t FindingsPanel::strong_of(const std::vector<const app::FindingRow*>& rows) const {
    const auto at = std::ranges::find_if(
        rows, [&](const auto* r) { return QString::fromStdString(r->key()) == current_; });
    const bool below = at != rows.end() && static_cast<std::size_t>(at - rows.begin()) >= kStrongLines;
    // One more than three is shown rather than said to be there.
    return all_ || below || rows.size() <= kStrongLines + 1 ? rows.size() : kStrongLines;
}

void FindingsPanel::add_fold(std::size_t folded) {
    const QString words = tr("%1 more").arg(folded);
    lines_->add(
        "fold " + words,
        [&] {
            auto* b = new QPushButton(words, this);
            b->setObjectName("word");
            b->setToolTip(tr("Down goes on to them"));
            connect(b, &QPushButton::clicked, this, [this] {
                all_ = true;
                QTimer::singleShot(0, this, [this] { refresh(); });
            });
            return b;
        },
        Qt::AlignLeft);
}

/// What the ride shows beside the focus and should change with it, but for what its reason names already.
QString FindingsPanel::expected_of(const core::Focus& focus) const {
    QStringList with;
    const QString why = QString::fromStdString(focus.why);
    for (const core::Cause& c : now_.findings().causes()) {
        if (c.from != focus.fault->id) continue;
        const core::Fault* effect = now_.knowledge().faults.find(c.to);
        const QString name = effect ? QString::fromStdString(effect->name).toLower() : QString();
        if (!name.isEmpty() && !with.contains(name) && !why.contains(name)) with << name;
    }
    return with.isEmpty() ? QString() : tr("With it should change: %1.").arg(with.join(", "));
}

/// What stands below the findings: the first steps, what is not said, what a look would tell, what else was
/// seen, and what is too close to call.
void FindingsPanel::add_notes(bool nothing_found) {
    const auto hint = [this](const QString& words, int size) {
        lines_->add(words, [&] {
            auto* made = new HintLine(keys_, this, size);
            made->setWordWrap(true);
            made->say(words);
            return made;
        });
    };
    const auto quiet = [this](const QString& words, const char* name = nullptr) {
        lines_->add(words, [&] {
            auto* made = quiet_label(words, this);
            if (name) made->setObjectName(name);
            return made;
        });
    };
    if (now_.is_open() && now_.marking().figure().marked() == 0 && now_.review().moments().empty() &&
        nothing_found && now_.review().answers().empty())
        lines_->add("first_steps", [this] { return first_steps(); });
    else if (now_.is_open() && !now_.review().missing().empty())
        hint(still_to_say(now_.review().missing()), 14);
    else if (nothing_found && now_.is_open())
        hint(tr("Nothing is certainly outside its band."), 14);
    for (const QString& leathers : app::leathers_in_words(now_)) quiet(leathers);
    QStringList eye, borderline;
    for (const core::CheckWanted& w : now_.findings().wanted()) {
        const QString name = QString::fromStdString(w.fault->name).toLower();
        if (!eye.contains(name)) eye << name;
    }
    if (!eye.isEmpty()) hint(tr("A look would tell: %1. [checks]").arg(eye.join(", ")), 12);
    const QStringList horse = app::states_of(now_.findings().assessment(), true),
                      rider = app::states_of(now_.findings().assessment(), false);
    for (const auto& [title, said] :
         {std::pair{tr("Seen of the horse: "), horse}, {tr("Also seen: "), rider}}) {
        if (!said.isEmpty()) quiet(title + said.join(", ").toLower() + ".");
    }
    for (const app::FindingRow& r : now_.findings().rows()) {
        if (r.found.verdict == core::Verdict::borderline && r.decision == store::Decision::open)
            borderline << QString::fromStdString(r.found.fault->name).toLower();
    }
    if (!borderline.isEmpty()) quiet(tr("Too close to call: ") + borderline.join(", ") + ".", "small");
}

void FindingsPanel::refresh_focus() {
    const auto focus = now_.findings().focus();
    const bool ready = focus && now_.is_open() && now_.review().missing().empty();
    focus_->setText(focus ? tr("One thing: %1").arg(QString::fromStdString(focus->fault->name).toLower())
                          : QString());
    const QString why = focus ? QString::fromStdString(focus->why) : QString();
    const QString with = focus ? expected_of(*focus) : QString();
    why_->setText(with.isEmpty() ? why : why + " " + with);
    side_->setVisible(focus.has_value());
    next_->setEnabled(ready);
    // In sky once this ride says something: before, the next thing is to mark it.
    give_look(*next_, now_.findings().rows().empty() ? "" : "next");
}

void FindingsPanel::move_current(int by) {
    const auto rows = callable();
    if (rows.empty()) return;
    auto it = std::ranges::find_if(
        rows, [&](const auto* r) { return QString::fromStdString(r->key()) == current_; });
    const auto at =
        std::clamp<std::ptrdiff_t>((it - rows.begin()) + by, 0, static_cast<std::ptrdiff_t>(rows.size()) - 1);
    current_ = QString::fromStdString(rows[static_cast<std::size_t>(at)]->key());
    tell_current();
    chosen_by_hand_ = true;
    refresh();
}

void FindingsPanel::decide_current(store::Decision decision) {
    chosen_by_hand_ = false;
    if (!current_.isEmpty()) emit wants(app::Decide{current_.toStdString(), decision, {}});
}

void FindingsPanel::attach_current() {
    if (!current_.isEmpty()) emit wants(app::AttachMoment{current_.toStdString()});
}

std::optional<core::BodyPart> FindingsPanel::current_part() const {
    const core::Fault* f = now_.knowledge().faults.find(current().toStdString());
    return f ? std::optional(f->part) : std::nullopt;
}

void FindingsPanel::change_current() {
    if (current_.isEmpty()) return;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const std::string from = current_.toStdString();
    const core::Fault* now = now_.knowledge().faults.find(from);
    // The same part of the body first: that is what a coach usually means instead.
    std::vector<const core::Fault*> all;
    for (const core::Fault& f : now_.knowledge().faults.faults()) {
        if (&f != now) all.push_back(&f);
    }
    std::ranges::stable_sort(all, {}, [&](const core::Fault* f) {
        return now && f->part == now->part ? 0 : now && f->group == now->group ? 1 : 2;
    });
    // Beside those of its own part and class a coach rarely means another: they wait one step away.
    auto* others = new QMenu(tr("Something else"), menu);
    for (const core::Fault* f : all) {
        const bool near = now && (f->part == now->part || f->group == now->group) && !f->needs_stride;
        connect((near ? menu : others)->addAction(QString::fromStdString(f->name)), &QAction::triggered, this,
                [this, from, to = f->id] {
                    emit wants(app::Decide{from, store::Decision::changed, to});
                });
    }
    menu->addMenu(others);
    give_keys(*menu);
    give_keys(*others);
    menu->popup(mapToGlobal(QPoint(80, -menu->sizeHint().height() / 2)));
}

}  // namespace aspen::ui

#include "moc_findings_panel.cpp"
