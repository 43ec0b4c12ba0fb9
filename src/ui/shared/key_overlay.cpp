#include "ui/shared/key_overlay.hpp"

#include <QGridLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kColumns = 4;

}  // namespace

KeyOverlay::KeyOverlay(KeyMap& keys, QWidget* parent) : QWidget(parent), keys_(keys) {
    setAccessibleName(tr("All keys"));
    setFocusPolicy(Qt::StrongFocus);
    hide();
    parent->installEventFilter(this);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(32, 20, 32, 16);
    all->setSpacing(8);
    auto* head = new QHBoxLayout;
    head->addWidget(heading_label(tr("Keys"), this, 26));
    line_ = quiet_label("", this);
    head->addWidget(line_, 1);
    auto* reset = new QPushButton(tr("As shipped"), this);
    reset->setObjectName("word");
    connect(reset, &QPushButton::clicked, &keys_, &KeyMap::reset);
    head->addWidget(reset);
    auto* leave = verb_button(tr("Close"), "F1", this);
    connect(leave, &QPushButton::clicked, this, &QWidget::hide);
    head->addWidget(leave);
    all->addLayout(head);
    auto* inside = new QWidget;
    auto* columns = new QHBoxLayout(inside);
    columns->setContentsMargins(0, 0, 0, 0);
    columns->setSpacing(20);
    std::vector<QVBoxLayout*> stacks;
    for (int i = 0; i < kColumns; ++i) {
        stacks.push_back(new QVBoxLayout);
        stacks.back()->setSpacing(0);
        columns->addLayout(stacks.back(), 1);
    }
    QString group;
    std::vector<int> filled(kColumns, 0);
    std::size_t at = 0;
    for (const QAction* a : keys_.actions()) {
        if (group != group_of(*a)) {
            group = group_of(*a);
            at = static_cast<std::size_t>(std::min_element(filled.begin(), filled.end()) - filled.begin());
            auto* title = text_label(group, inside, 14, true);
            title->setContentsMargins(8, filled[at] ? 12 : 0, 0, 2);
            stacks[at]->addWidget(title);
            filled[at] += 2;
        }
        auto* button = new QPushButton(inside);
        button->setObjectName("key");
        button->setAccessibleName(QString("%1: %2").arg(group, a->text()));
        connect(button, &QPushButton::clicked, this, [this, id = a->objectName()] { listen(id); });
        stacks[at]->addWidget(button);
        buttons_[a->objectName()] = button;
        ++filled[at];
    }
    for (QVBoxLayout* s : stacks) s->addStretch(1);
    all->addWidget(scrolled(inside, this), 1);
    connect(&keys_, &KeyMap::changed, this, &KeyOverlay::refresh);
    refresh();
}

void KeyOverlay::open() {
    setGeometry(parentWidget()->rect());
    listening_.clear();
    refresh();
    raise();
    show();
    setFocus();
}

void KeyOverlay::refresh() {
    line_->setText(tr("Everything on the bench; [find] finds it by words, riders, registers, exercises and "
                      "schools too. To "
                      "give an action another key, choose it and press that key.   Ctrl+1…0 pages · Ctrl+R "
                      "riders · Ctrl+O "
                      "add clips · Ctrl+Z Ctrl+Y back and again · F9 light, dark")
                       .replace("[find]", "Ctrl+K"));
    for (const QAction* a : keys_.actions()) {
        QStringList shown;
        for (const QKeySequence& k : a->shortcuts()) shown << k.toString(QKeySequence::NativeText);
        const QString words = listening_ == a->objectName() ? tr("press the key …")
                              : shown.isEmpty()             ? tr("no key")
                                                            : shown.join("  ");
        buttons_[a->objectName()]->setText(QString("%1   %2").arg(words, a->text()));
        buttons_[a->objectName()]->setProperty("listening", listening_ == a->objectName());
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
