#include "ui/prescribe/exercises_view.hpp"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>
#include <nlohmann/json.hpp>

#include "app/yard/own_knowledge.hpp"
#include "core/reading/json_reading.hpp"
#include "core/reading/refused.hpp"
#include "core/training/exercise_text.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {

namespace {

QString field_words(const QString& field) {
    const std::pair<const char*, QString> all[] = {{"name", QObject::tr("name")},
                                                   {"purpose", QObject::tr("what it is for")},
                                                   {"answers", QObject::tr("what it answers")},
                                                   {"picture", QObject::tr("cue, as a picture")},
                                                   {"plain", QObject::tr("cue, in plain words")},
                                                   {"ladder", QObject::tr("ladder, a line a rung")},
                                                   {"weeks", QObject::tr("looked at after weeks")},
                                                   {"where", QObject::tr("where")},
                                                   {"equipment", QObject::tr("equipment")},
                                                   {"people", QObject::tr("who must be there")},
                                                   {"before", QObject::tr("what stands first")},
                                                   {"levels", QObject::tr("levels")},
                                                   {"not_for", QObject::tr("not with a sore")},
                                                   {"not_horse", QObject::tr("not on a horse that is")},
                                                   {"not_saddle", QObject::tr("not in a saddle")},
                                                   {"not_school", QObject::tr("not in a school")},
                                                   {"from_age", QObject::tr("from the age of")},
                                                   {"next_clip", QObject::tr("next clip")},
                                                   {"caution", QObject::tr("caution")}};
    for (const auto& [id, words] : all) {
        if (field == id) return words;
    }
    return field;
}

}  // namespace

ExercisesView::ExercisesView(app::Yard& yard, QWidget* parent) : View(parent), yard_(yard) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(20, 14, 20, 12);
    row->setSpacing(24);
    auto* left = new QVBoxLayout;
    left->setSpacing(8);
    left->addWidget(shelf_words(*this, 1, [this] { emit wants_schools(); }));
    search_ = new QLineEdit(this);
    search_->setPlaceholderText(tr("find by name, fault or place"));
    search_->setFixedWidth(scaled_px(300));
    list_ = new QListWidget(this);
    list_->setFixedWidth(scaled_px(300));
    list_->setAccessibleName(tr("Exercises"));
    left->addWidget(search_);
    left->addWidget(list_, 1);
    row->addLayout(left);
    auto* page = new QVBoxLayout;
    page->setSpacing(6);
    heading_ = heading_label({}, this, 26);
    state_ = quiet_label({}, this);
    page->addWidget(heading_);
    page->addWidget(state_);
    page->addWidget(scrolled(build_fields(), this), 1);
    trouble_ = text_label({}, this, 14, true);
    trouble_->setStyleSheet(QString("color: %1; font-weight: bold").arg(theme().clay.name()));
    page->addWidget(trouble_);
    build_verbs(*page);
    row->addLayout(page, 1);
    connect(search_, &QLineEdit::textChanged, this, &ExercisesView::refill);
    connect(list_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* now) {
        if (now) show_exercise(now->data(Qt::UserRole).toString().toStdString());
    });
    connect(&yard_, &app::Yard::knowledge_changed, this, [this] {
        if (isVisible()) {
            refill();
            fill_fields();
        }
    });
}

QWidget* ExercisesView::build_fields() {
    auto* holder = new QWidget;
    auto* grid = new QGridLayout(holder);
    grid->setContentsMargins(0, 4, 8, 4);
    grid->setVerticalSpacing(4);
    grid->setHorizontalSpacing(12);
    grid->setColumnStretch(1, 1);
    int at = 0;
    for (const std::string& id : core::exercise_fields()) {
        const QString field = text(id), words = field_words(field);
        auto* name = quiet_label(words, this);
        name->setFixedWidth(scaled_px(170));
        grid->addWidget(name, at, 0, field == "ladder" ? Qt::AlignTop : Qt::AlignVCenter);
        if (field == "ladder") {
            ladder_ = new QPlainTextEdit(this);
            ladder_->setFixedHeight(scaled_px(150));
            ladder_->setTabChangesFocus(true);
            ladder_->setAccessibleName(words);
            ladder_->installEventFilter(this);
            grid->addWidget(ladder_, at, 1);
        } else {
            auto* line = new QLineEdit(this);
            line->setAccessibleName(words);
            connect(line, &QLineEdit::editingFinished, this, [this, field, line] {
                if (!filling_ && line->isModified()) write(field, line->text());
            });
            lines_[field] = line;
            grid->addWidget(line, at, 1);
        }
        ++at;
    }
    return holder;
}

void ExercisesView::build_verbs(QVBoxLayout& page) {
    auto* verbs = new QHBoxLayout;
    const auto verb = [&](void (ExercisesView::*act)()) {
        auto* b = new QPushButton(this);
        connect(b, &QPushButton::clicked, this, act);
        verbs->addWidget(b);
        return b;
    };
    copy_ = verb(&ExercisesView::copy);
    copy_->setText(tr("Copy it as your own"));
    hide_ = verb(&ExercisesView::hide_or_show);
    ships_ = verb(&ExercisesView::as_it_ships);
    verbs->addStretch(1);
    back_ = verb_button(tr("Back to the plan"), "Esc", this);
    verbs->addWidget(back_);
    connect(back_, &QPushButton::clicked, this, &ExercisesView::closed);
    page.addLayout(verbs);
}

void ExercisesView::open() {
    if (!yard_.knowledge().exercises.find(shown_)) shown_ = yard_.knowledge().exercises.all().front().id;
    refill();
    fill_fields();
    search_->setFocus();
}

void ExercisesView::refill() {
    const QSignalBlocker quiet(list_);
    list_->clear();
    const QString wanted = search_->text().trimmed().toLower();
    for (const core::Exercise& e : yard_.knowledge().exercises.all()) {
        QString all = text(e.name) + " " + text(core::field_text(e, "answers", yard_.knowledge().faults)) +
                      " " + text(core::field_text(e, "where", yard_.knowledge().faults));
        if (!wanted.isEmpty() && !all.toLower().contains(wanted)) continue;
        const bool own = !app::own_exercise(yard_, e.id).empty();
        auto* item = new QListWidgetItem(text(e.name) + (e.hidden ? tr("  (hidden)")
                                                         : own    ? tr("  (yours)")
                                                                  : QString()),
                                         list_);
        item->setData(Qt::UserRole, text(e.id));
        if (e.hidden) item->setForeground(theme().quiet);
        if (e.id == shown_) list_->setCurrentItem(item);
    }
}

void ExercisesView::show_exercise(const std::string& id) {
    shown_ = id;
    trouble_->clear();
    fill_fields();
}

void ExercisesView::fill_fields() {
    const core::Exercise* e = yard_.knowledge().exercises.find(shown_);
    if (!e) return;
    filling_ = true;
    heading_->setText(text(e->name));
    const std::string own = app::own_exercise(yard_, e->id);
    const bool new_one =
        own.find("\"purpose\"") != std::string::npos && own.find("\"dose\"") != std::string::npos;
    state_->setText(e->hidden ? tr("Hidden: offered no more; what was given of it stays.")
                    : own.empty()
                        ? tr("As it ships. What you change here is kept apart and stays through updates.")
                    : new_one ? tr("Your own.")
                              : tr("Changed by you."));
    for (const auto& [field, line] : lines_) {
        line->setText(this->field(field));
        line->setCursorPosition(0);
    }
    ladder_->setPlainText(field("ladder"));
    hide_->setText(e->hidden ? tr("Offer it again") : tr("Hide it"));
    ships_->setText(new_one ? tr("Take it away") : tr("As it ships"));
    ships_->setVisible(!own.empty());
    filling_ = false;
}

QString ExercisesView::field(const QString& id) const {
    const core::Exercise* e = yard_.knowledge().exercises.find(shown_);
    return e ? text(core::field_text(*e, id.toStdString(), yard_.knowledge().faults)) : QString();
}

void ExercisesView::write(const QString& id, const QString& words) {
    if (words.trimmed() == field(id).trimmed()) return trouble_->clear();
    try {
        const std::string before = app::own_exercise(yard_, shown_);
        auto patch = before.empty() ? nlohmann::ordered_json{{"id", shown_}}
                                    : core::reading::parse_in_order(before, "exercise " + shown_);
        patch.merge_patch(core::field_json(id.toStdString(), words.toStdString(), yard_.knowledge().faults));
        app::put_own_exercise(yard_, shown_, patch.dump());
        trouble_->clear();
        emit say(tr("Changed; [undo] takes it back."));
    } catch (const core::Refused& e) {
        trouble_->setText(sentence(QString::fromUtf8(e.what())));
        emit say(trouble_->text());
    }
}

void ExercisesView::copy() {
    const core::Exercise* e = yard_.knowledge().exercises.find(shown_);
    if (!e) return;
    std::string id;
    for (int n = 1; id.empty() || yard_.knowledge().exercises.find(id); ++n)
        id = e->id + "_" + std::to_string(n);
    const QString name = tr("%1, my way").arg(text(e->name));
    app::put_own_exercise(yard_, id, core::as_json(*e, id, name.toStdString()).dump());
    shown_ = id;
    refill();
    fill_fields();
    lines_["name"]->setFocus();
    lines_["name"]->selectAll();
}

void ExercisesView::hide_or_show() {
    if (const core::Exercise* e = yard_.knowledge().exercises.find(shown_))
        app::hide_exercise(yard_, shown_, !e->hidden);
}

void ExercisesView::as_it_ships() {
    app::remove_own_exercise(yard_, shown_);
    if (!yard_.knowledge().exercises.find(shown_)) open();
}

bool ExercisesView::eventFilter(QObject* watched, QEvent* e) {
    if (watched == ladder_ && e->type() == QEvent::FocusOut && !filling_)
        write("ladder", ladder_->toPlainText());
    return QWidget::eventFilter(watched, e);
}

void ExercisesView::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Escape) return emit closed();
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_exercises_view.cpp"
