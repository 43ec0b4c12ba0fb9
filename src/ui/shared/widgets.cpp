#include "ui/shared/widgets.hpp"

#include <QDate>
#include <QHBoxLayout>
#include <QLocale>
#include <QMenu>
#include <QStyle>

#include "ui/shared/theme.hpp"

namespace aspen::ui {

QLabel* text_label(const QString& text, QWidget* parent, int px, bool strong) {
    auto* label = new QLabel(text, parent);
    label->setFont(text_font(px, strong));
    label->setStyleSheet(
        QString("font-size:%1px;%2").arg(scaled_px(px)).arg(strong ? "font-weight:bold" : ""));
    label->setWordWrap(true);
    return label;
}

QLabel* quiet_label(const QString& text, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    label->setObjectName("quiet");
    label->setWordWrap(true);
    return label;
}

QLabel* heading_label(const QString& text, QWidget* parent, int px) {
    auto* label = new QLabel(text, parent);
    label->setFont(heading_font(px));
    label->setStyleSheet(QString("font-family:Vollkorn; font-weight:600; font-size:%1px").arg(scaled_px(px)));
    label->setWordWrap(true);
    return label;
}

QPushButton* verb_button(const QString& verb, const QString& key, QWidget* parent, bool next) {
    auto* button = new QPushButton(key.isEmpty() ? verb : verb + "   " + key, parent);
    if (next) button->setObjectName("next");
    button->setAccessibleName(verb);
    button->setCursor(Qt::PointingHandCursor);
    return button;
}

void give_look(QWidget& widget, const QString& look) {
    if (widget.objectName() == look) return;
    widget.setObjectName(look);
    widget.style()->unpolish(&widget);
    widget.style()->polish(&widget);
}

QString spoken_date(const QString& iso) {
    const QDate d = QDate::fromString(iso, Qt::ISODate);
    if (!d.isValid()) return QObject::tr("no date");
    return QLocale(QLocale::English)
        .toString(d, d.year() == QDate::currentDate().year() ? "d MMM" : "d MMM yyyy");
}

QString sentence(const QString& s) {
    QString out = s;
    if (!out.isEmpty()) out[0] = out[0].toUpper();
    return out;
}

void clear(QLayout& layout) {
    while (QLayoutItem* item = layout.takeAt(0)) {
        if (QWidget* widget = item->widget()) {
            widget->hide();
            widget->deleteLater();
        }
        if (item->layout()) clear(*item->layout());
        delete item;
    }
}

QWidget* shelf_words(QWidget& view, int shown, const std::function<void()>& other) {
    auto* holder = new QWidget(&view);
    auto* row = new QHBoxLayout(holder);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    const QString names[] = {QObject::tr("Schools"), QObject::tr("Exercises")};
    for (int i = 0; i < 2; ++i) {
        if (i == shown) {
            row->addWidget(heading_label(names[i], holder));
            continue;
        }
        auto* b = new QPushButton(names[i], holder);
        b->setObjectName("word");
        QObject::connect(b, &QPushButton::clicked, &view, other);
        row->addWidget(b);
    }
    row->addStretch(1);
    return holder;
}

QScrollArea* scrolled(QWidget* inside, QWidget* parent) {
    auto* scroll = new QScrollArea(parent);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setWidget(inside);
    return scroll;
}

void give_keys(QMenu& menu) {
    QString taken;
    for (QAction* a : menu.actions()) {
        if (a->isSeparator() || !a->isEnabled() || a->text().isEmpty() || a->text().contains('&')) continue;
        const QString words = a->text();
        for (qsizetype i = 0; i < words.size(); ++i) {
            const QChar c = words[i].toLower();
            if (!c.isLetterOrNumber() || taken.contains(c)) continue;
            taken += c;
            a->setText(words.left(i) + "&" + words.mid(i));
            break;
        }
    }
    for (QAction* a : menu.actions()) {
        if (!a->isSeparator() && a->isEnabled()) return menu.setActiveAction(a);
    }
}

}  // namespace aspen::ui
