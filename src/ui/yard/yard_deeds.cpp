#include <QKeyEvent>
#include <QMenu>
#include <algorithm>

#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "ui/shared/key_map.hpp"
#include "ui/shared/view_keys.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/shared/word_line.hpp"
#include "ui/yard/delegates.hpp"
#include "ui/yard/yard_view.hpp"

/// What a key or a word does to a ride in the list, and the records' menu.
namespace aspen::ui {

void YardView::build_deeds() {
    const auto deed = [this](const QString& id, const QString& words, std::function<void(int)> act) {
        auto* a = new QAction(words, this);
        a->setObjectName(id);
        a->setShortcuts(
            view_keys(id));  // for the list only, which hands its keys on: a letter in a field stays one
        set_group(*a, tr("Ride"));
        connect(a, &QAction::triggered, this,
                [this, act = std::move(act)] { act(rides_->currentIndex().row()); });
        deeds_ << a;
    };
    deed("open_ride", tr("Open the review"), [this](int row) { open_row(row); });
    deed("take_proposed", tr("Take what is proposed"), [this](int row) { say_yes(row); });
    deed("join_rides", tr("Join with the ride above"), [this](int row) { join(row); });
    deed("split_ride", tr("Take the ride apart"), [this](int row) { split(row); });
    deed("promise", tr("Promise an answer for tomorrow"), [this](int row) { promise(row, false); });
    deed("unpromise", tr("Take the promise back"), [this](int row) { promise(row, true); });
    deed("trash_ride", tr("Put the ride in the trash"), [this](int row) { trash(row); });
    deed("set_clock", tr("Set the camera's clock right"), [this](int row) { set_clock(row); });
    deed("edit_horse", tr("Edit a horse's card"), [this](int) { choose_horse(); });
    deed("search", tr("Search the yard"), [this](int) {
        search_->setFocus();
        search_->selectAll();
    });
}

QAction* YardView::deed(const QString& id) const {
    for (QAction* a : deeds_) {
        if (a->objectName() == id) return a;
    }
    return nullptr;
}

bool YardView::take_key(const QKeyEvent& e) {
    if (KeyMap::is_modifier(e)) return false;
    for (QAction* a : deeds_) {
        if (a->parent() != this || !a->shortcuts().contains(KeyMap::sequence_of(e))) continue;
        a->trigger();
        return true;
    }
    if (e.modifiers() & ~Qt::KeypadModifier || e.key() < Qt::Key_1 || e.key() > Qt::Key_9) return false;
    assign(rides_->currentIndex().row(), e.key() - Qt::Key_0);
    return true;
}

void YardView::open_row(int row, store::ClipId clip) {
    if (const store::HorseId horse = model_.horse_at(row)) return edit_horse(horse);
    if (const auto ride = model_.ride_at(row)) {
        const auto clips = yard_.records().rides.clips_of(*ride);
        if (!clip && !clips.empty()) clip = clips.front().id;
        if (clip) return emit open_clip(clip);
    }
    const store::RiderId rider = model_.rider_at(row);
    if (!rider) return;
    const auto kind = model_.data(model_.index(row), app::RidesModel::kind_role).toInt();
    if (kind == static_cast<int>(app::RidesModel::Kind::due_rider)) return show_asking(rider);
    emit open_rider(rider);
}

/// A digit on a ride: this rider rides. The next ride gets the keys, so that forty go one after the other.
void YardView::assign(int row, int number) {
    const store::RiderId rider = rider_model_.rider_at(number - 1);
    const auto ride = model_.ride_at(row);
    if (!rider) return emit say(tr("There is no rider %1.").arg(number));
    if (!ride) return;
    kept_ = model_.ride_at(row + 1).value_or(*ride);
    const store::RideId now = app::say_rider(yard_, *ride, rider);
    const QString name = text(yard_.records().people.rider(rider)->name);
    emit say(now == *ride
                 ? name + tr(" rides in it; [undo] takes it back.")
                 : name + tr(" rides in it; it is part of the ride of that day now. [undo] takes it back."));
}

void YardView::join(int row) {
    const auto ride = model_.ride_at(row), above = model_.ride_at(row - 1);
    if (!ride || !above) return emit say(tr("There is no ride above to join with."));
    const auto a = yard_.records().rides.ride(*ride), b = yard_.records().rides.ride(*above);
    if (a->rider && b->rider && a->rider != b->rider)
        return emit say(tr("Two different riders: their rides stay apart."));
    if (a->horse && b->horse && a->horse != b->horse)
        return emit say(tr("Two different horses: their rides stay apart."));
    kept_ = *above;
    app::join_rides(yard_, *ride, *above);
    emit say(tr("One ride now; S takes it apart, [undo] takes it back."));
}

void YardView::say_yes(int row) {
    const auto ride = model_.ride_at(row);
    const app::RideProposal proposal = model_.proposal_at(row);
    if (!ride || proposal.empty()) return emit say(tr("Nothing is proposed for this ride."));
    kept_ = model_.ride_at(row + 1).value_or(*ride);
    app::accept_proposal(yard_, *ride, proposal);
    emit say(tr("Taken as proposed; [undo] takes it back."));
}

void YardView::split(int row) {
    const auto ride = model_.ride_at(row);
    if (!ride) return;
    if (yard_.records().rides.clips_of(*ride).size() < 2) return emit say(tr("It is one clip already."));
    kept_ = *ride;
    app::split_ride(yard_, *ride);
    emit say(tr("Every clip is a ride of its own now; J joins them again."));
}

void YardView::promise(int row, bool take_back) {
    const auto ride = model_.ride_at(row);
    if (!ride) return;
    const auto now = yard_.records().rides.ride(*ride);
    const QDate before = QDate::fromString(text(now->promised), Qt::ISODate);
    const QDate day = take_back ? QDate() : before.isValid() ? before.addDays(1) : yard_.today().addDays(1);
    kept_ = *ride;
    app::promise(yard_, *ride, day.isValid() ? day.toString(Qt::ISODate).toStdString() : std::string());
    emit say(day.isValid() ? tr("Promised for ") + spoken_date(day.toString(Qt::ISODate)) +
                                 tr("; P again a day later, Shift+P not at all.")
                           : tr("No day is promised any more."));
}

void YardView::trash(int row) {
    const auto ride = model_.ride_at(row);
    if (!ride) return;
    kept_ = model_.ride_at(row + 1).value_or(store::RideId{});
    app::trash_ride(yard_, *ride);
    emit say(tr("In the trash; [undo] brings it back."));
}

void YardView::choose_horse() {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const store::Horse& h : yard_.records().people.horses())
        connect(menu->addAction(text(h.name)), &QAction::triggered, this,
                [this, id = h.id] { edit_horse(id); });
    if (menu->isEmpty()) menu->addAction(tr("no horse yet"))->setEnabled(false);
    give_keys(*menu);
    menu->popup(rider_hint_->mapToGlobal(QPoint(0, -menu->sizeHint().height())));
}

/// Seconds out of "90", "-3600" or "1:00:00".
std::optional<int> seconds_said(const QString& words) {
    const bool minus = words.startsWith('-');
    const QStringList parts = words.mid(minus ? 1 : 0).split(':');
    if (parts.size() > 3) return std::nullopt;
    int seconds = 0;
    for (const QString& part : parts) {
        bool number = false;
        seconds = 60 * seconds + part.trimmed().toInt(&number);
        if (!number || part.trimmed().startsWith('-')) return std::nullopt;
    }
    return minus ? -seconds : seconds;
}

/// One camera's clock, for all clips that came in together with this ride's first.
void YardView::set_clock(int row) {
    const auto ride = model_.ride_at(row);
    const auto clips = ride ? yard_.records().rides.clips_of(*ride) : std::vector<store::Clip>();
    if (clips.empty()) return;
    const store::Clip first = clips.front();
    int together = 1;
    for (const store::Clip& c : yard_.records().rides.clips())
        together += c.id != first.id && first.batch != 0 && c.batch == first.batch;
    line_->ask(
        together == 1
            ? tr("By how much was the camera's clock late?")
            : tr("By how much was the camera's clock late? %1 clips came in together").arg(together),
        {},
        [this, first](const QString& words) {
            const auto late = seconds_said(words);
            if (!late || std::abs(*late) > 366 * 86400)
                return emit say(tr("\"%1\" is no time: write seconds, or h:mm:ss; with a minus where it "
                                   "was early.")
                                    .arg(words));
            app::set_clock(yard_, first.id, *late);
            emit say(tr("The clock is set right for all that came in together; [undo] takes it back."));
        },
        first.clock_off_s ? QString::number(first.clock_off_s) : QString());
}

void YardView::show_ride_menu(const QPoint& at) {
    const QModelIndex i = rides_->indexAt(at);
    if (!model_.ride_at(i.row())) return;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction(deed("open_ride"));
    auto* who = menu->addMenu(tr("Who rides"));
    for (int r = 0; r < rider_model_.rowCount(); ++r) {
        const QString name = rider_model_.index(r).data().toString();
        connect(who->addAction(r < 9 ? QString("%1\t%2").arg(name).arg(r + 1) : name), &QAction::triggered,
                this, [this, r] { assign(rides_->currentIndex().row(), r + 1); });
    }
    for (const char* id :
         {"take_proposed", "join_rides", "split_ride", "promise", "unpromise", "set_clock", "trash_ride"})
        menu->addAction(deed(id));
    menu->popup(rides_->viewport()->mapToGlobal(at));
}

void YardView::fill_yard_menu(QMenu& menu) {
    menu.clear();
    connect(menu.addAction(tr("Outbox")), &QAction::triggered, this, [this] { show_asking({}); });
    connect(menu.addAction(tr("Back up the records …")), &QAction::triggered, this, &YardView::wants_backup);
    connect(menu.addAction(tr("Restore a backup …")), &QAction::triggered, this, &YardView::wants_restore);
    fill_merge(*menu.addMenu(tr("Two that are one")));
    fill_trash(*menu.addMenu(tr("Trash")));
    auto* steps = menu.addMenu(tr("What was done"));
    const QStringList all = yard_.steps().taken();
    for (int i = static_cast<int>(all.size()) - 1; i >= std::max(0, static_cast<int>(all.size()) - 20); --i)
        steps->addAction(all[i])->setEnabled(false);
    if (steps->isEmpty()) steps->addAction(tr("nothing yet"))->setEnabled(false);
}

/// "Ines" and "Ines Varga-Holt": the first one chosen becomes the second.
void YardView::fill_merge(QMenu& menu) {
    const auto riders = yard_.records().people.riders();
    for (const store::Rider& from : riders) {
        auto* one = menu.addMenu(text(from.name) + tr(" is"));
        for (const store::Rider& into : riders) {
            if (into.id == from.id) continue;
            connect(one->addAction(text(into.name)), &QAction::triggered, this, [this, from, into] {
                app::merge_riders(yard_, from.id, into.id);
                emit say(text(from.name) + tr(" is ") + text(into.name) + tr(" now; [undo] takes it back."));
            });
        }
    }
    menu.addSeparator();
    const auto horses = yard_.records().people.horses();
    for (const store::Horse& from : horses) {
        auto* one = menu.addMenu(text(from.name) + tr(" is"));
        for (const store::Horse& into : horses) {
            if (into.id == from.id) continue;
            connect(one->addAction(text(into.name)), &QAction::triggered, this, [this, from, into] {
                app::merge_horses(yard_, from.id, into.id);
                emit say(text(from.name) + tr(" is ") + text(into.name) + tr(" now; [undo] takes it back."));
            });
        }
    }
    if (menu.isEmpty()) menu.addAction(tr("nobody is there twice"))->setEnabled(false);
}

void YardView::fill_trash(QMenu& menu) {
    const auto entry = [&](const QString& words, const std::function<void()>& back, const QString& goes,
                           const std::function<void()>& for_good) {
        auto* one = menu.addMenu(words);
        connect(one->addAction(tr("Put back")), &QAction::triggered, this, back);
        if (!for_good) return;
        // Asked once, in place: the question says what goes.
        auto* sure = one->addMenu(tr("Delete for good"));
        sure->addAction(goes)->setEnabled(false);
        connect(sure->addAction(tr("Delete it; this cannot be taken back")), &QAction::triggered, this,
                for_good);
    };
    for (const store::Clip& c : yard_.records().rides.trashed_clips()) {
        QString whose = tr("nobody yet");
        for (const store::Slot& s : yard_.records().rides.places(c.id)) {
            const auto ride = yard_.records().rides.ride(s.ride);
            const auto rider = ride ? yard_.records().people.rider(ride->rider) : std::nullopt;
            if (rider) whose = text(rider->name);
        }
        entry(
            tr("Clip of %1, %2").arg(whose, spoken_date(text(c.day()))),
            [this, id = c.id] { app::put_back(yard_, id); },
            tr("With it go ") + app::what_goes_with(yard_, c.id),
            [this, id = c.id] { app::delete_for_good(yard_, id); });
    }
    for (const store::Rider& r : yard_.records().people.trashed_riders()) {
        entry(
            text(r.name), [this, id = r.id] { app::put_back(yard_, id); },
            tr("With it go ") + app::what_goes_with(yard_, r.id),
            [this, id = r.id] { app::delete_for_good(yard_, id); });
    }
    for (const store::Moment& m : yard_.records().reviews.trashed_moments()) {
        entry(tr("Moment at frame %1").arg(m.frame),
              [this, m] {
                  if (!app::put_back(yard_, m))
                      emit say(tr("Frame %1 has another moment now; take that away first.").arg(m.frame));
              },
              {}, {});
    }
    if (menu.isEmpty()) menu.addAction(tr("nothing in it"))->setEnabled(false);
}

}  // namespace aspen::ui
