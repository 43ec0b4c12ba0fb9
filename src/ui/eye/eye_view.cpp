#include "ui/eye/eye_view.hpp"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/files/cache_folder.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/shared/word_line.hpp"

namespace aspen::ui {
namespace {

constexpr int kMovingMs = 40;
constexpr double kLoopS = 24;

}  // namespace

DrillPicture::DrillPicture(app::EyeDesk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setAccessibleName(tr("The picture of the question"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    stage_.add_layer(figure_layer(
        [this] {
            const app::DrillItem* i = desk_.item();
            return i && desk_.answered() ? i->figure : core::Figure{};
        },
        0, true));
    moving_.setInterval(kMovingMs);
    connect(&moving_, &QTimer::timeout, this, [this] {
        const app::DrillItem* i = desk_.item();
        if (!i || !i->drawn) return moving_.stop();
        const double t = std::fmod(static_cast<double>(clock_.elapsed()) / 1000, kLoopS);
        stage_.set_picture(i->drawn->picture(i->drawn->at_s() + t), i->drawn->size());
        update();
    });
}

void DrillPicture::stop() {
    moving_.stop();
    deck_.reset();
    shown_.clear();
}

void DrillPicture::renew() {
    const app::DrillItem* i = desk_.item();
    if (!i) return stop();
    update();
    if (shown_ == i->source) return;
    stop();
    shown_ = i->source;
    if (i->drawn) {
        stage_.set_picture(i->drawn->picture(i->drawn->at_s()), i->drawn->size());
        clock_.start();
        if (i->moves) moving_.start();
        return;
    }
    stage_.set_picture({}, {});
    const auto clip = desk_.yard().records().rides.clip(i->clip);
    if (!clip) return;
    deck_ = std::make_unique<app::ClipDeck>();
    connect(deck_.get(), &app::ClipDeck::picture_changed, this, [this] {
        if (!deck_->picture_is_current()) return;
        stage_.set_picture(deck_->picture(), deck_->display_size());
        update();
    });
    app::ClipDeck::Options options;
    options.frames.cache_folder = app::cache_folder();
    options.frames.content_hash = QString::fromStdString(clip->hash);
    options.start_frame = i->frame;
    options.capture = clip->capture;
    deck_->open(desk_.yard().file_of(*clip), options);
}

void DrillPicture::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().picture_ground);
    if (stage_.picture().isNull()) return;
    const app::DrillItem* i = desk_.item();
    const QSizeF size = i && i->drawn ? QSizeF(i->drawn->size())
                        : deck_       ? QSizeF(deck_->display_size())
                                      : QSizeF(stage_.picture().size());
    stage_.paint(p, PictureStage::fitted(size, rect()));
}

EyeView::EyeView(app::Yard& yard, QWidget* parent) : View(parent), desk_(yard) {
    setFocusPolicy(Qt::StrongFocus);
    build_deeds();
    const auto find = [this](const QString& id) { return deeds_.find(id); };
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 8);
    home_ = new QWidget(this);
    auto* home = new QVBoxLayout(home_);
    home->setContentsMargins(24, 12, 24, 0);
    title_ = heading_label(tr("The coach's eye"), home_, 26);
    about_ = text_label({}, home_, 14);
    about_->setWordWrap(true);
    home->addWidget(title_);
    home->addWidget(about_);
    list_ = new DrillList(desk_, home_);
    home->addWidget(scrolled(list_, home_), 1);
    round_ = new QWidget(this);
    auto* round = new QHBoxLayout(round_);
    round->setContentsMargins(0, 8, 20, 0);
    round->setSpacing(20);
    picture_ = new DrillPicture(desk_, round_);
    round->addWidget(picture_, 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(12);
    question_ = heading_label({}, round_, 26);
    question_->setWordWrap(true);
    choices_ = text_label({}, round_, 18);
    choices_->setWordWrap(true);
    choices_->setTextFormat(Qt::RichText);
    connect(choices_, &QLabel::linkActivated, this,
            [this](const QString& n) { desk_.answer_choice(n.toInt()); });
    said_ = text_label({}, round_, 18, true);
    said_->setWordWrap(true);
    right->addWidget(question_);
    right->addWidget(choices_);
    right->addWidget(said_);
    right->addStretch(1);
    auto* column = new QWidget(round_);
    column->setFixedWidth(scaled_px(320));
    column->setLayout(right);
    round->addWidget(column);
    all->addWidget(home_, 1);
    all->addWidget(round_, 1);
    hint_ = new HintLine(find, this, 14);
    hint_->setContentsMargins(24, 0, 24, 0);
    all->addWidget(hint_);
    line_ = new WordLine(this);
    connect(line_, &WordLine::closed, this, [this] { setFocus(); });
    connect(list_, &DrillList::chosen, this, [this](core::DrillKind kind) { desk_.start(kind); });
    connect(&desk_, &app::EyeDesk::changed, this, [this] {
        if (isVisible()) renew();
    });
}

void EyeView::build_deeds() {
    const auto deed = [this](const QString& id, const QString& words, std::function<void()> act) {
        deeds_.add(id, words, std::move(act));
    };
    for (int i = 1; i <= core::kDrillKinds; ++i)
        deed(QString("answer_%1").arg(i), tr("Begin drill %1, or answer %1").arg(i),
             [this, i] { press(i - 1); });
    deed("guess_less", tr("Guess a degree less"), [this] { change_guess(-1); });
    deed("guess_more", tr("Guess a degree more"), [this] { change_guess(1); });
    deed("guess_much_less", tr("Guess five degrees less"), [this] { change_guess(-5); });
    deed("guess_much_more", tr("Guess five degrees more"), [this] { change_guess(5); });
    deed("say_it", tr("Say it, or go on"), [this] { go_on(); });
    deed("mark_blind", tr("Mark a frame again, blind"), [this] { mark_blind(); });
    deed("other_coach", tr("Another coach answers"), [this] {
        line_->ask(tr("Initials of the coach who answers; a dash for yourself"), {},
                   [this](const QString& who) { desk_.set_coach(who == "-" ? QString() : who); });
    });
    deed("leave_round", tr("Leave the round"), [this] { desk_.leave(); });
}

void EyeView::open() {
    renew();
    setFocus();
}
void EyeView::leave() { picture_->stop(); }

void EyeView::press(int choice) {
    if (!desk_.running()) return desk_.start(static_cast<core::DrillKind>(choice));
    desk_.answer_choice(choice);
}

void EyeView::change_guess(double by) {
    if (!desk_.item() || desk_.answered() || !core::is_number(desk_.item()->kind)) return;
    guess_ = std::clamp(guess_ + by, -180.0, 180.0);
    renew();
}

void EyeView::go_on() {
    if (!desk_.running()) {
        for (const app::EyeDesk::Line& l : desk_.lines()) {
            if (l.due_in_days <= 0) return desk_.start(l.kind);
        }
        return emit say(tr("Nothing is due; a number begins any drill all the same."));
    }
    if (desk_.answered()) return desk_.next();
    if (core::is_number(desk_.item()->kind)) desk_.answer_number(guess_);
}

void EyeView::mark_blind() {
    const auto at = desk_.to_mark_again();
    if (!at) return emit say(tr("Mark a moment on the bench first; then it can be marked again, blind."));
    emit wants_blind_mark(at->first, at->second);
}

/// What the answers so far say beside the drills: the own error of marking, and another coach.
QString EyeView::standing() const {
    QStringList out{
        tr("Five minutes, by keys. What you answer is held against what is known, and the drill comes back "
           "when it fades.")};
    const core::ClickError marking = desk_.marking();
    out << (marking.frames < core::kFewestBlindFrames
                ? tr("Marking a frame again: %1 of %2 frames done, then your own error takes the place of "
                     "the usual one.")
                      .arg(marking.frames)
                      .arg(core::kFewestBlindFrames)
                : tr("Marking again puts your click at ± %1 px (at 1080); it holds for what you mark from "
                     "now on.")
                      .arg(marking.sd_px, 0, 'f', 1));
    QString who;
    if (const auto both = desk_.with_another(&who))
        out << tr("With %1, of %2 angles both were shown: ICC %3, limits of agreement %4 to %5°.")
                   .arg(who)
                   .arg(both->shared)
                   .arg(both->icc_2_1, 0, 'f', 2)
                   .arg(QString::number(both->limits.lo, 'f', 1).replace('-', QChar(0x2212)),
                        QString::number(both->limits.hi, 'f', 1));
    if (!desk_.coach().isEmpty()) out << tr("Answers: %1.").arg(desk_.coach());
    return out.join(" ");
}

void EyeView::renew() {
    const bool running = desk_.running();
    home_->setVisible(!running);
    round_->setVisible(running);
    if (!running) {
        place_ = -1;
        picture_->stop();
        about_->setText(standing());
        list_->renew();
        return hint_->say(
            tr("[say_it] what is due   ·   [answer_1] … [answer_6] a drill   ·   [mark_blind] mark a frame "
               "again, "
               "blind   ·   [other_coach] another coach"));
    }
    const app::DrillItem& i = *desk_.item();
    if (place_ != desk_.place()) guess_ = i.starts_at;
    place_ = desk_.place();
    picture_->renew();
    question_->setText(i.question);
    const bool number = core::is_number(i.kind);
    QStringList lines;
    if (number) {
        lines << QString("<span style='font-size:%1px'><b>%2°</b></span>")
                     .arg(scaled_px(26))
                     .arg(QString::number(guess_, 'f', 0).replace('-', QChar(0x2212)));
    }
    for (int n = 0; n < i.choices.size(); ++n) {
        const auto at = std::ranges::find(desk_.named(), n);
        const QString place = at == desk_.named().end()
                                  ? QString()
                                  : QString("  <b>%1.</b>").arg(at - desk_.named().begin() + 1);
        lines << QString("<a href='%1' style='color:%2;text-decoration:none'><b>%3</b>&nbsp;&nbsp;%4%5</a>")
                     .arg(n)
                     .arg(theme().ink.name())
                     .arg(n + 1)
                     .arg(i.choices[n].toHtmlEscaped(), place);
    }
    choices_->setText("<p style='line-height:150%'>" + lines.join("<br>") + "</p>");
    QString said = desk_.answered() ? desk_.said() : QString();
    if (desk_.answered() && !i.explained.isEmpty()) said += " " + sentence(i.explained) + ".";
    said_->setText(said);
    const QString where = tr("%1 of %2").arg(desk_.place() + 1).arg(desk_.length());
    hint_->say(where, desk_.answered() ? tr("[say_it] next   ·   [leave_round] leave")
                      : number         ? tr("[guess_less] [guess_more] one degree   ·   [guess_much_less] "
                                                    "[guess_much_more] five   ·   [say_it] "
                                                    "that is it   ·   [leave_round] leave")
                      : i.right.size() > 1 ? tr("the numbers, the gravest first   ·   [leave_round] leave")
                                           : tr("its number   ·   [leave_round] leave"));
}

void EyeView::keyPressEvent(QKeyEvent* e) {
    if (deeds_.take(*e)) return;
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_eye_view.cpp"
