#include "ui/handover/start_panel.hpp"

#include <QVBoxLayout>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kStartWide = 680;

std::vector<Storyboard::Card> cards_of(const store::Clip& clip, const core::Telling& telling) {
    std::vector<Storyboard::Card> out;
    const auto chapters = telling.chapters();
    const auto captions = telling.captions();
    for (std::size_t i = 0; i < chapters.size(); ++i) {
        const double to = i + 1 < chapters.size() ? chapters[i + 1].at_s : telling.length_s();
        QStringList words;
        for (const core::Caption& c : captions) {
            if (c.from_s >= chapters[i].at_s - 1e-6 && c.from_s < to) words << sentence(text(c.words));
        }
        const int at = static_cast<int>(chapters[i].at_s);
        out.push_back({clip, telling.scene(telling.raw_at(to - 0.05)).shown.frame,
                       QString("%1:%2").arg(at / 60).arg(at % 60, 2, 10, QChar('0')), text(chapters[i].title),
                       words.join(" ")});
    }
    return out;
}

}  // namespace

StartPanel::StartPanel(app::Thumbs& thumbs, std::function<QAction*(const QString&)> find, QWidget* parent)
    : QWidget(parent) {
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(8, 4, 8, 8);
    rows->setSpacing(8);
    rows->addWidget(heading_label(tr("Talk over it"), this, 18));
    talk_words_ = text_label({}, this, 14);
    talk_words_->setWordWrap(true);
    talk_words_->setMaximumWidth(scaled_px(kStartWide));
    rows->addWidget(talk_words_);
    talk_ = new HintLine(find, this, 14);
    rows->addWidget(talk_);
    rows->addSpacing(24);
    notes_heading_ = heading_label(tr("Or let your notes tell it"), this, 18);
    rows->addWidget(notes_heading_);
    nothing_ = text_label({}, this, 14);
    rows->addWidget(nothing_);
    make_ = new HintLine(find, this, 14);
    rows->addWidget(make_);
    board_ = new Storyboard(thumbs, this);
    rows->addWidget(scrolled(board_, this), 1);
}

void StartPanel::offer(const std::optional<store::Clip>& clip,
                       const std::optional<core::Telling>& from_notes) {
    talk_words_->setText(
        clip
            ? tr("On the bench your voice is recorded with all you do with the picture: play, stop, go back, "
                 "come closer, point. It stands here afterwards, is cut by its wave and becomes one film "
                 "with chapters, captions and covered faces.")
            : tr("Open a clip on the bench, or choose a rider in the yard: what they get is made here."));
    talk_->say(clip ? tr("[talk_new] to the bench, and talk") : QString());
    cards_ = clip && from_notes ? cards_of(*clip, *from_notes) : std::vector<Storyboard::Card>();
    notes_heading_->setVisible(clip.has_value());
    nothing_->setVisible(clip && cards_.empty());
    nothing_->setText(tr("Nothing is noted or marked in this clip yet."));
    make_->say(cards_.empty() ? QString()
                              : tr("[from_notes] make it: %1 s, read instead of spoken")
                                    .arg(from_notes->length_s(), 0, 'f', 0));
    board_->show_cards(cards_);
}

}  // namespace aspen::ui

#include "moc_start_panel.cpp"
