#include "ui/handover/start_panel.hpp"

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kWide = 640;

QStringList lines_of(const core::Telling& telling) {
    QStringList out;
    const auto chapters = telling.chapters();
    const auto captions = telling.captions();
    for (std::size_t i = 0; i < chapters.size(); ++i) {
        const double to = i + 1 < chapters.size() ? chapters[i + 1].at_s : telling.length_s();
        QStringList words;
        for (const core::Caption& c : captions) {
            if (c.from_s >= chapters[i].at_s - 1e-6 && c.from_s < to) words << text(c.words);
        }
        const int at = static_cast<int>(chapters[i].at_s);
        const QString title = text(chapters[i].title), more = words.join(" ");
        out << QString("%1:%2   %3").arg(at / 60).arg(at % 60, 2, 10, QChar('0')).arg(title) +
                   (more.isEmpty() || more == title ? QString() : ": " + more);
    }
    return out;
}

}  // namespace

StartPanel::StartPanel(std::function<QAction*(const QString&)> find, QWidget* parent) : QWidget(parent) {
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(8, 0, 8, 8);
    rows->setSpacing(8);
    const auto wide = [](QLabel* label) {
        label->setWordWrap(true);
        label->setMaximumWidth(scaled_px(kWide));
        return label;
    };
    rows->addWidget(heading_label(tr("Talk over it"), this, 18));
    talk_words_ = text_label({}, this, 14);
    rows->addWidget(wide(talk_words_));
    talk_ = new HintLine(find, this, 14);
    rows->addWidget(talk_);
    rows->addSpacing(24);
    notes_heading_ = heading_label(tr("Or let your notes tell it"), this, 18);
    rows->addWidget(notes_heading_);
    notes_ = text_label({}, this, 14);
    notes_->setTextFormat(Qt::PlainText);
    rows->addWidget(wide(notes_));
    make_ = new HintLine(find, this, 14);
    rows->addWidget(make_);
    rows->addStretch(1);
}

void StartPanel::offer(bool open, const std::optional<core::Telling>& from_notes) {
    talk_words_->setText(
        open
            ? tr("On the bench your voice is recorded with all you do with the picture: play, stop, go back, "
                 "come closer, point. It stands here afterwards, is cut by its wave and becomes one film "
                 "with chapters, captions and covered faces.")
            : tr("Open a clip on the bench, or choose a rider in the yard: what they get is made here."));
    talk_->say(open ? tr("[talk_new] to the bench, and talk") : QString());
    lines_ = from_notes ? lines_of(*from_notes) : QStringList();
    notes_heading_->setVisible(open);
    notes_->setText(!open            ? QString()
                    : lines_.empty() ? tr("Nothing is noted or marked in this clip yet.")
                                     : lines_.join("\n"));
    make_->say(lines_.empty() ? QString()
                              : tr("[from_notes] make it: %1 s, read instead of spoken")
                                    .arg(from_notes->length_s(), 0, 'f', 0));
}

}  // namespace aspen::ui
