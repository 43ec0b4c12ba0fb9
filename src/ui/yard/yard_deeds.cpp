#include <QKeyEvent>
#include <QMenu>
#include <algorithm>

#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/yard/delegates.hpp"
#include "ui/yard/yard_view.hpp"

/// What a key or a word does to a ride in the list, and the records' menu.
namespace aspen::ui {

bool YardView::take_key(const QKeyEvent& e) {
    const int row = rides_->currentIndex().row();
    if (e.modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) return false;
    switch (e.key()) {
        case Qt::Key_Return:
        case Qt::Key_Enter:
        case Qt::Key_Space:
            open_row(row);
            return true;
        case Qt::Key_Delete:
            trash(row);
            return true;
        case Qt::Key_J:
            join(row);
            return true;
        case Qt::Key_S:
            split(row);
            return true;
        case Qt::Key_Y:
            say_yes(row);
            return true;
        case Qt::Key_P:
            promise(row, e.modifiers() & Qt::ShiftModifier);
            return true;
        case Qt::Key_Slash:
            search_->setFocus();
            search_->selectAll();
            return true;
        default:
            break;
    }
    if (e.key() < Qt::Key_1 || e.key() > Qt::Key_9) return false;
    assign(row, e.key() - Qt::Key_0);
    return true;
}

void YardView::act_on(char deed) {
    const int row = rides_->currentIndex().row();
    if (deed == 'o') open_row(row);
    if (deed == 'j') join(row);
    if (deed == 's') split(row);
    if (deed == 'y') say_yes(row);
    if (deed == 'p') promise(row, false);
    if (deed == 'd') trash(row);
}

void YardView::open_row(int row, store::ClipId clip) {
    if (const auto ride = model_.ride_at(row)) {
        const auto clips = yard_.records().clips_of(*ride);
        if (!clip && !clips.empty()) clip = clips.front().id;
        if (clip) return emit open_clip(clip);
    }
    if (const store::RiderId rider = model_.rider_at(row)) emit open_rider(rider);
}

/// A digit on a ride: this rider rides. The next ride gets the keys, so that forty go one after the other.
void YardView::assign(int row, int number) {
    const store::RiderId rider = rider_model_.rider_at(number - 1);
    const auto ride = model_.ride_at(row);
    if (!rider) return emit say(QString("There is no rider %1.").arg(number));
    if (!ride) return;
    kept_ = model_.ride_at(row + 1).value_or(*ride);
    const store::RideId now = app::say_rider(yard_, *ride, rider);
    const QString name = text(yard_.records().rider(rider)->name);
    emit say(now == *ride
                 ? name + " rides in it; Ctrl+Z takes it back."
                 : name + " rides in it; it is part of the ride of that day now. Ctrl+Z takes it back.");
}

void YardView::join(int row) {
    const auto ride = model_.ride_at(row), above = model_.ride_at(row - 1);
    if (!ride || !above) return emit say("There is no ride above to join with.");
    const auto a = yard_.records().ride(*ride), b = yard_.records().ride(*above);
    if (a->rider && b->rider && a->rider != b->rider)
        return emit say("Two different riders: their rides stay apart.");
    if (a->horse && b->horse && a->horse != b->horse)
        return emit say("Two different horses: their rides stay apart.");
    kept_ = *above;
    app::join_rides(yard_, *ride, *above);
    emit say("One ride now; S takes it apart, Ctrl+Z takes it back.");
}

void YardView::say_yes(int row) {
    const auto ride = model_.ride_at(row);
    const app::RideProposal proposal = model_.proposal_at(row);
    if (!ride || proposal.empty()) return emit say("Nothing is proposed for this ride.");
    kept_ = model_.ride_at(row + 1).value_or(*ride);
    app::accept_proposal(yard_, *ride, proposal);
    emit say("Taken as proposed; Ctrl+Z takes it back.");
}

void YardView::split(int row) {
    const auto ride = model_.ride_at(row);
    if (!ride) return;
    if (yard_.records().clips_of(*ride).size() < 2) return emit say("It is one clip already.");
    kept_ = *ride;
    app::split_ride(yard_, *ride);
    emit say("Every clip is a ride of its own now; J joins them again.");
}

void YardView::promise(int row, bool take_back) {
    const auto ride = model_.ride_at(row);
    if (!ride) return;
    const auto now = yard_.records().ride(*ride);
    const QDate before = QDate::fromString(text(now->promised), Qt::ISODate);
    const QDate day = take_back ? QDate() : before.isValid() ? before.addDays(1) : yard_.today().addDays(1);
    kept_ = *ride;
    app::promise(yard_, *ride, day.isValid() ? day.toString(Qt::ISODate).toStdString() : std::string());
    emit say(day.isValid() ? "Promised for " + spoken_date(day.toString(Qt::ISODate)) +
                                 "; P again a day later, Shift+P not at all."
                           : "No day is promised any more.");
}

void YardView::trash(int row) {
    const auto ride = model_.ride_at(row);
    if (!ride) return;
    kept_ = model_.ride_at(row + 1).value_or(store::RideId{});
    app::trash_ride(yard_, *ride);
    emit say("In the trash; Ctrl+Z brings it back.");
}

void YardView::show_ride_menu(const QPoint& at) {
    const QModelIndex i = rides_->indexAt(at);
    if (!model_.ride_at(i.row())) return;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const auto& [words, deed] : {std::pair{"Open the review\tEnter", 'o'},
                                      {"Join with the ride above\tJ", 'j'},
                                      {"Take apart\tS", 's'},
                                      {"Promise for tomorrow\tP", 'p'},
                                      {"Put in the trash\tDel", 'd'}}) {
        connect(menu->addAction(words), &QAction::triggered, this, [this, d = deed] { act_on(d); });
    }
    menu->popup(rides_->viewport()->mapToGlobal(at));
}

void YardView::fill_yard_menu(QMenu& menu) {
    menu.clear();
    connect(menu.addAction("Back up the records …"), &QAction::triggered, this, &YardView::wants_backup);
    connect(menu.addAction("Restore a backup …"), &QAction::triggered, this, &YardView::wants_restore);
    fill_merge(*menu.addMenu("Two that are one"));
    fill_trash(*menu.addMenu("Trash"));
    auto* steps = menu.addMenu("What was done");
    const QStringList all = yard_.steps();
    for (int i = static_cast<int>(all.size()) - 1; i >= std::max(0, static_cast<int>(all.size()) - 20); --i)
        steps->addAction(all[i])->setEnabled(false);
    if (steps->isEmpty()) steps->addAction("nothing yet")->setEnabled(false);
}

/// "Ines" and "Ines Varga-Holt": the first one chosen becomes the second.
void YardView::fill_merge(QMenu& menu) {
    const auto riders = yard_.records().riders();
    for (const store::Rider& from : riders) {
        auto* one = menu.addMenu(text(from.name) + " is");
        for (const store::Rider& into : riders) {
            if (into.id == from.id) continue;
            connect(one->addAction(text(into.name)), &QAction::triggered, this, [this, from, into] {
                app::merge_riders(yard_, from.id, into.id);
                emit say(text(from.name) + " is " + text(into.name) + " now; Ctrl+Z takes it back.");
            });
        }
    }
    menu.addSeparator();
    const auto horses = yard_.records().horses();
    for (const store::Horse& from : horses) {
        auto* one = menu.addMenu(text(from.name) + " is");
        for (const store::Horse& into : horses) {
            if (into.id == from.id) continue;
            connect(one->addAction(text(into.name)), &QAction::triggered, this, [this, from, into] {
                app::merge_horses(yard_, from.id, into.id);
                emit say(text(from.name) + " is " + text(into.name) + " now; Ctrl+Z takes it back.");
            });
        }
    }
    if (menu.isEmpty()) menu.addAction("nobody is there twice")->setEnabled(false);
}

void YardView::fill_trash(QMenu& menu) {
    const auto entry = [&](const QString& words, const std::function<void()>& back, const QString& goes,
                           const std::function<void()>& for_good) {
        auto* one = menu.addMenu(words);
        connect(one->addAction("Put back"), &QAction::triggered, this, back);
        if (!for_good) return;
        // Asked once, in place: the question says what goes.
        auto* sure = one->addMenu("Delete for good");
        sure->addAction(goes)->setEnabled(false);
        connect(sure->addAction("Delete it; this cannot be taken back"), &QAction::triggered, this, for_good);
    };
    for (const store::Clip& c : yard_.records().trashed_clips()) {
        QString whose = "nobody yet";
        for (const store::Slot& s : yard_.records().places(c.id)) {
            const auto ride = yard_.records().ride(s.ride);
            const auto rider = ride ? yard_.records().rider(ride->rider) : std::nullopt;
            if (rider) whose = text(rider->name);
        }
        entry(
            QString("Clip of %1, %2").arg(whose, spoken_date(text(c.day()))),
            [this, id = c.id] { app::put_back(yard_, id); }, "With it go " + app::what_goes_with(yard_, c.id),
            [this, id = c.id] { app::delete_for_good(yard_, id); });
    }
    for (const store::Rider& r : yard_.records().trashed_riders()) {
        entry(
            text(r.name), [this, id = r.id] { app::put_back(yard_, id); },
            "With it go " + app::what_goes_with(yard_, r.id),
            [this, id = r.id] { app::delete_for_good(yard_, id); });
    }
    for (const store::Moment& m : yard_.records().trashed_moments()) {
        entry(
            QString("Moment at frame %1").arg(m.frame),
            [this, m] {
                if (!app::put_back(yard_, m))
                    emit say(QString("Frame %1 has another moment now; take that away first.").arg(m.frame));
            },
            {}, {});
    }
    if (menu.isEmpty()) menu.addAction("nothing in it")->setEnabled(false);
}

}  // namespace aspen::ui
