#include "ui/shared/key_overlay.hpp"

#include <QCoreApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QPushButton>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kAimsWidth = 260, kKeyColumns = 2;

/// What one wants to do on the bench, and the groups of keys that do it.
struct Aim {
    const char* words;
    std::vector<const char*> groups;
};
const std::vector<Aim>& bench_aims() {
    static const std::vector<Aim> all{
        {QT_TRANSLATE_NOOP("keys", "Look at the film"),
         {QT_TRANSLATE_NOOP("keys", "Look through"), QT_TRANSLATE_NOOP("keys", "See")}},
        {QT_TRANSLATE_NOOP("keys", "Say what you see"),
         {QT_TRANSLATE_NOOP("keys", "Notes"), QT_TRANSLATE_NOOP("keys", "Findings"),
          QT_TRANSLATE_NOOP("keys", "On the frame")}},
        {QT_TRANSLATE_NOOP("keys", "Say how it is ridden"), {QT_TRANSLATE_NOOP("keys", "From here on")}},
        {QT_TRANSLATE_NOOP("keys", "Take or place the joints"),
         {QT_TRANSLATE_NOOP("keys", "Prepared"), QT_TRANSLATE_NOOP("keys", "Joints"),
          QT_TRANSLATE_NOOP("keys", "Moments")}},
        {QT_TRANSLATE_NOOP("keys", "Follow strides and what happens"),
         {QT_TRANSLATE_NOOP("keys", "Strides"), QT_TRANSLATE_NOOP("keys", "What happens")}},
        {QT_TRANSLATE_NOOP("keys", "Say whose clip it is"), {QT_TRANSLATE_NOOP("keys", "Clip")}},
        {QT_TRANSLATE_NOOP("keys", "Send it to the rider"),
         {QT_TRANSLATE_NOOP("keys", "Hand over"), QT_TRANSLATE_NOOP("keys", "Faces")}}};
    return all;
}

QString aim_words(const char* words) { return QCoreApplication::translate("keys", words); }

/// Columns that are filled one after the other, as one reads.
class KeyColumns {
  public:
    KeyColumns(QWidget* inside, int rows) : each_((rows + kKeyColumns - 1) / kKeyColumns) {
        auto* row = new QHBoxLayout(inside);
        row->setContentsMargins(0, 0, 0, 0);
        row->setSpacing(20);
        for (int i = 0; i < kKeyColumns; ++i) {
            stacks_[i] = new QVBoxLayout;
            stacks_[i]->setSpacing(0);
            row->addLayout(stacks_[i], 1);
        }
    }
    ~KeyColumns() {
        for (QVBoxLayout* s : stacks_) s->addStretch(1);
    }
    void add(QWidget* widget, bool title) {
        // A title never stands alone at a foot.
        if (filled_ + (title ? 1 : 0) >= each_ && at_ + 1 < kKeyColumns) {
            ++at_;
            filled_ = 0;
        }
        stacks_[at_]->addWidget(widget);
        ++filled_;
    }

  private:
    QVBoxLayout* stacks_[kKeyColumns] = {};
    int each_, at_ = 0, filled_ = 0;
};

}  // namespace

KeyOverlay::KeyOverlay(KeyMap& keys, PageNow page, std::function<QList<QAction*>()> anywhere, QWidget* parent)
    : QWidget(parent), keys_(keys), page_(std::move(page)), anywhere_(std::move(anywhere)) {
    setAccessibleName(tr("All keys"));
    setFocusPolicy(Qt::StrongFocus);
    hide();
    parent->installEventFilter(this);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(32, 20, 32, 16);
    all->setSpacing(12);
    build_head(*all);
    auto* middle = new QHBoxLayout;
    middle->setSpacing(32);
    aims_ = new QListWidget(this);
    aims_->setFixedWidth(scaled_px(kAimsWidth));
    aims_->setAccessibleName(tr("What one wants to do"));
    aims_->setFocusPolicy(Qt::NoFocus);  // its keys are listened to
    aims_->setWordWrap(true);
    pages_ = new QStackedWidget(this);
    middle->addWidget(aims_);
    middle->addWidget(pages_, 1);
    all->addLayout(middle, 1);
    build_aims();
    connect(aims_, &QListWidget::currentRowChanged, this, [this](int row) {
        // Where the page has nothing of its own its place in the stack is passed over.
        if (row >= 0) pages_->setCurrentIndex(row + pages_->count() - aims_->count());
        setFocus();
    });
    connect(&keys_, &KeyMap::changed, this, &KeyOverlay::refresh);
    refresh();
}

void KeyOverlay::build_head(QVBoxLayout& all) {
    auto* head = new QHBoxLayout;
    head->addWidget(heading_label(tr("What would you do?"), this, 26));
    head->addSpacing(16);
    line_ = quiet_label("", this);
    head->addWidget(line_, 1);
    auto* reset = new QPushButton(tr("As shipped"), this);
    reset->setObjectName("word");
    connect(reset, &QPushButton::clicked, &keys_, &KeyMap::reset);
    head->addWidget(reset);
    auto* leave = verb_button(tr("Close"), "F1", this);
    connect(leave, &QPushButton::clicked, this, &QWidget::hide);
    head->addWidget(leave);
    all.addLayout(head);
}

void KeyOverlay::build_aims() {
    const auto scroll = [this] {
        auto* area = scrolled(new QWidget, this);
        area->setFocusPolicy(Qt::NoFocus);
        pages_->addWidget(area);
        return area;
    };
    here_ = scroll();
    for (const Aim& aim : bench_aims()) {
        QStringList groups;
        for (const char* g : aim.groups) groups << aim_words(g);
        auto* area = scrolled(aim_page(groups), this);
        area->setFocusPolicy(Qt::NoFocus);
        pages_->addWidget(area);
    }
    everywhere_ = scroll();
}

QWidget* KeyOverlay::aim_page(const QStringList& groups) {
    auto* inside = new QWidget;
    int rows = static_cast<int>(groups.size());
    for (const QAction* a : keys_.actions()) rows += groups.contains(group_of(*a)) ? 1 : 0;
    KeyColumns columns(inside, rows);
    for (const QString& group : groups) {
        auto* title = text_label(group, inside, 14, true);
        title->setContentsMargins(8, 8, 0, 2);
        columns.add(title, true);
        for (const QAction* a : keys_.actions()) {
            if (group_of(*a) != group) continue;
            auto* button = new QPushButton(inside);
            button->setObjectName("key");
            button->setFocusPolicy(Qt::NoFocus);
            button->setAccessibleName(QString("%1: %2").arg(group, a->text()));
            connect(button, &QPushButton::clicked, this, [this, id = a->objectName()] { listen(id); });
            columns.add(button, false);
            buttons_[a->objectName()] = button;
        }
    }
    return inside;
}

/// Actions of a page, or of everywhere: a press does them.
void KeyOverlay::fill_deeds(QScrollArea& area, const QList<QAction*>& deeds) {
    auto* inside = new QWidget;
    {
        KeyColumns columns(inside, static_cast<int>(deeds.size()));
        for (QAction* a : deeds) {
            QStringList keys;
            for (const QKeySequence& k : a->shortcuts()) keys << k.toString(QKeySequence::NativeText);
            auto* button = new QPushButton(QString("%1   %2").arg(keys.join("  "), a->text()), inside);
            button->setObjectName("key");
            button->setFocusPolicy(Qt::NoFocus);
            button->setAccessibleName(a->text());
            connect(button, &QPushButton::clicked, this, [this, a] {
                hide();
                a->trigger();
            });
            columns.add(button, false);
        }
    }
    area.setWidget(inside);
}

QStringList KeyOverlay::aims() const {
    QStringList out;
    for (int i = 0; i < aims_->count(); ++i) out << aims_->item(i)->text();
    return out;
}

void KeyOverlay::open() {
    const Page page = page_();
    {
        const QSignalBlocker quiet(aims_);
        aims_->clear();
        if (!page.deeds.isEmpty()) aims_->addItem(tr("On this page: %1").arg(page.name));
        for (const Aim& aim : bench_aims()) aims_->addItem(aim_words(aim.words));
        aims_->addItem(tr("Anywhere in the program"));
    }
    fill_deeds(*here_, page.deeds);
    fill_deeds(*everywhere_, anywhere_());
    setGeometry(parentWidget()->rect());
    listening_.clear();
    refresh();
    aims_->setCurrentRow(0);
    raise();
    show();
    setFocus();
}

void KeyOverlay::refresh() {
    line_->setText(
        tr("Up and Down choose what you want to do. [find] finds anything by its words. To give a key "
           "of the bench anew, press its line, then the key.")
            .replace("[find]", "Ctrl+K"));
    for (const QAction* a : keys_.actions()) {
        QPushButton* button = buttons_.value(a->objectName());
        if (!button) continue;
        QStringList shown;
        for (const QKeySequence& k : a->shortcuts()) shown << k.toString(QKeySequence::NativeText);
        const QString words = listening_ == a->objectName() ? tr("press the key …")
                              : shown.isEmpty()             ? tr("no key")
                                                            : shown.join("  ");
        button->setText(QString("%1   %2").arg(words, a->text()));
        button->setProperty("listening", listening_ == a->objectName());
    }
}

void KeyOverlay::listen(const QString& action) {
    listening_ = action;
    refresh();
    setFocus();
}

void KeyOverlay::keyPressEvent(QKeyEvent* e) {
    if (KeyMap::is_modifier(*e)) return;
    if (!listening_.isEmpty() && e->key() != Qt::Key_F1) {
        const QString action = listening_;
        listening_.clear();
        const QString lost = keys_.rebind(action, KeyMap::sequence_of(*e));
        refresh();
        if (!lost.isEmpty())
            line_->setText(tr("“%1” has no key now; choose it to give it another.").arg(lost));
        return;
    }
    if (e->key() == Qt::Key_Escape || e->key() == Qt::Key_F1 || e->key() == Qt::Key_Question) return hide();
    if (e->key() == Qt::Key_Up || e->key() == Qt::Key_Down)
        return show_aim(
            std::clamp(aims_->currentRow() + (e->key() == Qt::Key_Down ? 1 : -1), 0, aims_->count() - 1));
    QWidget::keyPressEvent(e);
}

bool KeyOverlay::eventFilter(QObject* watched, QEvent* e) {
    if (watched == parentWidget() && e->type() == QEvent::Resize) setGeometry(parentWidget()->rect());
    return QWidget::eventFilter(watched, e);
}

void KeyOverlay::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().ground);
}

}  // namespace aspen::ui

#include "moc_key_overlay.cpp"
