#include "ui/review/review_view.hpp"

#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QSaveFile>
#include <QShortcut>
#include <QStandardPaths>
#include <QVBoxLayout>

#include "ui/review/column.hpp"
#include "ui/review/context_bar.hpp"
#include "ui/review/findings_panel.hpp"
#include "ui/review/picture_view.hpp"
#include "ui/review/strip.hpp"

namespace aspen::ui {

ReviewView::ReviewView(app::Bench& bench, app::Importer& importer, QWidget* parent) : QWidget(parent), bench_(bench), player_(bench), stretch_(bench), sound_(bench, player_) {
    setFocusPolicy(Qt::StrongFocus);
    context_ = new ContextBar(bench, importer, player_, this);
    picture_ = new PictureView(bench, this);
    strip_ = new Strip(bench, player_, this);
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
    connect(context_, &ContextBar::answered, picture_, qOverload<>(&QWidget::setFocus));
    connect(findings_, &FindingsPanel::wants_exercise, this, &ReviewView::wants_exercise);
    connect(&player_, &app::Player::changed, this, [this] { picture_->be_quiet(player_.playing()); });
    connect(&stretch_, &app::StretchWriter::progress, this, [this](double share) { emit say(QString("writing the stretch … %1 %").arg(static_cast<int>(share * 100))); });
    connect(&stretch_, &app::StretchWriter::finished, this, &ReviewView::say);
    const auto key = [this](const char* keys, auto act) {
        auto* shortcut = new QShortcut(QKeySequence(keys), this, nullptr, nullptr, Qt::WidgetWithChildrenShortcut);
        connect(shortcut, &QShortcut::activated, this, act);
    };
    key("Ctrl+C", [this] { copy_frame(true); });
    key("Ctrl+Shift+C", [this] { copy_frame(false); });
    key("Ctrl+S", [this] { save_frame(); });
    key("Ctrl+Shift+S", [this] { save_stretch(); });
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

void ReviewView::copy_frame(bool with_figure) {
    const app::FrameOut out = app::frame_out(bench_, with_figure);
    if (out.trouble.isEmpty()) QGuiApplication::clipboard()->setImage(out.picture);
    emit say(out.trouble.isEmpty() ? QString("Frame %1 is on the clipboard%2.").arg(bench_.frame()).arg(with_figure ? ", with the figure" : "") : out.trouble);
}

void ReviewView::save_frame() {
    const app::FrameOut with = app::frame_out(bench_, true), without = app::frame_out(bench_, false);
    if (!with.trouble.isEmpty()) return emit say(with.trouble);
    const QString start = QStandardPaths::writableLocation(QStandardPaths::PicturesLocation) + QString("/frame-%1.png").arg(bench_.frame());
    QString kind;
    QString file = QFileDialog::getSaveFileName(this, "Save this frame", start, "With the figure (*.png);;Without the figure (*.png)", &kind);
    if (file.isEmpty()) return;
    if (!file.endsWith(".png", Qt::CaseInsensitive)) file += ".png";
    QSaveFile target(file);
    const bool written = target.open(QIODevice::WriteOnly) && (kind.startsWith("Without") ? without : with).picture.save(&target, "PNG") && target.commit();
    emit say(written ? "Saved: " + file : file + ": cannot be written; choose another folder.");
}

void ReviewView::save_stretch() {
    if (stretch_.busy()) return stretch_.cancel();
    if (!player_.from() || !player_.to()) return emit say("Mark a stretch first: [ at its first frame, ] at its last.");
    const QString start = QStandardPaths::writableLocation(QStandardPaths::MoviesLocation) + QString("/stretch-%1-%2.mp4").arg(*player_.from()).arg(*player_.to());
    QString file = QFileDialog::getSaveFileName(this, "Save the marked stretch", start, "Clip (*.mp4)");
    if (file.isEmpty()) return;
    if (!file.endsWith(".mp4", Qt::CaseInsensitive)) file += ".mp4";
    const QString trouble = stretch_.start(*player_.from(), *player_.to(), file);
    emit say(trouble.isEmpty() ? "writing the stretch … Ctrl+Shift+S stops it" : trouble);
}

bool ReviewView::playing_key(QKeyEvent& e) {
    switch (e.key()) {
        case Qt::Key_Space:
            if (player_.playing()) player_.pause();
            else player_.play(e.modifiers() & Qt::ShiftModifier ? -1 : 1);
            return true;
        case Qt::Key_S: player_.change_speed(-1); return true;
        case Qt::Key_F: player_.change_speed(1); return true;
        case Qt::Key_BracketLeft: player_.mark_from(bench_.frame()); return true;
        case Qt::Key_BracketRight: player_.mark_to(bench_.frame()); return true;
        case Qt::Key_L:
            if (player_.loops()) player_.clear_marks();
            else player_.set_loops(true);
            return true;
        case Qt::Key_H: bench_.show_field(1 - bench_.field()); return true;
        default: return false;
    }
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
    if (plain && bench_.is_open() && (arrow(*e) || playing_key(*e) || letter(e->key()))) {
        e->accept();
        return;
    }
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui
