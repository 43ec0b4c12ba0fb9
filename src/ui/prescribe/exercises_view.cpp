#include "ui/prescribe/exercises_view.hpp"

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
                                                   {"answers", QObject::tr("answers")},
                                                   {"picture", QObject::tr("think of")},
                                                   {"plain", QObject::tr("do")},
                                                   {"ladder", QObject::tr("ladder, a line a rung")},
                                                   {"weeks", QObject::tr("looked at after")},
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

/// A field as it is read.
QString read(const QString& field, const QString& written) {
    QString shown = written;
    if (shown.endsWith(';')) shown.chop(1);  // how a list is written whose entries hold commas
    if (field == "picture" && !shown.isEmpty())
        return QString::fromUtf8("“") + shown + QString::fromUtf8("”");
    if (field == "not_horse" || field == "not_school" || field == "not_saddle") shown.replace('_', '-');
    if (field == "weeks") return QObject::tr("%n weeks", nullptr, shown.toInt());
    if (field == "answers") {
        constexpr int kRead = 5;  // the ones it answers best; all of them where it is written
        const QStringList all = shown.split(", ");
        if (all.size() > kRead + 1)
            shown = all.mid(0, kRead).join(", ") + QObject::tr(" and %1 more").arg(all.size() - kRead);
    }
    return shown;
}

/// Whether a field says anything: an age of nought is none.
bool says(const QString& field, const QString& written) {
    return !written.trimmed().isEmpty() && !(field == "from_age" && written.trimmed() == "0");
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
    list_ = new QListWidget(this);
    list_->setObjectName("shelf");
    list_->setIconSize({scaled_px(64), scaled_px(48)});
    list_->setFrameShape(QFrame::NoFrame);
    list_->setWordWrap(true);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setAccessibleName(tr("Exercises"));
    none_ = quiet_label({}, this);
    none_->hide();
    left->addWidget(search_);
    left->addWidget(none_);
    left->addWidget(list_, 1);
    row->addLayout(left);
    auto* page = new QVBoxLayout;
    page->setSpacing(4);
    page->addWidget(scrolled(build_page(), this), 1);
    trouble_ = text_label({}, this, 14, true);
    trouble_->setObjectName("wrong");
    trouble_->setStyleSheet(QString("color: %1; font-weight: bold").arg(theme().clay.name()));
    page->addWidget(trouble_);
    build_verbs(*page);
    row->addLayout(page, 1);
    connect(search_, &QLineEdit::textChanged, this, &ExercisesView::refill);
    connect(list_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* now) {
        if (now) show_exercise(now->data(Qt::UserRole).toString().toStdString());
    });
    connect(&yard_, &app::Yard::knowledge_changed, this, [this] {
        icons_.clear();
        if (isVisible()) {
            refill();
            fill_page();
        }
    });
}

BookLine* ExercisesView::add_line(const QString& field, bool margin, const QFont& font) {
    auto* line = new BookLine(field_words(field), margin, font, this);
    connect(line, &BookLine::written, this, [this, field](const QString& words) { write(field, words); });
    connect(line, &BookLine::left, this, &ExercisesView::fill_page);
    lines_[field] = line;
    return line;
}

/// The plate with the ladder under it on the left, what is read on the right.
QWidget* ExercisesView::build_page() {
    auto* page = new QWidget;
    auto* all = new QHBoxLayout(page);
    all->setContentsMargins(0, 0, 8, 0);
    all->setSpacing(24);
    auto* drawn = new QVBoxLayout;
    drawn->setSpacing(8);
    plate_ = new PlateView(this);
    drawn->addWidget(plate_);
    drawn->addWidget(text_label(tr("The ladder, from the foot up"), this, 14, true));
    ladder_ = new LadderView(this);
    connect(ladder_, &LadderView::rung_pressed, this, &ExercisesView::begin_rung);
    drawn->addWidget(ladder_);
    rung_ = new BookLine(tr("rung"), true, text_font(14), this);
    rung_->hide();
    connect(rung_, &BookLine::written, this, &ExercisesView::write_rung);
    connect(rung_, &BookLine::left, this, [this] { rung_->hide(); });
    drawn->addWidget(rung_);
    auto* another = new QPushButton(tr("One more rung on top"), this);
    another->setObjectName("word");
    connect(another, &QPushButton::clicked, this, [this] { begin_rung(ladder_->row_count()); });
    drawn->addWidget(another, 0, Qt::AlignLeft);
    drawn->addStretch(1);
    all->addLayout(drawn, 9);
    auto* read = new QVBoxLayout;
    read->setSpacing(2);
    build_reading(*read);
    all->addLayout(read, 10);
    return page;
}

void ExercisesView::build_reading(QVBoxLayout& page) {
    page.addWidget(add_line("name", false, heading_font(26)));
    state_ = quiet_label({}, this);
    state_->setContentsMargins(6, 0, 6, 4);
    page.addWidget(state_);
    page.addWidget(add_line("purpose", false, text_font(18)));
    page.addSpacing(6);
    page.addWidget(add_line("picture", true, heading_font(18)));
    for (const char* field :
         {"plain", "answers", "before", "people", "equipment", "not_for", "not_horse", "not_saddle",
          "not_school", "levels", "from_age", "where", "weeks", "next_clip", "caution"})
        page.addWidget(add_line(field, true, text_font(14)));
    auto* stop = new QHBoxLayout;
    stop->setContentsMargins(6, 3, 6, 3);
    stop->setSpacing(10);
    auto* when = text_label(tr("when to stop"), this, 12);
    when->setObjectName("margin");
    when->setFixedWidth(scaled_px(112));
    stop->addWidget(when, 0, Qt::AlignTop);
    stop_ = text_label({}, this, 14);
    stop->addWidget(stop_, 1);
    page.addLayout(stop);
    more_ = quiet_label({}, this);
    more_->setContentsMargins(6, 6, 6, 6);
    more_->setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
    connect(more_, &QLabel::linkActivated, this, &ExercisesView::begin);
    page.addWidget(more_);
    page.addStretch(1);
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
    back_ = verb_button(tr("Back to the plan"), "Esc", this, true);
    verbs->addWidget(back_);
    connect(back_, &QPushButton::clicked, this, &ExercisesView::closed);
    page.addLayout(verbs);
}

void ExercisesView::open() {
    if (!yard_.knowledge().exercises.find(shown_)) shown_ = yard_.knowledge().exercises.all().front().id;
    refill();
    fill_page();
    search_->setFocus();
}

void ExercisesView::resizeEvent(QResizeEvent* e) {
    QWidget::resizeEvent(e);
    const int wide = std::clamp(width() * 23 / 100, scaled_px(220), scaled_px(320));
    list_->setFixedWidth(wide);
    search_->setFixedWidth(wide);
    none_->setFixedWidth(wide);
}

/// Painted once: the list is filled anew with every letter of the search.
QIcon ExercisesView::plate_icon(const core::Exercise& e) {
    if (std::exchange(icons_dark_, theme().dark) != theme().dark) icons_.clear();
    QIcon& icon = icons_[e.id];
    if (icon.isNull()) {
        const QPixmap plate = small_plate(e, list_->iconSize(), devicePixelRatioF());
        icon.addPixmap(plate);
        icon.addPixmap(plate, QIcon::Selected);  // no wash of the desktop's over it
    }
    return icon;
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
        item->setIcon(plate_icon(e));
        item->setData(Qt::UserRole, text(e.id));
        if (e.hidden) item->setForeground(theme().quiet);
        if (e.id == shown_) list_->setCurrentItem(item);
    }
    none_->setText(tr("No exercise has “%1” in its name, its faults or its places.").arg(search_->text()));
    none_->setVisible(list_->count() == 0);
}

void ExercisesView::show_exercise(const std::string& id) {
    if (shown_ != id) {
        for (const auto& [field, line] : lines_) line->end();
        rung_->end();
        rung_->hide();
    }
    shown_ = id;
    trouble_->clear();
    fill_page();
}

void ExercisesView::fill_page() {
    const core::Exercise* e = yard_.knowledge().exercises.find(shown_);
    if (!e) return;
    const std::string own = app::own_exercise(yard_, e->id);
    const bool new_one =
        own.find("\"purpose\"") != std::string::npos && own.find("\"dose\"") != std::string::npos;
    state_->setText(e->hidden     ? tr("Hidden: offered no more; what was given of it stays.")
                    : own.empty() ? tr("As it ships. Press a line to change it; your words are kept apart.")
                    : new_one     ? tr("Your own.")
                                  : tr("Changed by you."));
    for (const auto& [field, line] : lines_) {
        const QString written = this->field(field);
        line->set_text(read(field, written), written);
        line->setVisible(line->is_writing() || says(field, written));
    }
    stop_->setText(text(core::kStopRule));
    plate_->show_plate(*e);
    ladder_->show_ladder(*e, -1, 0, false, {});
    fill_more();
    hide_->setText(e->hidden ? tr("Offer it again") : tr("Hide it"));
    ships_->setText(new_one ? tr("Take it away") : tr("As it ships"));
    ships_->setVisible(!own.empty());
}

/// What may be said and is not, in one line of words that lead there.
void ExercisesView::fill_more() {
    QStringList words;
    for (const std::string& id : core::exercise_fields()) {
        const QString field = text(id);
        if (!lines_.contains(field) || lines_[field]->is_writing() || says(field, this->field(field)))
            continue;
        words << QString("<a href=\"%1\" style=\"color:%3\">%2</a>")
                     .arg(field, field_words(field).toHtmlEscaped(), theme().ink.name());
    }
    more_->setVisible(!words.isEmpty());
    more_->setText(tr("Can be said too: ") + words.join(QString::fromUtf8(" · ")));
}

void ExercisesView::begin(const QString& field) {
    BookLine* line = lines_.at(field);
    line->show();
    line->begin();
    fill_more();
}

void ExercisesView::begin_rung(int rung) {
    const QStringList rungs = field("ladder").split('\n', Qt::SkipEmptyParts);
    writing_rung_ = rung;
    rung_->end();
    rung_->set_text({}, rung < rungs.size() ? rungs[rung] : tr("walk: a lap (2 x 3 min, 3 of 4)"));
    rung_->show();
    rung_->begin();
}

/// The ladder with one line written otherwise; a line that is emptied takes its rung away.
void ExercisesView::write_rung(const QString& words) {
    QStringList rungs = field("ladder").split('\n', Qt::SkipEmptyParts);
    const QString line = words.simplified();
    if (writing_rung_ >= rungs.size())
        rungs << line;
    else
        rungs[writing_rung_] = line;
    rungs.removeAll(QString());
    write("ladder", rungs.join('\n'));
    if (!trouble_->text().isEmpty()) return;
    rung_->end();
    rung_->hide();
}

QString ExercisesView::field(const QString& id) const {
    const core::Exercise* e = yard_.knowledge().exercises.find(shown_);
    return e ? text(core::field_text(*e, id.toStdString(), yard_.knowledge().faults)) : QString();
}

void ExercisesView::write(const QString& id, const QString& words) {
    if (words.trimmed() == field(id).trimmed()) {
        if (const auto it = lines_.find(id); it != lines_.end()) it->second->end();
        trouble_->clear();
        return fill_page();
    }
    try {
        const std::string before = app::own_exercise(yard_, shown_);
        auto patch = before.empty() ? nlohmann::ordered_json{{"id", shown_}}
                                    : core::reading::parse_in_order(before, "exercise " + shown_);
        patch.merge_patch(core::field_json(id.toStdString(), words.toStdString(), yard_.knowledge().faults));
        app::put_own_exercise(yard_, shown_, patch.dump());
        if (const auto it = lines_.find(id); it != lines_.end()) it->second->end();
        fill_page();
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
    fill_page();
    lines_["name"]->begin();
}

void ExercisesView::hide_or_show() {
    if (const core::Exercise* e = yard_.knowledge().exercises.find(shown_))
        app::hide_exercise(yard_, shown_, !e->hidden);
}

void ExercisesView::as_it_ships() {
    app::remove_own_exercise(yard_, shown_);
    if (!yard_.knowledge().exercises.find(shown_)) open();
}

void ExercisesView::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Escape) return emit closed();
    QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_exercises_view.cpp"
