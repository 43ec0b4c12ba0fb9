#include "ui/prescribe/prescribe_view.hpp"

#include "app/review/annotated.hpp"
#include "app/review/limits.hpp"
#include "app/yard/changes.hpp"
#include "exchange/frame_marks_painter.hpp"

#include <QFileDialog>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollArea>
#include <QStandardPaths>
#include <algorithm>
#include <cmath>
#include <set>

#include "app/models/pictures.hpp"
#include "core/reading/refused.hpp"
#include "ui/shared/key_map.hpp"
#include "ui/shared/picture_stage.hpp"
#include "ui/shared/rail.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/view_keys.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

/// One link of the chain: the fault's name, its words, and for the focus the mark of what is worked on.
class Link : public QWidget {
  public:
    Link(const QString& name, const QString& words, int depth, bool focus, QWidget* parent)
        : QWidget(parent), depth_(depth), focus_(focus) {
        auto* box = new QVBoxLayout(this);
        box->setContentsMargins(18 + 26 * depth, 10, 12, 10);
        box->setSpacing(2);
        box->addWidget(text_label(name, this, focus ? 18 : 14, true));
        box->addWidget(quiet_label(words, this));
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        const double left = 4 + 26 * depth_;
        p.setPen(Qt::NoPen);
        p.setBrush(theme().panel);
        p.drawRoundedRect(QRectF(left, 2, width() - left, height() - 4), 8, 8);
        if (focus_) {
            p.setBrush(theme().sky);
            p.drawRoundedRect(QRectF(left, 10, 4, height() - 20), 2, 2);
        }
        if (depth_ > 0) {  // the arrow from the link that drives this one
            const double x = left - 12;
            p.setPen(QPen(theme().quiet, 1.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
            const QPointF way[] = {{x, 0}, {x, height() / 2.0}, {left - 3, height() / 2.0}};
            p.drawPolyline(way, 3);
            const QPointF head[] = {
                {left - 8, height() / 2.0 - 4}, {left - 3, height() / 2.0}, {left - 8, height() / 2.0 + 4}};
            p.drawPolyline(head, 3);
        }
    }

  private:
    int depth_;
    bool focus_;
};

/// The moment that speaks for the focus, cut to the rider, with the figure on it.
class MomentPicture : public QWidget {
  public:
    MomentPicture(const QImage& picture, const core::Figure& figure, const exchange::Annotated& annotated,
                  QWidget* parent)
        : QWidget(parent) {
        setMinimumHeight(140);
        setAccessibleName(QObject::tr("The moment with the figure"));
        stage_.set_picture(picture, {});
        stage_.add_layer(figure_layer([figure] { return figure; }, 0, false));
        stage_.add_layer([figure, annotated](QPainter& p, const PictureStage::Place& place) {
            const exchange::MarksLook look{[&](core::Point q) { return place.map(q); }, 1,
                                           text_font(14, true)};
            exchange::paint_frame_marks(p, figure, annotated.marks, annotated.target, look);
            exchange::paint_drawn(p, annotated.drawn, look);
        });
        QRectF around;
        for (const core::Landmark l : core::landmarks_of(figure.view)) {
            if (figure[l].visibility != core::Visibility::absent)
                around |= QRectF(figure[l].at.x - 1, figure[l].at.y - 1, 2, 2);
        }
        around_ = around.isNull() ? QRectF(picture.rect())
                                  : around.adjusted(-60, -70, 60, 40) & QRectF(picture.rect());
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        p.fillRect(rect(), theme().picture_ground);
        stage_.paint(p, PictureStage::framed(around_, QRectF(rect())));
    }

  private:
    PictureStage stage_;
    QRectF around_;
};

}  // namespace

PrescribeView::PrescribeView(app::Bench& bench, QWidget* parent)
    : QWidget(parent), bench_(bench), writer_(bench) {
    connect(&writer_, &app::PageWriter::finished, this, [this](const QString& line) { emit say(line); });
    setFocusPolicy(Qt::StrongFocus);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(24, 20, 24, 16);
    row->setSpacing(32);
    auto* left = new QWidget(this);
    chain_ = new QVBoxLayout(left);
    chain_->setContentsMargins(0, 0, 0, 0);
    chain_->setSpacing(2);
    row->addWidget(left, 4);
    auto* right = new QVBoxLayout;
    right->setSpacing(8);
    offers_ = new QVBoxLayout;
    offers_->setSpacing(4);
    auto* holder = new QWidget;
    detail_ = new QVBoxLayout(holder);
    detail_->setContentsMargins(0, 8, 12, 0);
    detail_->setSpacing(6);
    right->addLayout(offers_);
    right->addWidget(scrolled(holder, this), 1);
    auto* verbs = new QHBoxLayout;
    const auto deed = [this](const QString& id, const QString& words, void (PrescribeView::*act)()) {
        auto* a = new QAction(words, this);
        a->setObjectName(id);
        a->setShortcuts(view_keys(id));
        set_group(*a, tr("Prescribe"));
        connect(a, &QAction::triggered, this, act);
        return a;
    };
    give_deed_ = deed("give", tr("Give the exercise"), &PrescribeView::give);
    page_deed_ = deed("page", tr("Save the rider's page"), &PrescribeView::save_page);
    give_ = verb_button(tr("Give it"), "G", this, true);
    page_ = verb_button(tr("Save the page"), "S", this);
    done_ = quiet_label("", this);
    verbs->addWidget(give_);
    verbs->addWidget(page_);
    verbs->addWidget(done_, 1);
    right->addLayout(verbs);
    row->addLayout(right, 5);
    connect(give_, &QPushButton::clicked, give_deed_, &QAction::trigger);
    connect(page_, &QPushButton::clicked, page_deed_, &QAction::trigger);
    connect(&bench_.findings(), &app::RideFindings::changed, this, [this] {
        if (isVisible()) rebuild();
    });
    connect(&bench_.yard(), &app::Yard::corrections_changed, this, [this] {
        if (isVisible()) rebuild();
    });
    connect(&bench_.yard(), &app::Yard::riders_changed, this, [this] {
        // Not from within the button that changed it.
        if (isVisible())
            QMetaObject::invokeMethod(
                this, [this] { rebuild(); }, Qt::QueuedConnection);
    });
    rebuild();
}

void PrescribeView::showEvent(QShowEvent*) { rebuild(); }

core::RiderNeeds PrescribeView::needs() const {
    core::RiderNeeds n;
    if (const auto rider = bench_.yard().records().rider(bench_.review().rider())) {
        n.level = rider->level;
        n.limitations = app::limits_on(bench_.yard(), bench_.review().ride());
        n.signed_off = app::signed_off(bench_.yard(), bench_.review().rider(), bench_.review().horse());
    }
    return n;
}

void PrescribeView::rebuild() {
    clear(*chain_);
    clear(*offers_);
    clear(*detail_);
    const bool open = bench_.is_open() && bench_.review().rider();
    const auto focus = open ? bench_.findings().focus() : std::nullopt;
    give_->setVisible(focus.has_value());
    page_->setVisible(focus.has_value());
    if (!focus) {
        chosen_ = nullptr;
        chain_->addWidget(
            heading_label(open ? tr("Nothing to prescribe yet") : tr("First a review"), this, 26));
        chain_->addWidget(quiet_label(open
                                          ? tr("No fault is certain in this clip. Mark another moment on the "
                                               "bench, or accept one that you see yourself.")
                                          : tr("Open a clip from the yard, mark a moment, and the chain of "
                                               "causes and its exercises stand here."),
                                      this));
        chain_->addStretch(1);
        done_->clear();
        return;
    }
    if (shown_ != bench_.review().clip().id) {
        shown_ = bench_.review().clip().id;
        chosen_ = nullptr;
    }
    rebuild_chain(*focus);
    rebuild_offers(*focus);
}

void PrescribeView::rebuild_chain(const core::Focus& focus) {
    const auto rider = bench_.yard().records().rider(bench_.review().rider());
    chain_->addWidget(heading_label(text(rider->name), this, 26));
    chain_->addWidget(quiet_label(text(focus.why), this));
    chain_->addSpacing(12);
    const auto causes = bench_.findings().causes();
    std::vector<const core::Fault*> placed{focus.fault};
    chain_->addWidget(new Link(text(focus.fault->name), text(focus.fault->says), 0, true, this));
    for (std::size_t i = 0; i < placed.size() && i < 6; ++i) {
        for (const core::Cause& c : causes) {
            if (c.from != placed[i]->id) continue;
            const core::Fault* to = bench_.yard().knowledge().faults.find(c.to);
            if (std::ranges::find(placed, to) != placed.end()) continue;
            placed.push_back(to);
            chain_->addWidget(new Link(text(to->name), text(c.because), i == 0 ? 1 : 2, false, this));
        }
    }
    QStringList waiting;
    for (const app::FindingRow& row : bench_.findings().rows()) {
        const core::Fault* said = row.said();
        if (!said || row.found.verdict == core::Verdict::borderline ||
            std::ranges::find(placed, said) != placed.end())
            continue;
        waiting << text(said->name).toLower();
    }
    if (!waiting.isEmpty()) {
        chain_->addSpacing(8);
        chain_->addWidget(quiet_label(tr("Waits until this holds: ") + waiting.join(", ") + ".", this));
    }
    const QStringList good = bench_.findings().what_is_good();
    if (!good.isEmpty()) {
        chain_->addSpacing(16);
        chain_->addWidget(heading_label(tr("What is good"), this));
        for (const QString& g : good.mid(0, 4)) chain_->addWidget(text_label("✓  " + g, this));
    }
    if (const store::Moment* m = bench_.review().moment(); m && bench_.deck().picture_is_current()) {
        chain_->addSpacing(16);
        chain_->addWidget(new MomentPicture(bench_.deck().picture().size() == bench_.deck().display_size()
                                                ? bench_.deck().picture()
                                                : bench_.deck().picture().scaled(bench_.deck().display_size(),
                                                                                 Qt::IgnoreAspectRatio,
                                                                                 Qt::SmoothTransformation),
                                            m->figure, app::annotated_here(bench_), this),
                          1);
    } else {
        chain_->addStretch(1);
    }
}

void PrescribeView::rebuild_offers(const core::Focus& focus) {
    const auto offers = bench_.yard().knowledge().exercises.offers(focus.fault->id, needs());
    const bool still = std::ranges::any_of(
        offers, [&](const core::Offer& o) { return o.exercise == chosen_ && o.set_aside.empty(); });
    if (!still) chosen_ = nullptr;
    given_ = false;
    for (const store::Correction& c : bench_.yard().records().corrections(bench_.review().rider())) {
        if (!c.focus || c.fault != focus.fault->id) continue;
        for (const store::Prescription& p : bench_.yard().records().prescriptions(c.id)) {
            const auto same_review = p.ride == bench_.review().ride().id;
            if (!same_review) continue;
            given_ = true;
            if (!chosen_) chosen_ = bench_.yard().knowledge().exercises.find(p.exercise);
        }
    }
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    for (const core::Offer& offer : offers) {
        if (!offer.set_aside.empty()) continue;
        if (!chosen_) chosen_ = offer.exercise;
        auto* b = new QPushButton(text(offer.exercise->name), this);
        b->setCheckable(true);
        b->setChecked(offer.exercise == chosen_);
        if (offer.exercise == chosen_)
            b->setStyleSheet(QString("font-weight:bold; border-color:%1").arg(theme().ink.name()));
        connect(b, &QPushButton::clicked, this, [this, e = offer.exercise] {
            chosen_ = e;
            QMetaObject::invokeMethod(
                this, [this] { rebuild(); }, Qt::QueuedConnection);
        });
        row->addWidget(b);
        if (row->count() == 3) {
            row->addStretch(1);
            offers_->addLayout(row);
            row = new QHBoxLayout;
            row->setSpacing(8);
        }
    }
    row->addStretch(1);
    offers_->addLayout(row);
    QStringList aside;
    for (const core::Offer& offer : offers) {
        if (!offer.set_aside.empty())
            aside << text(offer.exercise->name).toLower() + " (" + text(offer.set_aside) + ")";
    }
    if (!aside.isEmpty()) offers_->addWidget(quiet_label(tr("Set aside: ") + aside.join(", ") + ".", this));
    rebuild_gates(offers);
    const auto rider = bench_.yard().records().rider(bench_.review().rider());
    const QString first = text(rider->name).section(' ', 0, 0);
    give_->setText(tr("Give it to ") + first + "   G");
    give_->setEnabled(chosen_ && !given_);
    page_->setObjectName(given_ ? "next" : "");
    page_->setText(tr("Save the page for ") + first + "   S");
    page_->setStyleSheet(page_->styleSheet());
    done_->setText(given_ ? tr("On ") + first + tr("'s card.") : QString());
    if (chosen_)
        show_exercise(*chosen_);
    else
        detail_->addWidget(quiet_label(tr("No exercise in the library answers this for this rider."), this));
}

/// What only the coach's word keeps shut, each gate once.
void PrescribeView::rebuild_gates(const std::vector<core::Offer>& offers) {
    const store::HorseId horse = bench_.review().horse();
    const auto record = bench_.yard().records().horse(horse);
    if (!record) return;  // signed off on this horse, or not at all
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    std::set<std::string> shown;
    for (const core::Offer& o : offers) {
        if (o.gate.empty() || !shown.insert(o.gate).second) continue;
        auto* b =
            new QPushButton(tr("Sign off on %1: %2")
                                .arg(text(record->name), QString::fromUtf8(core::spoken_gate(o.gate).data())),
                            this);
        b->setObjectName("word");
        connect(b, &QPushButton::clicked, this, [this, horse, gate = o.gate] {
            const store::RiderId rider = bench_.review().rider();
            app::sign_off(bench_.yard(), rider, horse, gate);
            emit say(tr("Signed off from today; it stands on the rider's card, [undo] takes it back."));
        });
        row->addWidget(b);
    }
    row->addStretch(1);
    offers_->addLayout(row);
}

void PrescribeView::show_exercise(const core::Exercise& e) {
    detail_->addWidget(heading_label(text(e.name), this, 26));
    detail_->addWidget(text_label(text(e.purpose), this));
    detail_->addSpacing(8);
    detail_->addWidget(text_label(sentence(text(core::spoken(e.dose))) + ".", this, 18, true));
    for (std::size_t i = 0; i < e.dose.ladder.size(); ++i) {
        auto* step = text_label(QString("%1   %2").arg(i + 1).arg(text(e.dose.ladder[i])), this, 14, i == 0);
        if (i > 0) step->setObjectName("quiet");
        detail_->addWidget(step);
    }
    detail_->addWidget(
        quiet_label(tr("Up: ") + text(e.dose.up) + tr(". Down: ") + text(e.dose.down) + ".", this));
    detail_->addSpacing(8);
    QStringList cues;
    for (const std::string& c : e.cues) cues << "“" + text(c) + "”";
    detail_->addWidget(text_label(cues.join("  "), this));
    detail_->addSpacing(8);
    QStringList bring;
    for (const std::string& w : e.people) bring << text(w);
    for (const std::string& w : e.equipment) bring << text(w);
    QStringList first;
    for (const std::string& b : e.before) first << text(b);
    if (!first.isEmpty())
        detail_->addWidget(text_label(tr("<b>First stands:</b> ") + first.join(", ") + ".", this));
    detail_->addWidget(text_label("<b>Safety.</b> " + text(e.caution) +
                                      tr(" Stop on pain, dizziness or a frightened horse.") +
                                      (bring.isEmpty() ? QString() : tr(" Needs: ") + bring.join(", ") + "."),
                                  this));
    detail_->addWidget(quiet_label(tr("Next clip: ") + text(e.next_clip) + ".", this));
    detail_->addStretch(1);
}

void PrescribeView::give() {
    const auto focus = bench_.is_open() ? bench_.findings().focus() : std::nullopt;
    if (!focus || !chosen_ || given_) return;
    try {
        app::prescribe(bench_.yard(), bench_.review().ride().id, *bench_.findings().focus_seen(),
                       bench_.findings().accepted(), *chosen_);
    } catch (const core::Refused& e) {
        emit say(QString::fromUtf8(e.what()));
        return;
    }
    emit given(bench_.review().rider());
}

QString PrescribeView::write_page(const QString& file) {
    if (const auto line = writer_.refusal(chosen_)) return *line;
    return writer_.start(*chosen_, file);
}

void PrescribeView::save_page() {
    if (const auto line = writer_.refusal(chosen_)) return emit say(*line);
    const auto rider = bench_.yard().records().rider(bench_.review().rider());
    const QString start = QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation) + "/" +
                          text(rider->name).section(' ', 0, 0) + "-" + text(bench_.review().ride().day) +
                          ".pdf";
    const QString file = QFileDialog::getSaveFileName(this, tr("Save the page"), start, tr("PDF (*.pdf)"));
    if (file.isEmpty()) return;
    if (const QString trouble = write_page(file); !trouble.isEmpty()) emit say(trouble);
}

void PrescribeView::keyPressEvent(QKeyEvent* e) {
    for (QAction* a : deeds()) {
        if (a->shortcut() == KeyMap::sequence_of(*e)) return a->trigger();
    }
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui
