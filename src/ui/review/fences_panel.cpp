#include "ui/review/fences_panel.hpp"

#include <QHBoxLayout>
#include <QMouseEvent>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kSideWide = 204, kFenceGap = 6, kCaption = 20;

}  // namespace

FencesPanel::FencesPanel(const app::BenchState& now, app::StrideWork& strides, app::FencePictures& pictures,
                         const KeyMap& keys, QWidget* parent)
    : BenchPanel(now, parent), strides_(strides), pictures_(pictures) {
    setObjectName("ground");
    setAccessibleName(tr("Fences, phase by phase"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 4, 16, 4);
    side_ = new QWidget(this);
    side_->setFixedWidth(kSideWide);
    auto* side = new QVBoxLayout(side_);
    side->setContentsMargins(0, 0, 0, 0);
    side->setSpacing(2);
    title_ = text_label("", side_, 14, true);
    said_ = text_label("", side_, 14);
    said_->setWordWrap(true);
    foot_ = new HintLine(keys, side_, 12);
    foot_->setWordWrap(true);
    log_ = verb_button(tr("Log these fences"), "", side_, true);
    side->addWidget(title_);
    side->addWidget(scrolled(said_, side_), 1);
    side->addWidget(log_, 0, Qt::AlignLeft);
    side->addWidget(foot_);
    row->addWidget(side_);
    row->addStretch(1);
    connect(log_, &QPushButton::clicked, this, &FencesPanel::wants_logged);
    connect(&pictures_, &app::FencePictures::changed, this, [this] { update(); });
    const auto anew = [this] {
        if (isVisible()) rebuild();
    };
    connect(&strides_, &app::StrideWork::changed, this, anew);
}

void FencesPanel::show_state(app::BenchParts what) {
    if (isVisible() && what & app::BenchPart::events) rebuild();
}

void FencesPanel::show_frame() { update(); }

void FencesPanel::open() {
    shown_ = 0;
    rebuild();
}

void FencesPanel::move(int by) {
    if (fences_.empty()) return;
    const auto last = static_cast<std::ptrdiff_t>(fences_.size()) - 1;
    shown_ = static_cast<std::size_t>(
        std::clamp<std::ptrdiff_t>(static_cast<std::ptrdiff_t>(shown_) + by, 0, last));
    rebuild();
}

void FencesPanel::rebuild() {
    fences_ = app::fences_here(now_, strides_);
    if (shown_ >= fences_.size()) shown_ = 0;
    const bool any = !fences_.empty();
    log_->setVisible(any && fences_[shown_].proposed);
    if (!any) {
        title_->setText(tr("No fence yet"));
        said_->setText(
            tr("Log take-off and landing by key, or follow the joints: then each fence stands here."));
        foot_->say(tr("[log_events] logs, [strides] follows"));
    } else {
        const app::FencePhases& f = fences_[shown_];
        title_->setText(tr("Fence %1 of %2").arg(shown_ + 1).arg(fences_.size()));
        said_->setText(f.proposed         ? tr("Seen in the horse's way; nobody logged it.")
                       : f.said.isEmpty() ? tr("Follow the joints, and it says how the rider went over it.")
                                          : sentence(f.said));
        foot_->say(fences_.size() > 1 ? tr("[finding_up] [finding_down] another fence") : QString());
        std::vector<int> frames;
        for (const auto& p : f.phases) frames.push_back(p.frame);
        pictures_.want(frames);
    }
    setAccessibleDescription(title_->text() + ". " + said_->text());
    update();
}

std::vector<QRectF> FencesPanel::places() const {
    std::vector<QRectF> out;
    if (fences_.empty()) return out;
    const auto n = static_cast<double>(fences_[shown_].phases.size());
    const double left = side_->geometry().right() + 16, wide = width() - 16 - left;
    for (std::size_t i = 0; i < fences_[shown_].phases.size(); ++i)
        out.emplace_back(left + static_cast<double>(i) * (wide + kFenceGap) / n, 4,
                         (wide + kFenceGap) / n - kFenceGap, height() - 8 - kCaption);
    return out;
}

void FencesPanel::paintEvent(QPaintEvent*) {
    QPainter p(this);
    const Theme& t = theme();
    p.fillRect(rect(), t.ground);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const auto all = places();
    for (std::size_t i = 0; i < all.size(); ++i) {
        const auto& phase = fences_[shown_].phases[i];
        const QRectF place = all[i];
        QImage image = pictures_.of(phase.frame);
        if (image.isNull() && now_.is_open()) image = now_.deck().small_picture(phase.frame);
        p.fillRect(place, t.picture_ground);
        if (!image.isNull()) {
            // Filled, cut at its edges: all five are seen at one size.
            const double k = std::max(place.width() / image.width(), place.height() / image.height());
            const QSizeF part(place.width() / k, place.height() / k);
            p.drawImage(
                place, image,
                QRectF({(image.width() - part.width()) / 2, (image.height() - part.height()) / 2}, part));
        }
        const bool here = now_.is_open() && now_.deck().frame() == phase.frame;
        if (here) {
            p.setPen(QPen(t.sky, 2));
            p.setBrush(Qt::NoBrush);
            p.drawRect(place.adjusted(1, 1, -1, -1));
        }
        p.setPen(t.ink);
        p.setFont(text_font(12, here));
        p.drawText(QRectF(place.left(), place.bottom() + 2, place.width(), kCaption - 2), Qt::AlignCenter,
                   phase.words);
    }
}

void FencesPanel::mousePressEvent(QMouseEvent* event) {
    const auto all = places();
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (all[i].contains(event->position())) emit wants(app::GoTo{fences_[shown_].phases[i].frame});
    }
}

}  // namespace aspen::ui

#include "moc_fences_panel.cpp"
