#include "ui/schools/schools_view.hpp"

#include "app/rides/rider_plan.hpp"
#include "core/ride/ride.hpp"
#include "core/training/school_change.hpp"

#include <QCoreApplication>
#include <QHBoxLayout>
#include <QRegularExpression>
#include <algorithm>
#include <set>

#include "app/yard/changes.hpp"
#include "app/yard/own_knowledge.hpp"
#include "core/reading/refused.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

struct Where {
    core::Seat seat;
    core::Gait gait;
    const char* phase;
    const char* words;
};
constexpr Where kWhere[] = {
    {core::Seat::sitting, core::Gait::trot, "", QT_TRANSLATE_NOOP("where", "Sitting")},
    {core::Seat::rising, core::Gait::trot, "rise_top", QT_TRANSLATE_NOOP("where", "Rising, at the top")},
    {core::Seat::rising, core::Gait::trot, "rise_bottom",
     QT_TRANSLATE_NOOP("where", "Rising, at the bottom")},
    {core::Seat::half, core::Gait::canter, "", QT_TRANSLATE_NOOP("where", "Half seat")},
    {core::Seat::two_point, core::Gait::canter, "", QT_TRANSLATE_NOOP("where", "Two-point")},
    {core::Seat::two_point, core::Gait::jump, "take_off", QT_TRANSLATE_NOOP("where", "Fence, take-off")},
    {core::Seat::two_point, core::Gait::jump, "top", QT_TRANSLATE_NOOP("where", "Fence, top")},
    {core::Seat::two_point, core::Gait::jump, "landing", QT_TRANSLATE_NOOP("where", "Fence, landing")}};

QString with_minus(QString words) {
    static const QRegularExpression below("-(?=\\d)");
    return words.replace(below, QString::fromUtf8("−"));
}

}  // namespace

SchoolsView::SchoolsView(app::Bench& bench, QWidget* parent)
    : View(parent), yard_(bench.yard()), now_(bench.state()), table_(bench.yard()) {
    setObjectName("ground");
    auto* all = new QHBoxLayout(this);
    all->setContentsMargins(20, 14, 20, 12);
    all->setSpacing(24);
    all->addWidget(build_shelf());
    all->addWidget(build_page(), 11);
    all->addWidget(build_beside(), 6);
    for (QListWidget* list : {school_, where_})
        connect(list, &QListWidget::currentRowChanged, this, [this] {
            if (!filling_) refresh();
        });
    connect(beside_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_) refresh();
    });
    connect(copy_, &QPushButton::clicked, this, &SchoolsView::copy);
    connect(remove_, &QPushButton::clicked, this, &SchoolsView::take_away);
    connect(rows_, &BandPage::wants_copy, this, [this] {
        emit say(
            tr("This school ships with the program: copy it as your own, and its numbers can be written."));
        copy_->setFocus();
    });
    connect(&table_, &BandTable::say, this, &SchoolsView::say);
    connect(&yard_, &app::Yard::knowledge_changed, this, [this] {
        if (school_->count() > 0) refill();
    });
    connect(&bench, &app::Bench::changed, this, [this](const app::BenchState&, app::BenchParts what) {
        if (isVisible() && what & (app::BenchPart::findings | app::BenchPart::figure)) refresh();
    });
}

/// Which school, and for which seat.
QWidget* SchoolsView::build_shelf() {
    auto* shelf = new QWidget(this);
    auto* box = new QVBoxLayout(shelf);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(8);
    box->addWidget(shelf_words(*this, 0, [this] { emit wants_exercises(); }));
    const auto list = [&](const QString& name) {
        auto* l = new QListWidget(this);
        l->setAccessibleName(name);
        l->setFrameShape(QFrame::NoFrame);
        l->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        return l;
    };
    school_ = list(tr("School"));
    box->addWidget(school_, 2);
    box->addWidget(text_label(tr("Seat"), this, 14, true));
    where_ = list(tr("Seat and phase"));
    for (const Where& w : kWhere) where_->addItem(QCoreApplication::translate("where", w.words));
    where_->setCurrentRow(0);
    box->addWidget(where_, 3);
    return shelf;
}

QWidget* SchoolsView::build_page() {
    auto* page = new QWidget(this);
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(4);
    name_ = heading_label({}, this, 26);
    about_ = text_label({}, this, 14);
    box->addWidget(name_);
    box->addWidget(about_);
    rows_ = new BandPage(table_, this);
    box->addWidget(scrolled(rows_, this), 1);
    auto* verbs = new QHBoxLayout;
    copy_ = verb_button(tr("Copy it as my own"), "", this, true);
    remove_ = verb_button(tr("Take mine away"), "", this);
    verbs->addWidget(copy_);
    verbs->addWidget(remove_);
    verbs->addStretch(1);
    box->addLayout(verbs);
    return page;
}

/// Another school beside it, and what the difference means.
QWidget* SchoolsView::build_beside() {
    auto* inside = new QWidget;
    auto* box = new QVBoxLayout(inside);
    box->setContentsMargins(0, 0, 4, 0);
    box->setSpacing(8);
    auto* top = new QHBoxLayout;
    beside_words_ = text_label(tr("Beside it"), this, 14, true);
    top->addWidget(beside_words_);
    beside_ = new QComboBox(this);
    beside_->setAccessibleName(tr("The school beside it"));
    top->addWidget(beside_, 1);
    box->addLayout(top);
    change_ = text_label({}, this);
    box->addWidget(change_);
    why_ = quiet_label({}, this);
    box->addWidget(why_);
    box->addStretch(1);
    return scrolled(inside, this);
}

void SchoolsView::resizeEvent(QResizeEvent* e) {
    QWidget::resizeEvent(e);
    const int wide = std::clamp(width() * 15 / 100, scaled_px(150), scaled_px(240));
    school_->setFixedWidth(wide);
    where_->setFixedWidth(wide);
}

void SchoolsView::take_away() {
    const std::string id = school();
    // A school that something is still judged by cannot go: there would be no band to look up.
    const store::YardStore& records = yard_.records();
    const bool ridden =
        std::ranges::any_of(records.rides.all_rides(), [&](const auto& r) { return r.ride.school == id; });
    const bool usual =
        std::ranges::any_of(records.people.riders(), [&](const auto& r) { return r.school == id; });
    const bool inherited = std::ranges::any_of(
        yard_.knowledge().schools.all(), [&](const core::School& other) { return other.inherits == id; });
    if (ridden || usual || inherited)
        return emit say(
            tr("Rides, riders or another school still go by it; give them another school first."));
    app::remove_own_school(yard_, id);
    emit say(tr("Taken away; [undo] brings it back."));
}

std::string SchoolsView::school() const {
    const QListWidgetItem* item = school_->currentItem();
    return item ? item->data(Qt::UserRole).toString().toStdString() : std::string();
}

void SchoolsView::refill() {
    filling_ = true;
    const std::string was = school();
    const QString beside = beside_->currentData().toString();
    school_->clear();
    beside_->clear();
    for (const core::School& s : yard_.knowledge().schools.all()) {
        auto* item = new QListWidgetItem(text(s.name), school_);
        item->setData(Qt::UserRole, text(s.id));
        beside_->addItem(text(s.name), text(s.id));
    }
    filling_ = false;
    choose(was, beside.toStdString());
}

void SchoolsView::show_school(const std::string& id) {
    choose(id, beside_->currentData().toString().toStdString());
}

void SchoolsView::choose(const std::string& school, const std::string& beside) {
    filling_ = true;
    int first = 0;
    for (int i = 0; i < school_->count(); ++i) {
        if (school_->item(i)->data(Qt::UserRole).toString() == text(school)) first = i;
    }
    const int second = beside_->findData(text(beside));
    school_->setCurrentRow(first);
    beside_->setCurrentIndex(second >= 0 ? second : std::min(1, beside_->count() - 1));
    filling_ = false;
    refresh();
}

void SchoolsView::open() {
    if (school_->count() == 0) refill();
    if (!now_.is_open()) return refresh();
    const core::Setting s = now_.review().setting();
    filling_ = true;
    for (int i = 0; i < where_->count(); ++i) {
        const Where& w = kWhere[i];
        const bool jump = w.gait == core::Gait::jump;
        if (jump == (s.gait == core::Gait::jump) && (jump || w.seat == s.seat) &&
            (*w.phase == 0 || w.phase == s.phase || s.phase.empty())) {
            where_->setCurrentRow(i);
            break;
        }
    }
    filling_ = false;
    choose(now_.review().ride().school, beside_->currentData().toString().toStdString());
}

core::Setting SchoolsView::setting() const {
    const Where& w = kWhere[std::max(0, where_->currentRow())];
    core::Setting s;
    s.school = school();
    s.seat = w.seat;
    s.gait = w.gait;
    s.phase = w.phase;
    return s;
}

void SchoolsView::refresh() {
    core::Setting here = setting();
    if (here.school.empty()) return;
    const std::string other = beside_->currentData().toString().toStdString();
    table_.show(here, other);
    rows_->show_school(here, yard_.knowledge());
    tell_about();
    tell_difference();
}

/// What the school is, and what it holds otherwise than others.
void SchoolsView::tell_about() {
    const core::School* shown = yard_.knowledge().schools.find(school());
    if (!shown) return;
    const bool own = is_own(*shown);
    remove_->setVisible(own);
    name_->setText(text(shown->name));
    about_->setText(text(shown->about) + " " +
                    (own ? tr("Press a line to write its numbers; what is bold is its own.") : QString()));
    QStringList differs;
    for (const core::School::Difference& d : shown->differs)
        differs << tr("%1: %2").arg(sentence(text(d.on)), text(d.why));
    for (const core::School::Difference& d : shown->disputed)
        differs << tr("Coaches disagree on %1: %2").arg(text(d.on), text(d.why));
    why_->setText(differs.join("\n\n"));
}

/// What a rider has to change who goes from the one to the other, in the order of work.
QString SchoolsView::steps_between() const {
    const std::string to = beside_->currentData().toString().toStdString();
    const core::Knowledge& known = yard_.knowledge();
    core::RiderNeeds rider{"", {}};
    if (now_.is_open() && now_.review().rider())
        rider = app::needs_of(yard_.records(), known, now_.review().rider(), now_.review().horse(),
                              yard_.today_iso(), &now_.review().ride());
    const auto steps = core::school_change(known.schools, known.faults, known.exercises, setting().school, to,
                                           setting(), rider);
    QStringList out;
    for (const core::SchoolStep& s : steps) {
        if (out.size() == 6) break;
        QString line = QString("%1  %2").arg(out.size() + 1).arg(with_minus(text(s.words)));
        if (s.exercise) line += tr(". %1; film: %2").arg(text(s.exercise->name), text(s.clip));
        out << line;
    }
    return out.isEmpty() ? QString()
                         : tr("To go from %1 to %2, base first:")
                                   .arg(school_->currentItem()->text(), beside_->currentText()) +
                               "\n" + out.join("\n");
}

void SchoolsView::tell_difference() {
    const QString steps = steps_between();
    if (!now_.is_open() || now_.review().moments().empty())
        return change_->setText(
            steps.isEmpty()
                ? tr("Open a ride with marked moments, and what changes between the two is said here.")
                : steps);
    const auto under = [&](const std::string& school) {
        core::RideData ride = now_.review().gathered(std::nullopt);
        for (core::RideMoment& m : ride.moments) {
            if (!m.setting.school.empty()) m.setting.school = school;
        }
        return core::assess_ride(ride, yard_.knowledge());
    };
    const core::RideAssessment here = under(setting().school),
                               there = under(beside_->currentData().toString().toStdString());
    const auto certain = [](const core::RideAssessment& a) {
        std::set<QString> out;
        for (const core::RideFinding& f : a.findings) {
            if (f.found.verdict == core::Verdict::outside) out.insert(text(f.found.fault->name).toLower());
        }
        return out;
    };
    const std::set<QString> a = certain(here), b = certain(there);
    const auto list = [](const std::set<QString>& all, const std::set<QString>& without) {
        QStringList out;
        for (const QString& s : all) {
            if (!without.contains(s)) out << s;
        }
        return out.isEmpty() ? QObject::tr("nothing") : out.join(", ");
    };
    QStringList both;
    for (const QString& s : a) {
        if (b.contains(s)) both << s;
    }
    const auto focus = [](const core::RideAssessment& r) {
        return r.focus ? text(r.focus->fault->name).toLower() : QObject::tr("none");
    };
    change_->setText(
        tr("Under both: %1.\nOnly in %2: %3. The one thing: %4.\nOnly in %5: %6. The one thing: %7.")
            .arg(both.isEmpty() ? tr("nothing") : both.join(", "), school_->currentItem()->text(), list(a, b),
                 focus(here), beside_->currentText(), list(b, a), focus(there)) +
        (steps.isEmpty() ? QString() : "\n\n" + steps));
}

void SchoolsView::show_measure(const QString& measure) {
    const int row = table_.row_of(measure.toStdString());
    if (row < 0) return emit say(tr("This school holds no band for that here."));
    rows_->choose(row);
    const core::School* shown = yard_.knowledge().schools.find(school());
    for_ride_ = shown && !is_own(*shown);
    if (for_ride_)
        emit say(
            tr("This school ships with the program: copy it as your own, and the open ride goes by it."));
}

void SchoolsView::copy() {
    const std::string source = school();
    const core::Schools& schools = yard_.knowledge().schools;
    std::string id;
    int n = 1;
    do {
        id = "mine_" + std::to_string(n++);
    } while (schools.find(id));
    const std::string name = tr("Mine, after %1").arg(school_->currentItem()->text()).toStdString();
    try {
        yard_.step(tr("Copy a school"), [&] {
            app::put_own_school(yard_, id, app::school_copied(yard_, source, id, name));
            if (!for_ride_ || !now_.is_open() || now_.review().ride().school != source) return;
            store::Ride ride = now_.review().ride();
            ride.school = id;
            app::change_ride(yard_, ride, tr("Say the school"));
        });
        for_ride_ = false;
    } catch (const core::Refused& e) {
        return emit say(QString::fromUtf8(e.what()));
    }
    choose(id, source);
    emit say(tr("Yours now: press a line to write its numbers. Rides can be judged by it at once."));
}

}  // namespace aspen::ui

#include "moc_schools_view.cpp"
