#include "ui/shared/view_actions.hpp"

#include "ui/shared/key_map.hpp"
#include "ui/shared/view_keys.hpp"

namespace aspen::ui {

void ViewActions::add(const QString& id, const QString& words, std::function<void()> act) {
    auto* a = new QAction(words, &owner_);
    a->setObjectName(id);
    a->setShortcuts(view_keys(id));
    set_group(*a, group_);
    QObject::connect(a, &QAction::triggered, &owner_, [act = std::move(act)] { act(); });
    all_ << a;
}

QAction* ViewActions::find(const QString& id) const {
    for (QAction* a : all_) {
        if (a->objectName() == id) return a;
    }
    return nullptr;
}

bool ViewActions::take(const QKeyEvent& e) const {
    for (QAction* a : all_) {
        if (!a->shortcuts().contains(KeyMap::sequence_of(e))) continue;
        a->trigger();
        return true;
    }
    return false;
}

}  // namespace aspen::ui
