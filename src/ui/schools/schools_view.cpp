#include "ui/schools/schools_view.hpp"

#include "app/rides/rider_plan.hpp"
#include "core/ride/ride.hpp"
#include "core/training/school_change.hpp"

#include <QCoreApplication>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPainter>
#include <algorithm>
#include <set>

#include "app/yard/changes.hpp"
#include "app/yard/own_knowledge.hpp"
#include "core/reading/refused.hpp"
#include "ui/shared/rider_drawing.hpp"
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

}  // namespace

/// One pose under one school: the open moment's, else a quiet rider with the school's ranges.
class SchoolsView::Pose : public QWidget {
  public:
    Pose(const app::BenchState& now, QWidget* parent) : QWidget(parent), now_(now) { setMinimumHeight(260); }
    void show(const core::Setting& setting) {
        setting_ = setting;
        update();
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        const core::Knowledge& known = now_.knowledge();
        core::Figure figure = now_.is_open() ? now_.marking().figure() : core::Figure{};
        const bool marked = figure.marked() >= core::kFewestJoints;
        if (!marked) figure = {};
        if (figure.travel == core::Travel::unknown) figure.travel = core::Travel::right;
        std::vector<core::Judged> judged;
        if (marked) {
            judged = core::judge(figure, setting_, known.body, known.schools);
        } else {
            for (const core::MeasureInfo& info : core::measures_of(core::View::side)) {
                core::Judged j;
                j.measured.info = &info;
                const auto band = known.schools.band(info.id, setting_);
                if (const auto* b = std::get_if<core::Band>(&band)) j.band = *b;
                judged.push_back(std::move(j));
            }
        }
        const core::School* school = known.schools.find(setting_.school);
        p.setFont(heading_font(18));
        p.setPen(theme().ink);
        p.drawText(QRectF(0, 0, width(), 28), Qt::AlignCenter, school ? text(school->name) : QString());
        RiderDrawing(figure, judged, QRectF(12, 34, width() - 24, height() - 40)).paint(p);
    }

  private:
    const app::BenchState now_;
    core::Setting setting_;
};

SchoolsView::SchoolsView(app::Bench& bench, QWidget* parent)
    : View(parent), yard_(bench.yard()), now_(bench.state()), table_(bench.yard()) {
    setObjectName("ground");
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(24, 12, 24, 16);
    all->setSpacing(8);
    auto* top = new QHBoxLayout;
    top->setSpacing(8);
    const auto combo = [&](const QString& name) {
        auto* c = new QComboBox(this);
        c->setAccessibleName(name);
        top->addWidget(c);
        return c;
    };
    top->addWidget(shelf_words(*this, 0, [this] { emit wants_exercises(); }));
    top->addSpacing(16);
    school_ = combo(tr("School"));
    where_ = combo(tr("Seat and phase"));
    for (const Where& w : kWhere) where_->addItem(QCoreApplication::translate("where", w.words));
    top->addSpacing(16);
    top->addWidget(quiet_label(tr("beside"), this));
    beside_ = combo(tr("The school beside it"));
    top->addStretch(1);
    copy_ = verb_button(tr("Copy it as my own"), "", this, true);
    remove_ = verb_button(tr("Take mine away"), "", this);
    top->addWidget(remove_);
    top->addWidget(copy_);
    all->addLayout(top);
    about_ = quiet_label("", this);
    all->addWidget(about_);
    auto* middle = new QHBoxLayout;
    middle->setSpacing(24);
    rows_ = new QTableView(this);
    rows_->setModel(&table_);
    rows_->setAccessibleName(tr("Bands"));
    rows_->verticalHeader()->hide();
    rows_->verticalHeader()->setDefaultSectionSize(28);
    rows_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    rows_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    rows_->horizontalHeader()->setMinimumSectionSize(72);
    rows_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    rows_->horizontalHeader()->setFont(text_font(12));
    rows_->setShowGrid(false);
    rows_->setAlternatingRowColors(true);
    rows_->setFrameShape(QFrame::NoFrame);
    rows_->setFont(text_font(14));
    middle->addWidget(rows_, 5);
    auto* side = new QVBoxLayout;
    auto* poses = new QHBoxLayout;
    left_ = new Pose(now_, this);
    right_ = new Pose(now_, this);
    poses->addWidget(left_);
    poses->addWidget(right_);
    side->addLayout(poses, 1);
    side->addWidget(heading_label(tr("The open ride"), this));
    change_ = text_label("", this);
    change_->setWordWrap(true);
    side->addWidget(change_);
    middle->addLayout(side, 5);
    all->addLayout(middle, 1);
    for (QComboBox* c : {school_, beside_, where_})
        connect(c, &QComboBox::currentIndexChanged, this, [this] {
            if (!filling_) refresh();
        });
    connect(copy_, &QPushButton::clicked, this, &SchoolsView::copy);
    connect(remove_, &QPushButton::clicked, this, [this] {
        const std::string id = school_->currentData().toString().toStdString();
        // A school that something is still judged by cannot go: there would be no band to look up.
        const store::YardStore& records = yard_.records();
        const bool ridden = std::ranges::any_of(records.rides.all_rides(),
                                                [&](const auto& r) { return r.ride.school == id; });
        const bool usual =
            std::ranges::any_of(records.people.riders(), [&](const auto& r) { return r.school == id; });
        const bool inherited = std::ranges::any_of(
            yard_.knowledge().schools.all(), [&](const core::School& other) { return other.inherits == id; });
        if (ridden || usual || inherited)
            return emit say(
                tr("Rides, riders or another school still go by it; give them another school first."));
        app::remove_own_school(yard_, id);
        emit say(tr("Taken away; [undo] brings it back."));
    });
    connect(&table_, &BandTable::say, this, &SchoolsView::say);
    connect(&yard_, &app::Yard::knowledge_changed, this, &SchoolsView::refill);
    connect(&bench, &app::Bench::changed, this, [this](const app::BenchState&, app::BenchParts what) {
        if (isVisible() && what & (app::BenchPart::findings | app::BenchPart::figure)) refresh();
    });
    refill();
}

void SchoolsView::refill() {
    filling_ = true;
    const QString was = school_->currentData().toString(), beside = beside_->currentData().toString();
    for (QComboBox* c : {school_, beside_}) {
        c->clear();
        for (const core::School& s : yard_.knowledge().schools.all()) c->addItem(text(s.name), text(s.id));
    }
    filling_ = false;
    choose(was.toStdString(), beside.toStdString());
}

void SchoolsView::show_school(const std::string& id) {
    choose(id, beside_->currentData().toString().toStdString());
}

void SchoolsView::choose(const std::string& school, const std::string& beside) {
    filling_ = true;
    const int first = school_->findData(text(school)), second = beside_->findData(text(beside));
    school_->setCurrentIndex(std::max(0, first));
    beside_->setCurrentIndex(second >= 0 ? second : std::min(1, beside_->count() - 1));
    filling_ = false;
    refresh();
}

void SchoolsView::open() {
    if (!now_.is_open()) return refresh();
    const core::Setting s = now_.review().setting();
    filling_ = true;
    for (int i = 0; i < where_->count(); ++i) {
        const Where& w = kWhere[i];
        const bool jump = w.gait == core::Gait::jump;
        if (jump == (s.gait == core::Gait::jump) && (jump || w.seat == s.seat) &&
            (*w.phase == 0 || w.phase == s.phase || s.phase.empty())) {
            where_->setCurrentIndex(i);
            break;
        }
    }
    filling_ = false;
    choose(now_.review().ride().school, beside_->currentData().toString().toStdString());
}

core::Setting SchoolsView::setting() const {
    const Where& w = kWhere[std::max(0, where_->currentIndex())];
    core::Setting s;
    s.school = school_->currentData().toString().toStdString();
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
    left_->show(here);
    here.school = other;
    right_->show(here);
    const core::School* school = yard_.knowledge().schools.find(setting().school);
    if (!school) return;
    remove_->setVisible(is_own(*school));
    QStringList differs{text(school->about)};
    for (const core::School::Difference& d : school->differs)
        differs << tr("%1: %2").arg(sentence(text(d.on)), text(d.why));
    for (const core::School::Difference& d : school->disputed)
        differs << tr("Coaches disagree on %1: %2").arg(text(d.on), text(d.why));
    if (is_own(*school))
        differs << tr("Click a number to change it; bold is its own, the rest its parent's.");
    about_->setText(differs.join(" · "));
    tell_difference();
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
        QString line = QString("%1  %2").arg(out.size() + 1).arg(text(s.words));
        if (s.exercise) line += tr(". %1; film: %2").arg(text(s.exercise->name), text(s.clip));
        out << line;
    }
    return out.isEmpty() ? QString() : tr("From the one to the other, base first:") + "\n" + out.join("\n");
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
            .arg(both.isEmpty() ? tr("nothing") : both.join(", "), school_->currentText(), list(a, b),
                 focus(here), beside_->currentText(), list(b, a), focus(there)) +
        (steps.isEmpty() ? QString() : "\n\n" + steps));
}

void SchoolsView::show_measure(const QString& measure) {
    const int row = table_.row_of(measure.toStdString());
    if (row < 0) return emit say(tr("This school holds no band for that here."));
    rows_->setCurrentIndex(table_.index(row, BandTable::lowest));
    rows_->setFocus();
    const core::School* school = yard_.knowledge().schools.find(setting().school);
    for_ride_ = school && !is_own(*school);
    if (for_ride_)
        emit say(
            tr("This school ships with the program: copy it as your own, and the open ride goes by it."));
}

void SchoolsView::copy() {
    const std::string source = school_->currentData().toString().toStdString();
    const core::Schools& schools = yard_.knowledge().schools;
    std::string id;
    int n = 1;
    do {
        id = "mine_" + std::to_string(n++);
    } while (schools.find(id));
    const std::string name = tr("Mine, after %1").arg(school_->currentText()).toStdString();
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
    emit say(tr("Yours now: click a number to change it. Rides can be judged by it at once."));
}

}  // namespace aspen::ui

#include "moc_schools_view.cpp"
