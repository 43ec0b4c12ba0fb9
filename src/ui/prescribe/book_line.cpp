#include "ui/prescribe/book_line.hpp"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kMarginWidth = 112, kMostWritingLines = 9;

/// The window's style sheet says a font of its own for all words: what differs is said to the one that does.
QString sheet_of(const QFont& font) {
    return QString("font-family: %1; font-size: %2px; font-weight: %3; font-style: %4")
        .arg(font.family())
        .arg(font.pixelSize())
        .arg(font.weight())
        .arg(font.italic() ? "italic" : "normal");
}

}  // namespace

BookLine::BookLine(const QString& name, bool margin, const QFont& font, QWidget* parent)
    : QWidget(parent), name_(name), font_(font) {
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::IBeamCursor);
    setToolTip(tr("Press to change: %1").arg(name));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(6, 3, 6, 3);
    row->setSpacing(10);
    if (margin) {
        auto* beside = text_label(name, this, 12);
        beside->setObjectName("margin");
        beside->setFixedWidth(scaled_px(kMarginWidth));
        beside->setContentsMargins(0, scaled_px(2), 0, 0);
        beside->setAttribute(Qt::WA_TransparentForMouseEvents);
        row->addWidget(beside, 0, Qt::AlignTop);
    }
    shown_ = new QLabel(this);
    shown_->setFont(font);
    shown_->setStyleSheet(sheet_of(font));
    shown_->setTextFormat(Qt::PlainText);
    shown_->setWordWrap(true);
    shown_->setAttribute(Qt::WA_TransparentForMouseEvents);
    row->addWidget(shown_, 1);
}

void BookLine::set_text(const QString& shown, const QString& written) {
    text_ = written;
    shown_->setText(shown);
    setAccessibleName(QString("%1: %2").arg(name_, shown.isEmpty() ? tr("nothing said") : shown));
    if (is_writing() && !editor_->document()->isModified()) editor_->setPlainText(written);
}

void BookLine::begin() {
    if (is_writing()) return;
    if (!editor_) {
        editor_ = new QPlainTextEdit(this);
        editor_->setFont(font_);
        editor_->setStyleSheet(sheet_of(font_));
        editor_->setTabChangesFocus(true);
        editor_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        editor_->setAccessibleName(name_);
        editor_->installEventFilter(this);
        layout()->addWidget(editor_);
        static_cast<QHBoxLayout*>(layout())->setStretchFactor(editor_, 1);
        connect(editor_, &QPlainTextEdit::textChanged, this, &BookLine::fit);
    }
    shown_->hide();
    editor_->setPlainText(text_);
    editor_->show();
    editor_->setFocus();
    editor_->selectAll();
    fit();
}

void BookLine::end() {
    if (!is_writing()) return;
    const bool had_focus = editor_->hasFocus();
    keeping_ = true;  // hiding takes the focus, which is no wish to keep anything
    editor_->hide();
    keeping_ = false;
    shown_->show();
    if (had_focus) setFocus();
}

/// As high as what is written, within reason.
void BookLine::fit() {
    const int wide = std::max(scaled_px(120), editor_->viewport()->width());
    const QRect box = QFontMetrics(font_).boundingRect(QRect(0, 0, wide - 12, 4000), Qt::TextWordWrap,
                                                       editor_->toPlainText() + "x");
    const int line = QFontMetrics(font_).lineSpacing();
    editor_->setFixedHeight(std::min(box.height() + line / 2, kMostWritingLines * line) + 14);
}

void BookLine::keep() {
    if (keeping_ || !is_writing()) return;
    if (editor_->toPlainText() == text_) {
        end();
        return emit left();
    }
    emit written(editor_->toPlainText());
}

bool BookLine::eventFilter(QObject* watched, QEvent* e) {
    if (watched != editor_) return false;
    if (e->type() == QEvent::FocusOut) {
        keep();
    } else if (e->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(e);
        if (key->key() == Qt::Key_Escape) {
            end();
            emit left();
            return true;
        }
        if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
            keep();
            return true;
        }
    }
    return QWidget::eventFilter(watched, e);
}

void BookLine::mousePressEvent(QMouseEvent* e) {
    e->accept();
    begin();
}

void BookLine::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter || e->key() == Qt::Key_Space) return begin();
    QWidget::keyPressEvent(e);
}

void BookLine::enterEvent(QEnterEvent*) { update(); }
void BookLine::leaveEvent(QEvent*) { update(); }

void BookLine::paintEvent(QPaintEvent*) {
    if (is_writing() || !(underMouse() || hasFocus())) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(hasFocus() ? QPen(theme().ink, 2) : QPen(theme().line, 1));
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 5, 5);
}

}  // namespace aspen::ui

#include "moc_book_line.cpp"
