#include "ui/review/review_view.hpp"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

#include "ui/review/column.hpp"
#include "ui/review/context_bar.hpp"
#include "ui/review/findings_panel.hpp"
#include "ui/review/picture_view.hpp"
#include "ui/review/strip.hpp"

namespace aspen::ui {

ReviewView::ReviewView(app::Bench& bench, app::Importer& importer, QWidget* parent) : QWidget(parent), bench_(bench) {
    setFocusPolicy(Qt::StrongFocus);
    context_ = new ContextBar(bench, importer, this);
    picture_ = new PictureView(bench, this);
    strip_ = new Strip(bench, this);
    findings_ = new FindingsPanel(bench, this);
    column_ = new Column(bench, this);
    auto* left = new QVBoxLayout;
    left->setContentsMargins(0, 0, 0, 0);
    left->setSpacing(0);
    left->addWidget(picture_, 1);
    left->addWidget(strip_);
    findings_->setFixedHeight(152);
    left->addWidget(findings_);
    auto* middle = new QHBoxLayout;
    middle->setContentsMargins(0, 0, 0, 0);
    middle->setSpacing(0);
    middle->addLayout(left, 1);
    column_->setFixedWidth(384);
    middle->addWidget(column_);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    all->addWidget(context_);
    all->addLayout(middle, 1);
    connect(findings_, &FindingsPanel::wants_exercise, this, &ReviewView::wants_exercise);
}

bool ReviewView::arrow(QKeyEvent& e) {
    const int key = e.key();
    const bool sideways = key == Qt::Key_Left || key == Qt::Key_Right;
    const bool upright = key == Qt::Key_Up || key == Qt::Key_Down;
    if (!sideways && !upright) return false;
    const int sign = key == Qt::Key_Right || key == Qt::Key_Down ? 1 : -1;
    const bool shift = e.modifiers() & Qt::ShiftModifier;
    if (bench_.selected()) {
        const double by = sign * (shift ? 5.0 : 1.0) / std::max(1.0, picture_->zoom());
        bench_.nudge_selected(sideways ? by : 0, upright ? by : 0);
    } else if (sideways) {
        bench_.step(sign * (shift ? 10 : 1));
    } else {
        findings_->move_current(sign);
    }
    return true;
}

bool ReviewView::letter(int key) {
    switch (key) {
        case Qt::Key_Comma: bench_.step(-1); return true;
        case Qt::Key_Period: bench_.step(1); return true;
        case Qt::Key_Home: bench_.go_to(0); return true;
        case Qt::Key_End: bench_.go_to(bench_.facts().frames - 1); return true;
        case Qt::Key_PageUp: bench_.go_to_moment(-1); return true;
        case Qt::Key_PageDown: bench_.go_to_moment(1); return true;
        case Qt::Key_X: bench_.skip(); return true;
        case Qt::Key_O: bench_.ask_for_others(!bench_.asks_others()); return true;
        case Qt::Key_T: bench_.turn_travel(); return true;
        case Qt::Key_U: picture_->draw_upright(!picture_->drawing_upright()); return true;
        case Qt::Key_A: findings_->accept_current(); return true;
        case Qt::Key_R: findings_->reject_current(); return true;
        case Qt::Key_C: findings_->change_current(); return true;
        case Qt::Key_Q: context_->ask_next(); return true;
        case Qt::Key_0: picture_->zoom_to_fit(); return true;
        case Qt::Key_Plus: case Qt::Key_Equal: picture_->zoom_by(1.5, QPointF(picture_->width(), picture_->height()) / 2); return true;
        case Qt::Key_Minus: picture_->zoom_by(1 / 1.5, QPointF(picture_->width(), picture_->height()) / 2); return true;
        case Qt::Key_Delete: case Qt::Key_Backspace: bench_.take_away_selected(); return true;
        case Qt::Key_Escape:
            if (picture_->drawing_upright()) picture_->draw_upright(false);
            else bench_.select(std::nullopt);
            return true;
        case Qt::Key_Return: case Qt::Key_Enter:
            if (bench_.focus()) emit wants_exercise();
            return true;
        default: return false;
    }
}

void ReviewView::keyPressEvent(QKeyEvent* e) {
    const bool plain = !(e->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier));
    if (plain && bench_.is_open() && (arrow(*e) || letter(e->key()))) {
        e->accept();
        return;
    }
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui
