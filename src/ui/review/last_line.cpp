#include "ui/review/last_line.hpp"

#include <QClipboard>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QTextDocument>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {

LastLine::LastLine(const app::BenchState& now, QWidget* parent) : BenchPanel(now, parent) {
    setObjectName("last_time");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 2, 8, 2);
    row->setSpacing(8);
    words_ = text_label("", this, 14);
    words_->setWordWrap(false);
    words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    words_->installEventFilter(this);
    row->addWidget(words_, 1);
    copy_ = new QPushButton(tr("copy"), this);
    read_ = new QPushButton(tr("put away"), this);
    for (QPushButton* b : {copy_, read_}) {
        b->setObjectName("word");
        b->setFocusPolicy(Qt::TabFocus);
        row->addWidget(b);
    }
    connect(copy_, &QPushButton::clicked, this, [this] {
        QGuiApplication::clipboard()->setText(sentence_);
        emit say(tr("The sentence for the rider is on the clipboard."));
    });
    connect(read_, &QPushButton::clicked, this, [this] {
        read_here_ = true;
        hide();
    });
    hide();
}

void LastLine::clip_opened() {
    read_here_ = false;
    refresh();
}

void LastLine::show_state(app::BenchParts what) {
    if (!now_.marking().dragging() && what & app::BenchPart::findings) refresh();
}

QString LastLine::spoken() const { return isHidden() ? QString() : words_->accessibleName(); }

void LastLine::refresh() {
    const auto last = read_here_ ? std::nullopt : app::last_time(now_);
    setVisible(last.has_value());
    if (!last) return;
    const Theme& t = theme();
    const QString focus = tr("Last time: <b>%1</b>").arg(last->focus.toLower()),
                  rung = last->rung.isEmpty() ? QString() : " · " + last->rung.toHtmlEscaped(),
                  mark = last->shown ? "✓" : "○",
                  says = QString(" · <span style='color:%1'>%2 %3</span>")
                             .arg((last->shown ? t.ink : t.sky).name(), mark, last->says.toHtmlEscaped());
    said_ = {focus + rung + says, focus + says, focus + " " + mark};
    QStringList heard{tr("Last time: %1").arg(last->focus), last->rung, last->says};
    heard.removeAll(QString());
    words_->setAccessibleName(heard.join(", "));
    if (!last->to_show.isEmpty()) heard << tr("This clip was to show: %1").arg(last->to_show);
    words_->setToolTip(heard.join("\n"));
    sentence_ =
        last->to_show.isEmpty() ? last->says : tr("Please film again, like this: %1.").arg(last->to_show);
    copy_->setVisible(!last->shown);
    fit();
}

/// As much of it as there is room for; all of it is in what a reader hears and under the pointer.
void LastLine::fit() {
    if (said_.isEmpty()) return;
    QTextDocument page;
    page.setDefaultFont(words_->font());
    for (const QString& said : said_) {
        words_->setText(said);
        page.setHtml(said);
        if (page.idealWidth() <= words_->width()) return;
    }
}

bool LastLine::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::Resize) fit();
    return QWidget::eventFilter(watched, event);
}

}  // namespace aspen::ui

#include "moc_last_line.cpp"
