#include "ui/review/checks_panel.hpp"

#include <QHBoxLayout>
#include <QPainter>
#include <QPushButton>
#include <QTimer>
#include <algorithm>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

bool waits(const app::Question& q) { return q.decides && !q.said; }

/// What was said, drawn by shape first: a tick, a barb, a ring; a dot where nothing was said yet.
class SaidMark : public QWidget {
  public:
    SaidMark(std::optional<app::Said> said, QWidget* parent) : QWidget(parent), said_(said) {
        setFixedSize(16, 18);
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        const Theme& t = theme();
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        const QPointF c(8, 9);
        if (!said_) {
            p.setPen(Qt::NoPen);
            p.setBrush(t.quiet);
            p.drawEllipse(c, 1.5, 1.5);
        } else if (*said_ == app::Said::good) {
            p.setPen(QPen(t.teal, 2, Qt::SolidLine, Qt::RoundCap));
            p.drawPolyline(QPolygonF{c + QPointF(-5, 0), c + QPointF(-1, 4), c + QPointF(6, -5)});
        } else if (*said_ == app::Said::fault) {
            p.setPen(QPen(t.clay, 2, Qt::SolidLine, Qt::RoundCap));
            p.drawLine(c + QPointF(-6, 0), c + QPointF(5, 0));
            p.drawPolyline(QPolygonF{c + QPointF(1, -4), c + QPointF(6, 0), c + QPointF(1, 4)});
        } else {
            p.setPen(QPen(t.quiet, 1.5));
            p.setBrush(Qt::NoBrush);
            p.drawEllipse(c, 4, 4);
        }
    }

  private:
    std::optional<app::Said> said_;
};

}  // namespace

ChecksPanel::ChecksPanel(const app::BenchState& now, const KeyMap& keys, QWidget* parent)
    : BenchPanel(now, parent) {
    setObjectName("ground");
    setAccessibleName(tr("Eye checks"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(26, 8, 16, 8);
    row->setSpacing(24);
    auto* ask = new QVBoxLayout;
    ask->setSpacing(4);
    part_ = quiet_label("", this);
    question_ = heading_label("", this);
    ask->addWidget(part_);
    ask->addWidget(question_);
    auto* answers = new QVBoxLayout;
    answers->setSpacing(4);
    answers_ = std::make_unique<StandingLines>(*answers);
    ask->addStretch(1);
    foot_ = new HintLine(keys, this);
    ask->addWidget(foot_);
    row->addLayout(ask, 3);
    row->addLayout(answers, 2);
    auto* holder = new QWidget;
    auto* list = new QVBoxLayout(holder);
    list->setContentsMargins(0, 0, 0, 0);
    list->setSpacing(0);
    list_ = std::make_unique<StandingLines>(*list);
    row->addWidget(scrolled(holder, this), 2);
}

void ChecksPanel::show_state(app::BenchParts what) {
    using P = app::BenchPart;
    if (isVisible() && !now_.marking().dragging() && what & (P::findings | P::figure)) rebuild();
}

void ChecksPanel::open() {
    questions_ = app::questions_here(now_);
    const auto open = std::ranges::find_if(questions_, waits);
    at_ = open != questions_.end() ? open->check->id : std::string();
    rebuild();
    emit opened();
}

QString ChecksPanel::asked() const { return text(at_); }

bool ChecksPanel::answer(int number) {
    if (at_.empty() || number < 1 || number > 3) return false;
    const std::string id = at_;
    const auto here = std::ranges::find(questions_, id, [](const app::Question& q) { return q.check->id; });
    at_.clear();  // the next that is not answered yet, from here on and then from the head again
    if (here != questions_.end()) {
        std::vector<app::Question> after(here + 1, questions_.end());
        after.insert(after.end(), questions_.begin(), here);
        const auto next = std::ranges::find_if(after, waits);
        if (next != after.end()) at_ = next->check->id;
    }
    emit wants(app::AnswerCheck{id, static_cast<app::Said>(number - 1)});
    rebuild();
    return true;
}

void ChecksPanel::move(int by) {
    const auto n = static_cast<std::ptrdiff_t>(questions_.size());
    if (n == 0) return;
    const auto here = std::ranges::find(questions_, at_, [](const app::Question& q) { return q.check->id; });
    // After what decides: on with the first that was not asked.
    const auto open = std::ranges::find_if(questions_, [](const app::Question& q) { return !q.said; });
    const auto before = open == questions_.end() ? -1 : open - questions_.begin() - 1;
    const auto now = here == questions_.end() ? (by > 0 ? before : n) : here - questions_.begin();
    at_ = questions_[static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(now + by, 0, n - 1))].check->id;
    rebuild();
}

void ChecksPanel::rebuild() {
    questions_ = app::questions_here(now_);
    const auto here = std::ranges::find(questions_, at_, [](const app::Question& q) { return q.check->id; });
    const core::Check* check = here == questions_.end() ? nullptr : here->check;
    if (!check) at_.clear();
    const auto said =
        std::ranges::count_if(questions_, [](const app::Question& q) { return q.said.has_value(); });
    part_->setText(check ? tr("%1 of %2 · %3")
                               .arg(here - questions_.begin() + 1)
                               .arg(questions_.size())
                               .arg(text(core::spoken(check->part)))
                         : tr("%1 of %2 said").arg(said).arg(questions_.size()));
    question_->setText(check                ? text(check->asks)
                       : questions_.empty() ? tr("Say gait and seat first; then the eye is asked.")
                       : said < static_cast<std::ptrdiff_t>(questions_.size())
                           ? tr("What decides something here is said.")
                           : tr("All that this view can show is said."));
    foot_->say(
        check ? tr("[finding_up] [finding_down] another question · [name_by_letters] names anything else · "
                   "[let_go] back to the findings")
              : tr("[finding_down] the rest · [name_by_letters] names anything else · [let_go] back to the "
                   "findings"));
    answers_->begin();
    if (check) {
        const QString words[] = {text(check->good), text(check->fault), tr("can't see")};
        for (int n = 1; n <= 3; ++n) {
            const QString says = text(check->asks) + " " + words[n - 1];
            const auto make = [&] {
                auto* b = new QPushButton(QString("%1  %2").arg(n).arg(words[n - 1]), this);
                b->setObjectName("deed");
                b->setFocusPolicy(Qt::TabFocus);
                b->setMinimumHeight(30);
                b->setAccessibleName(says);
                connect(b, &QPushButton::clicked, this, [this, n] { answer(n); });
                return b;
            };
            answers_->add(says, make, Qt::AlignLeft);
        }
    }
    answers_->end();
    list_->begin();
    for (const app::Question& q : questions_) {
        const bool now = q.check == check;
        const QString words = !q.said                       ? text(q.check->asks)
                              : *q.said == app::Said::good  ? text(q.check->good)
                              : *q.said == app::Said::fault ? text(q.check->fault)
                                                            : tr("can't see");
        const QString says =
            QString("%1 %2 %3").arg(q.said ? static_cast<int>(*q.said) : -1).arg(now).arg(words);
        list_->add(says, [&] { return line_for(q, words, now); });
    }
    list_->end();
    update();
}

/// What was said of a question, or the question.
QWidget* ChecksPanel::line_for(const app::Question& q, const QString& words, bool now) {
    auto* line = new QWidget(this);
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    row->addWidget(new SaidMark(q.said, line));
    auto* label = text_label(words, line, 12, now);
    label->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    label->setToolTip(text(q.check->asks));
    row->addWidget(label, 1);
    return line;
}

void ChecksPanel::paintEvent(QPaintEvent*) {
    if (at_.empty()) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().sky);
    p.drawRoundedRect(QRectF(14, 12, 3, height() - 24.0), 1.5, 1.5);
}

}  // namespace aspen::ui

#include "moc_checks_panel.cpp"
