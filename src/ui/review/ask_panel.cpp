#include "ui/review/ask_panel.hpp"

#include <QCoreApplication>
#include <QEvent>
#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <functional>
#include <utility>

#include "app/review/first_look.hpp"
#include "app/yard/changes.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr std::size_t kMostAnswers = 9;
constexpr int kInARow = 5;

struct AskedQuestion {
    const char* id;
    const char* words;
};
constexpr AskedQuestion kQuestions[] = {
    {"rider", QT_TRANSLATE_NOOP("questions", "Who rides?")},
    {"horse", QT_TRANSLATE_NOOP("questions", "Which horse?")},
    {"school", QT_TRANSLATE_NOOP("questions", "Which school?")},
    {"gait", QT_TRANSLATE_NOOP("questions", "Which gait?")},
    {"seat", QT_TRANSLATE_NOOP("questions", "Which seat?")},
    {"travel", QT_TRANSLATE_NOOP("questions", "Which way does the horse go?")}};

/// The value first, then the others in their order.
template <typename T>
void foremost(std::vector<T>& all, const T& first) {
    const auto it = std::ranges::find(all, first);
    if (it != all.end()) std::rotate(all.begin(), it, it + 1);
}

struct Before {
    store::Ride ride;
    core::Stretch stretch;
};
/// What this rider's last ride said.
std::optional<Before> last_ridden(const app::BenchState& now) {
    const app::Review& review = now.review();
    if (!review.rider()) return std::nullopt;
    for (const store::RiddenClip& r : now.records().rides.ridden_by(review.rider())) {
        if (r.clip.id != review.clip().id)
            return Before{r.ride, now.records().rides.stretches(r.clip.id).front()};
    }
    return std::nullopt;
}

}  // namespace

AskPanel::AskPanel(const app::BenchState& now, QWidget* parent) : BenchPanel(now, parent) {
    hide();
    setAccessibleName(tr("What is not yet said"));
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(14, 8, 14, 10);
    all->setSpacing(6);
    question_ = text_label("", this, 14, true);
    all->addWidget(question_);
    row_ = new QGridLayout;
    row_->setSpacing(4);
    all->addLayout(row_);
    parent->installEventFilter(this);
}

void AskPanel::clip_opened() {
    left_ = now_.review().ride().state == store::RideState::done;
    refresh();
}

void AskPanel::show_state(app::BenchParts what) {
    if (what & app::BenchPart::records) refresh();
}

void AskPanel::open() {
    left_ = false;
    refresh();
}

void AskPanel::leave() {
    left_ = true;
    hide();
}

std::vector<AskPanel::Answer> AskPanel::answers_to(const std::string& question) const {
    std::vector<Answer> out;
    const store::YardStore& records = now_.records();
    const auto before = last_ridden(now_);
    if (question == "rider") {
        const auto latest = records.rides.last_days();  // who was filmed last stands first
        auto riders = records.people.riders();
        std::ranges::stable_sort(riders, std::greater<>{}, [&](const store::Rider& r) {
            const auto it = latest.find(r.id);
            return it == latest.end() ? std::string() : it->second;
        });
        for (const store::Rider& r : riders) {
            out.push_back({QString::fromStdString(r.name), app::SayRider{r.id}});
        }
        // Who has nobody yet need not write to go on: the card takes the name later.
        if (out.empty())
            out.push_back(
                {tr("a first rider, named later"), app::SayNewRider{tr("First rider").toStdString()}});
    } else if (question == "horse") {
        auto horses = records.people.horses();
        const auto it =
            before ? std::ranges::find(horses, before->ride.horse, &store::Horse::id) : horses.end();
        if (it != horses.end()) std::rotate(horses.begin(), it, it + 1);
        for (const store::Horse& h : horses)
            out.push_back({QString::fromStdString(h.name), app::SayHorse{h.id}});
        if (out.empty())
            out.push_back(
                {tr("a first horse, named later"), app::SayNewHorse{tr("First horse").toStdString()}});
    } else if (question == "school") {
        for (const core::School& s : now_.knowledge().schools.all()) {
            out.push_back({QString::fromStdString(s.name),
                           app::ChangeRide{"school", [id = s.id](store::Ride& r) { r.school = id; }}});
        }
    } else if (question == "gait") {
        std::vector<core::Gait> gaits(core::kGaits.begin(), core::kGaits.end());
        if (before && before->stretch.gait) foremost(gaits, *before->stretch.gait);
        for (const core::Gait g : gaits) out.push_back({text(core::spoken(g)), app::SayGait{g}});
    } else if (question == "seat") {
        std::vector<core::Seat> seats(core::kSeats.begin(), core::kSeats.end());
        if (before && before->stretch.seat) foremost(seats, *before->stretch.seat);
        for (const core::Seat s : seats) out.push_back({text(core::spoken(s)), app::SaySeat{s}});
    } else if (question == "travel") {
        out.push_back({tr("to the left  ←"), app::SayTravel{core::Travel::left}});
        out.push_back({tr("to the right  →"), app::SayTravel{core::Travel::right}});
    }
    if (out.size() > kMostAnswers) out.resize(kMostAnswers);
    return out;
}

void AskPanel::refresh() {
    if (!now_.is_open() || !now_.deck().ready() || left_) return hide();
    auto missing = now_.review().missing();
    std::erase(missing, "travel");  // told by the first figure: the toe points where the horse goes
    const auto question = missing.empty() ? std::end(kQuestions)
                                          : std::ranges::find_if(kQuestions, [&](const AskedQuestion& q) {
                                                return missing.front() == q.id;
                                            });
    if (question == std::end(kQuestions)) return hide();
    const auto answers = answers_to(question->id);
    if (answers.empty()) return hide();
    QStringList now;
    for (const Answer& a : answers) now << a.words;
    answers_ = answers;
    question_->setText(QString("%1   <span style='font-weight:normal; color:%2'>press its number%3</span>")
                           .arg(QCoreApplication::translate("questions", question->words),
                                theme().quiet.name(),
                                missing.size() > 1 ? tr(" · %1 to go").arg(missing.size()) : QString()));
    if (std::exchange(shown_, now) == now && row_->count() > 0) {
        show();
        return place();
    }
    clear(*row_);
    int n = 0;
    for (const Answer& a : answers_) {
        auto* b = new QPushButton(QString("%1  %2").arg(++n).arg(a.words), this);
        b->setObjectName(n == 1 ? "ask" : "said");
        b->setAccessibleName(a.words);
        b->setFocusPolicy(Qt::TabFocus);
        connect(b, &QPushButton::clicked, this, [this, n] { answer(n); });
        row_->addWidget(b, (n - 1) / kInARow, (n - 1) % kInARow, Qt::AlignLeft);
        b->show();  // so that it counts for the size at once
    }
    show();
    place();
}

bool AskPanel::answer(int number) {
    if (!isVisible() || number < 1 || static_cast<std::size_t>(number) > answers_.size()) return false;
    const app::Intent says =
        answers_[static_cast<std::size_t>(number) - 1].says;  // the answers are made anew meanwhile
    emit wants(says);
    return true;
}

void AskPanel::place() {
    layout()->activate();
    const int high = sizeHint().height();
    setGeometry(12, parentWidget()->height() - high - 12,
                std::min(parentWidget()->width() - 24, std::max(360, sizeHint().width())), high);
    raise();
}

bool AskPanel::eventFilter(QObject* watched, QEvent* e) {
    if (watched == parentWidget() && e->type() == QEvent::Resize && isVisible()) place();
    return QWidget::eventFilter(watched, e);
}

void AskPanel::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().panel);
    p.drawRoundedRect(rect(), 10, 10);
    p.setBrush(theme().sky);
    p.drawRoundedRect(QRectF(0, 12, 4, height() - 24), 2, 2);
}

}  // namespace aspen::ui

#include "moc_ask_panel.cpp"
