#include "ui/review/name_line.hpp"

#include <QEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <algorithm>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {
constexpr std::size_t kMostOffers = 9;  // as many as there are digits
}

NameLine::NameLine(QWidget* parent) : QWidget(parent) {
    hide();
    setAccessibleName(tr("Name it by its name or its two letters"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 6, 14, 6);
    row->setSpacing(12);
    hint_ = text_label(tr("Name it"), this, 14, true);
    edit_ = new QLineEdit(this);
    edit_->setFixedWidth(scaled_px(132));
    edit_->setAccessibleName(accessibleName());
    offers_ = text_label("", this, 14);
    offers_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    offers_->setWordWrap(true);
    row->addWidget(hint_);
    row->addWidget(edit_);
    row->addWidget(offers_, 1);
    edit_->installEventFilter(this);
    parent->installEventFilter(this);
    connect(edit_, &QLineEdit::textEdited, this, &NameLine::typed);
}

void NameLine::ask(const core::Knowledge& knowledge, const std::function<void(const app::Named&)>& taken) {
    knowledge_ = &knowledge;
    taken_ = taken;
    edit_->clear();
    typed({});
    place();
    show();
    raise();
    edit_->setFocus();
}

void NameLine::typed(const QString& letters) {
    found_ = letters.isEmpty() ? std::vector<app::Named>() : app::named_by(*knowledge_, letters);
    QStringList shown;
    for (std::size_t i = 0; i < std::min(found_.size(), kMostOffers); ++i)
        shown << QString("<b>%1</b>&nbsp;%2")
                     .arg(i + 1)
                     .arg(found_[i].name.toHtmlEscaped().replace(' ', "&nbsp;"));
    if (found_.size() > kMostOffers) shown << tr("%1 more, type on").arg(found_.size() - kMostOffers);
    offers_->setText(letters.isEmpty()
                         ? tr("a fault, something good, or what the horse answers: type how it begins")
                     : shown.isEmpty() ? tr("nothing begins so")
                                       : shown.join("&nbsp; · "));
}

void NameLine::take(std::size_t offer) {
    if (offer >= std::min(found_.size(), kMostOffers)) return;
    const app::Named named = found_[offer];
    leave();
    taken_(named);
}

void NameLine::leave() {
    hide();
    emit closed();
}

void NameLine::place() {
    const QWidget* p = parentWidget();
    setGeometry(12, p->height() - scaled_px(72), p->width() - 24, scaled_px(60));
}

bool NameLine::eventFilter(QObject* watched, QEvent* e) {
    if (watched == parentWidget() && e->type() == QEvent::Resize && isVisible()) place();
    if (watched == edit_ && e->type() == QEvent::ShortcutOverride) {
        e->accept();  // its letters are no keys of the bench
        return true;
    }
    if (watched == edit_ && e->type() == QEvent::KeyPress) {
        const auto* k = static_cast<QKeyEvent*>(e);
        if (k->key() == Qt::Key_Escape) {
            leave();
            return true;
        }
        if (k->key() == Qt::Key_Return || k->key() == Qt::Key_Enter) {
            take(0);
            return true;
        }
        if (k->key() >= Qt::Key_1 && k->key() <= Qt::Key_9) {
            take(static_cast<std::size_t>(k->key() - Qt::Key_1));
            return true;
        }
    }
    return QWidget::eventFilter(watched, e);
}

void NameLine::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme().line, 1));
    p.setBrush(theme().panel);
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 8, 8);
}

}  // namespace aspen::ui

#include "moc_name_line.cpp"
