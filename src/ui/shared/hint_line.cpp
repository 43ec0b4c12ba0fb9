#include "ui/shared/hint_line.hpp"

#include <QAction>
#include <QEvent>
#include <QPainter>
#include <QRegularExpression>

#include "ui/shared/key_map.hpp"
#include "ui/shared/theme.hpp"

namespace aspen::ui {

HintLine::HintLine(std::function<QAction*(const QString&)> find, QWidget* parent, int px)
    : QLabel(parent), find_(std::move(find)), px_(px) {
    setTextFormat(Qt::RichText);
    setTextInteractionFlags(Qt::LinksAccessibleByMouse);
    setFocusPolicy(Qt::NoFocus);  // the keys it names are the way by keyboard
    setFont(text_font(px));
    connect(this, &QLabel::linkActivated, this, [this](const QString& link) {
        if (link.startsWith('=')) {
            emit pressed(link.mid(1));
        } else if (QAction* a = find_(link)) {
            a->trigger();
        }
    });
}

HintLine::HintLine(const KeyMap& keys, QWidget* parent, int px)
    : HintLine([&keys](const QString& id) { return keys.action(id); }, parent, px) {
    connect(&keys, &KeyMap::changed, this, &HintLine::write);
}

void HintLine::say(const QString& words) { say({}, words); }

void HintLine::say(const QString& strong, const QString& words) {
    if (strong == strong_ && words == words_) return;
    strong_ = strong;
    words_ = words;
    write();
}

void HintLine::set_colours(const QColor& words, const QColor& keys) {
    colour_ = words;
    key_colour_ = keys;
    write();
}

void HintLine::set_pill(bool on) {
    pill_ = on;
    setContentsMargins(on ? 14 : 0, on ? 7 : 0, on ? 14 : 0, on ? 7 : 0);
}

void HintLine::write() {
    static const QRegularExpression key("\\[(?:=([^\\]]+)|([a-z0-9_]+))\\]");
    const QColor words = colour_.isValid() ? colour_ : theme().quiet,
                 keys = key_colour_.isValid() ? key_colour_ : theme().ink;
    QString rich, spoken = strong_.isEmpty() ? QString() : strong_ + ". ";
    if (!strong_.isEmpty())
        rich = QString("<b style='color:%1'>%2</b>&nbsp;&nbsp; ").arg(keys.name(), strong_.toHtmlEscaped());
    qsizetype at = 0;
    for (auto it = key.globalMatch(words_); it.hasNext();) {
        const auto m = it.next();
        const QAction* action = m.captured(1).isEmpty() ? find_(m.captured(2)) : nullptr;
        if (m.captured(1).isEmpty() && !action) continue;
        QString shown = action ? action->shortcut().toString(QKeySequence::NativeText) : m.captured(1);
        if (shown.isEmpty()) shown = action->text();
        const QString before = words_.mid(at, m.capturedStart() - at),
                      link = action ? m.captured(2) : "=" + m.captured(1);
        rich += before.toHtmlEscaped() +
                QString("<a href='%1' style='color:%2; text-decoration:none; font-weight:600'>%3</a>")
                    .arg(link.toHtmlEscaped(), keys.name(), shown.toHtmlEscaped());
        spoken += before + shown;
        at = m.capturedEnd();
    }
    rich += words_.mid(at).toHtmlEscaped();
    spoken += words_.mid(at);
    spoken_ = spoken;
    setAccessibleName(spoken);
    setText(QString("<span style='color:%1; font-size:%2px'>%3</span>")
                .arg(words.name())
                .arg(scaled_px(px_))
                .arg(rich.replace('\n', "<br>")));
}

void HintLine::changeEvent(QEvent* e) {
    // Light or dark: what was written bears the other theme's colours.
    if (e->type() == QEvent::PaletteChange) write();
    QLabel::changeEvent(e);
}

void HintLine::paintEvent(QPaintEvent* e) {
    if (pill_) {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(Qt::NoPen);
        p.setBrush(QColor(20, 26, 24, 215));
        p.drawRoundedRect(rect(), 17, 17);
        p.setBrush(kPictureSky);
        p.drawRoundedRect(QRectF(2, 8, 4, height() - 16), 2, 2);
    }
    QLabel::paintEvent(e);
}

}  // namespace aspen::ui

#include "moc_hint_line.cpp"
