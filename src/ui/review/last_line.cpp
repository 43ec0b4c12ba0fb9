#include "ui/review/last_line.hpp"

#include <QClipboard>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QPainter>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {

LastLine::LastLine(app::Bench& bench, QWidget* parent) : QWidget(parent), bench_(bench) {
    setObjectName("last_time");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 2, 8, 2);
    row->setSpacing(8);
    words_ = text_label("", this, 14);
    words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    row->addWidget(words_, 1);
    copy_ = new QPushButton(tr("copy the sentence"), this);
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
    connect(&bench_, &app::Bench::clip_opened, this, [this] {
        read_here_ = false;
        refresh();
    });
    connect(&bench_, &app::Bench::closing, this, &QWidget::hide);
    connect(&bench_.findings(), &app::RideFindings::changed, this, [this] {
        if (!bench_.marking().dragging()) refresh();
    });
    hide();
}

QString LastLine::spoken() const { return isHidden() ? QString() : words_->accessibleName(); }

void LastLine::refresh() {
    const auto last = read_here_ ? std::nullopt : app::last_time(bench_);
    setVisible(last.has_value());
    if (!last) return;
    const Theme& t = theme();
    QStringList parts{tr("Last time: <b>%1</b>").arg(last->focus.toLower())};
    if (!last->rung.isEmpty()) parts << last->rung.toHtmlEscaped();
    parts << QString("<span style='color:%1'>%2 %3</span>")
                 .arg((last->shown ? t.ink : t.sky).name(), last->shown ? "✓" : "○",
                      last->says.toHtmlEscaped());
    words_->setText(parts.join(" · "));
    QStringList heard{tr("Last time: %1").arg(last->focus), last->rung, last->says};
    heard.removeAll(QString());
    words_->setAccessibleName(heard.join(", "));
    words_->setToolTip(last->to_show.isEmpty() ? QString()
                                               : tr("This clip was to show: %1").arg(last->to_show));
    sentence_ =
        last->to_show.isEmpty() ? last->says : tr("Please film again, like this: %1.").arg(last->to_show);
    copy_->setVisible(!last->shown);
}

void LastLine::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    p.setPen(QPen(theme().line, 1));
    p.drawLine(rect().bottomLeft(), rect().bottomRight());
}

}  // namespace aspen::ui

#include "moc_last_line.cpp"
