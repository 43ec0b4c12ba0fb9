#include "ui/window/rider_chooser.hpp"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/yard/delegates.hpp"

namespace aspen::ui {
namespace {

constexpr int kChooserWide = 380, kChooserHigh = 520, kChooserLeft = 96, kChooserTop = 50,
              kChooserRest = 130;  // the field above the list, the words below

}  // namespace

RiderChooser::RiderChooser(app::Yard& yard, QWidget* parent) : QWidget(parent), model_(yard) {
    hide();
    setAccessibleName(tr("Choose a rider"));
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(12, 12, 12, 12);
    all->setSpacing(6);
    words_ = new QLineEdit(this);
    words_->setPlaceholderText(tr("Which rider?"));
    words_->setAccessibleName(tr("Which rider?"));
    all->addWidget(words_);
    found_.setSourceModel(&model_);
    found_.setFilterCaseSensitivity(Qt::CaseInsensitive);
    list_ = new QListView(this);
    list_->setAccessibleName(tr("Riders"));
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* look = new RiderDelegate(this);
    look->show_numbers(false);
    list_->setItemDelegate(look);
    list_->setModel(&found_);
    all->addWidget(list_, 1);
    nothing_ = quiet_label(tr("Nobody of that name. A new rider is made where a clip asks who rides."), this);
    all->addWidget(nothing_);
    here_ = new QWidget(this);
    auto* row = new QHBoxLayout(here_);
    row->setContentsMargins(0, 0, 0, 0);
    const auto word = [&](const QString& words, void (RiderChooser::*wants)()) {
        auto* b = new QPushButton(words, here_);
        b->setObjectName("word");
        b->setFocusPolicy(Qt::NoFocus);
        connect(b, &QPushButton::clicked, this, [this, wants] {
            leave();
            emit(this->*wants)();
        });
        row->addWidget(b);
    };
    word(tr("Somebody else rides here"), &RiderChooser::wants_say_rider);
    word(tr("another horse"), &RiderChooser::wants_say_horse);
    row->addStretch(1);
    all->addWidget(here_);
    words_->installEventFilter(this);
    connect(words_, &QLineEdit::textChanged, this, [this](const QString& typed) {
        found_.setFilterFixedString(typed.trimmed());
        list_->setCurrentIndex(found_.index(0, 0));
        nothing_->setVisible(found_.rowCount() == 0);
    });
    connect(list_, &QListView::clicked, this, &RiderChooser::take);
    // The riders are read anew while it is open: something stands under the keys all the same.
    connect(&found_, &QAbstractItemModel::modelReset, this, [this] {
        list_->setCurrentIndex(found_.index(0, 0));
        nothing_->setVisible(found_.rowCount() == 0);
    });
}

void RiderChooser::open(store::RiderId now, bool on_bench) {
    here_->setVisible(on_bench);
    words_->clear();
    found_.setFilterFixedString({});
    nothing_->setVisible(found_.rowCount() == 0);
    const int row = std::max(0, model_.row_of(now));
    list_->setCurrentIndex(found_.mapFromSource(model_.index(row, 0)));
    const int wide = std::min(scaled_px(kChooserWide), parentWidget()->width() - 24);
    const int rows = std::max(1, found_.rowCount()) * list_->sizeHintForRow(0);
    const int high = std::min({scaled_px(kChooserHigh), rows + scaled_px(kChooserRest),
                               parentWidget()->height() - scaled_px(kChooserTop) - 12});
    setGeometry(std::min(scaled_px(kChooserLeft), parentWidget()->width() - wide - 12),
                scaled_px(kChooserTop), wide, high);
    show();
    raise();
    words_->setFocus();
    list_->scrollTo(list_->currentIndex());
}

void RiderChooser::take(const QModelIndex& row) {
    if (!row.isValid()) return;
    const store::RiderId id = model_.rider_at(found_.mapToSource(row).row());
    leave();
    emit chosen(id);
}

void RiderChooser::leave() {
    hide();
    emit closed();
}

bool RiderChooser::eventFilter(QObject*, QEvent* e) {
    if (e->type() == QEvent::FocusOut && isVisible()) hide();
    if (e->type() != QEvent::KeyPress) return false;
    const int row = list_->currentIndex().row(), n = found_.rowCount();
    switch (static_cast<QKeyEvent*>(e)->key()) {
        case Qt::Key_Escape:
            leave();
            return true;
        case Qt::Key_Return:
        case Qt::Key_Enter:
            take(list_->currentIndex());
            return true;
        case Qt::Key_Down:
            if (n > 0) list_->setCurrentIndex(found_.index((row + 1) % n, 0));
            return true;
        case Qt::Key_Up:
            if (n > 0) list_->setCurrentIndex(found_.index((row + n - 1) % n, 0));
            return true;
        default:
            return false;
    }
}

void RiderChooser::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme().line, 1));
    p.setBrush(theme().panel);
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 10, 10);
}

}  // namespace aspen::ui

#include "moc_rider_chooser.cpp"
