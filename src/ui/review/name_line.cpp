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
constexpr std::size_t kMostOffers = 7;
}

NameLine::NameLine(QWidget* parent) : QWidget(parent) {
    hide();
    setAccessibleName(tr("Name it by two letters"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 6, 14, 6);
    row->setSpacing(12);
    hint_ = text_label(tr("Name it"), this, 14, true);
    edit_ = new QLineEdit(this);
    edit_->setFixedWidth(72);
    edit_->setAccessibleName(accessibleName());
    offers_ = text_label("", this, 14);
    offers_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
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
    found_ = app::named_by(*knowledge_, letters);
    const auto exact = std::ranges::find_if(
        found_, [&](const app::Named& n) { return n.letters.compare(letters, Qt::CaseInsensitive) == 0; });
    if (exact != found_.end()) {
        const app::Named named = *exact;
        leave();
        return taken_(named);
    }
    QStringList shown;
    if (!letters.isEmpty()) {
        for (std::size_t i = 0; i < std::min(found_.size(), kMostOffers); ++i)
            shown << QString("<b>%1</b> %2").arg(found_[i].letters, found_[i].name.toHtmlEscaped());
        if (found_.size() > kMostOffers) shown << "…";
    }
    offers_->setText(letters.isEmpty()
                         ? tr("the first letter of a fault, of something good, or of what the horse answers")
                     : shown.isEmpty() ? tr("nothing begins so")
                                       : shown.join("  ·  "));
}

void NameLine::leave() {
    hide();
    emit closed();
}

void NameLine::place() {
    const QWidget* p = parentWidget();
    setGeometry(12, p->height() - 56, p->width() - 24, 44);
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
            if (!edit_->text().isEmpty() && !found_.empty()) {
                const app::Named named = found_.front();
                leave();
                taken_(named);
            }
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
