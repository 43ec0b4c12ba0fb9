#include "store/work.hpp"

#include <fmt/format.h>

#include "store/statement.hpp"

namespace aspen::store {
std::vector<Work::Running> Work::running() const {
    return query(
        database_,
        "SELECT correction.rider, correction.fault, prescription.exercise, max(prescription.until) FROM "
        "correction "
        "LEFT JOIN prescription ON prescription.correction = correction.id AND prescription.withdrawn = 0 "
        "WHERE correction.focus = 1 GROUP BY correction.rider",
        kNothing, [](SQLite::Statement& s) {
            Running out;
            Reader(s) >> out.rider >> out.fault >> out.exercise >> out.until;
            return out;
        });
}

CorrectionId Work::add(const Correction& c) { return {insert(database_, c)}; }

void Work::update(const Correction& c) { change(database_, c); }

void Work::remove(CorrectionId id) {
    within([&] {
        for (const char* table : {"prescription", "correction_word"})
            run(database_, fmt::format("DELETE FROM {} WHERE correction = ?", table),
                [&](Binder& b) { b << id; });
        run(database_, "UPDATE promise SET correction = NULL WHERE correction = ?",
            [&](Binder& b) { b << id; });
        erase(database_, "correction", id);
    });
}

std::vector<Correction> Work::corrections(RiderId rider) const {
    return select<Correction>(database_, "WHERE rider = ? ORDER BY focus DESC, noticed_on, id",
                              [&](Binder& b) { b << rider; });
}

std::optional<Correction> Work::correction_like(const Correction& c) const {
    return first(select<Correction>(
        database_, "WHERE rider = ? AND horse IS ? AND fault = ? AND gait = ? AND seat = ? AND side = ?",
        [&](Binder& b) { b << c.rider << c.horse << c.fault << c.seen.gait << c.seen.seat << c.seen.side; }));
}

PrescriptionId Work::add(const Prescription& p) { return {insert(database_, p)}; }

void Work::withdraw(PrescriptionId id, bool withdrawn) {
    run(database_, "UPDATE prescription SET withdrawn = ? WHERE id = ?",
        [&](Binder& b) { b << withdrawn << id; });
}

std::vector<Prescription> Work::prescriptions(CorrectionId correction) const {
    return select<Prescription>(database_, "WHERE correction = ? AND withdrawn = 0 ORDER BY given_on, id",
                                [&](Binder& b) { b << correction; });
}

std::vector<Correction> Work::all_corrections() const {
    return select<Correction>(database_,
                              "WHERE rider IN (SELECT id FROM rider WHERE trashed = 0) ORDER BY rider, id",
                              [](Binder&) {});
}

}  // namespace aspen::store
