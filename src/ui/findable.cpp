#include "ui/findable.hpp"

#include "ui/shared/widgets.hpp"

namespace aspen::ui {

Findable::Findable(app::Yard& yard, Views& views, QObject* parent)
    : QObject(parent), yard_(yard), views_(views) {}

void Findable::add(const QString& words, const QString& group, std::function<void()> act) {
    auto* a = new QAction(words, holder_.get());
    set_group(*a, group);
    // What it does may ask for a new list, which takes this one away.
    connect(a, &QAction::triggered, this, std::move(act), Qt::QueuedConnection);
    made_ << a;
}

QList<QAction*> Findable::all() {
    made_.clear();
    holder_ = std::make_unique<QObject>();
    riders();
    shelf();
    return made_;
}

void Findable::riders() {
    add(tr("Outbox"), tr("Register"), [this] { views_.show_outbox(); });
    for (const store::Rider& r : yard_.records().people.riders()) {
        const QString name = text(r.name);
        add(name, tr("Rider"), [this, id = r.id] { views_.choose_rider(id); });
        add(tr("Consents of %1").arg(name), tr("Register"), [this, id = r.id] { views_.show_consents(id); });
    }
}

void Findable::shelf() {
    for (const core::Exercise& e : yard_.knowledge().exercises.all())
        add(text(e.name), tr("Exercise"), [this, id = e.id] { views_.show_exercise(id); });
    for (const core::School& s : yard_.knowledge().schools.all())
        add(text(s.name), tr("School"), [this, id = s.id] { views_.show_school(id); });
}

}  // namespace aspen::ui

#include "moc_findable.cpp"
