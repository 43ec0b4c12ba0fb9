#include "store/leaving.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "store/statement.hpp"

namespace aspen::store {
ConsentId Leaving::add(const Consent& c) { return {insert(database_, c)}; }

void Leaving::update(const Consent& c) { change(database_, c); }

std::vector<Consent> Leaving::consents_of(RiderId rider) const {
    return select<Consent>(database_, "WHERE rider = ? ORDER BY given_on, id",
                           [&](Binder& b) { b << rider; });
}

DepartureId Leaving::add(const Departure& d) { return {insert(database_, d)}; }

std::optional<Consent> newest_word(const std::vector<Consent>& consents, std::string_view use) {
    const Consent* out = nullptr;
    const auto said = [](const Consent& c) { return std::pair(std::max(c.given_on, c.withdrawn_on), c.id); };
    for (const Consent& c : consents) {
        if (c.use == use && (!out || said(*out) < said(c))) out = &c;
    }
    return out ? std::optional(*out) : std::nullopt;
}

std::vector<Departure> Leaving::departures(RiderId rider, int most) const {
    return select<Departure>(database_, "WHERE ?1 IS NULL OR rider = ?1 ORDER BY at DESC, id DESC LIMIT ?2",
                             [&](Binder& b) { b << rider << most; });
}

SpokenId Leaving::add(const Spoken& s) { return {insert(database_, s)}; }

void Leaving::update(const Spoken& s) { change(database_, s); }

void Leaving::remove(SpokenId id) { erase(database_, "spoken", id); }

std::optional<Spoken> Leaving::spoken(SpokenId id) const {
    return first(select<Spoken>(database_, "WHERE id = ?", [&](Binder& b) { b << id; }));
}

std::vector<Spoken> Leaving::spoken_over(ClipId clip) const {
    return select<Spoken>(database_, "WHERE clip = ? ORDER BY made_at DESC, id DESC",
                          [&](Binder& b) { b << clip; });
}

FaceMarkId Leaving::put(const FaceMark& mark) {
    FaceMarkId id;
    within([&] {
        run(database_, "DELETE FROM face_mark WHERE clip = ? AND person = ? AND frame = ?",
            [&](Binder& b) { b << mark.clip << mark.person << mark.frame; });
        id = {insert(database_, mark)};
    });
    return id;
}

void Leaving::remove(FaceMarkId id) { erase(database_, "face_mark", id); }

std::vector<FaceMark> Leaving::face_marks(ClipId clip) const {
    return select<FaceMark>(database_, "WHERE clip = ? ORDER BY person, frame",
                            [&](Binder& b) { b << clip; });
}

ParcelId Leaving::add(const Parcel& p) { return {insert(database_, p)}; }

std::vector<Parcel> Leaving::parcels_of(RideId ride) const {
    return select<Parcel>(database_, "WHERE ride = ? ORDER BY at, id", [&](Binder& b) { b << ride; });
}

bool Leaving::parcel_known(const std::string& sha256) const {
    return !select<Parcel>(database_, "WHERE sha256 = ? LIMIT 1", [&](Binder& b) { b << sha256; }).empty();
}

}  // namespace aspen::store
