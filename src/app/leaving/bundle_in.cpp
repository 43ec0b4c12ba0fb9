#include "app/leaving/bundle_in.hpp"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <algorithm>
#include <filesystem>
#include <fstream>

#include "app/files/private_folder.hpp"
#include "app/leaving/film_plan.hpp"
#include "app/leaving/ride_json.hpp"
#include "core/reading/json_reading.hpp"
#include "core/reading/refused.hpp"
#include "exchange/coco.hpp"
#include "exchange/events.hpp"
#include "media/reading/read_watch.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {

/// Of one who rides in a clip, as the bundle has it.
struct ClipInBundle {
    nlohmann::json facts;
    exchange::BundleEntry film;
    int place = 0;
    core::Stretches stretches;
    std::vector<exchange::MarkedMoment> marks;
    std::vector<exchange::EventRow> events;
};
struct RideInBundle {
    nlohmann::json facts;
    std::string said;  ///< JSON; "" where nothing was
    std::vector<ClipInBundle> clips;
};

namespace {

using nlohmann::json;

constexpr const char* kUnpackedFolder = ".bundle-XXXXXX";

bool is_ride(const std::string& name) {
    return name.starts_with("ride-") && name.ends_with(".json") && std::ranges::count(name, '-') == 1 &&
           std::ranges::count(name, '.') == 1;
}

/// Reads what was unpacked; only what the manifest names is ever opened, its sums were checked on the way.
class Reading {
  public:
    Reading(const exchange::Manifest& manifest, QDir from, const core::FigureErrors& errors, Job& job)
        : manifest_(manifest), from_(std::move(from)), errors_(errors), job_(job) {}

    RideInBundle ride(const std::string& name) {
        if (job_.stopped()) throw media::ReadCancelled{};
        RideInBundle out;
        out.facts = read(name + ".json");
        if (named(name + ".said.json")) out.said = read(name + ".said.json").dump();
        for (const json& c : out.facts.at("clips")) out.clips.push_back(clip(c));
        return out;
    }

  private:
    bool named(const std::string& name) const {
        return std::ranges::any_of(manifest_.files,
                                   [&](const exchange::BundleEntry& e) { return e.name == name; });
    }
    const exchange::BundleEntry& entry(const std::string& name) const {
        const auto it = std::ranges::find(manifest_.files, name, &exchange::BundleEntry::name);
        if (it == manifest_.files.end())
            throw core::Refused("bundle: \"" + name + "\" is named in it and missing; ask the sender");
        return *it;
    }
    std::string file(const std::string& name) const {
        return from_.filePath(QString::fromStdString(entry(name).name)).toStdString();
    }
    json read(const std::string& name) const {
        std::ifstream in(file(name), std::ios::binary);
        return core::reading::parse(in, "bundle: " + name);
    }

    ClipInBundle clip(const json& facts) {
        ClipInBundle out;
        out.facts = facts;
        const auto name = facts.at("media").get<std::string>();
        out.film = entry(name);
        media::check_opens(file(name), &job_.stopped());
        out.place = std::clamp(facts.value("place", 0), 0, kMostPlaces - 1);
        for (const json& s : facts.at("stretches")) out.stretches.push_back(stretch_from(s));
        const bool rising =
            std::ranges::adjacent_find(out.stretches, [](const core::Stretch& a, const core::Stretch& b) {
                return a.first >= b.first;
            }) == out.stretches.end();
        if (out.stretches.empty() || out.stretches.front().first != 0 || !rising) out.stretches.clear();
        const int frames = std::max(0, facts.value("frames", 0));
        if (const auto marks = facts.find("marks"); marks != facts.end()) {
            std::ifstream in(file(marks->get<std::string>()));
            out.marks = exchange::read_coco(in, "bundle: " + marks->get<std::string>(), errors_);
        }
        for (const exchange::MarkedMoment& m : out.marks) {
            if (m.frame < 0 || (frames > 0 && m.frame >= frames))
                throw core::Refused(
                    "bundle: a marked moment lies outside its clip; ask the sender for a new one");
        }
        if (const auto events = facts.find("events"); events != facts.end()) {
            std::ifstream in(file(events->get<std::string>()));
            out.events = exchange::read_events(in, "bundle: " + events->get<std::string>());
        }
        return out;
    }

    static constexpr int kMostPlaces = 8;
    const exchange::Manifest& manifest_;
    QDir from_;
    const core::FigureErrors& errors_;
    Job& job_;
};

/// Takes rides into the records; within a transaction.
class Taking {
  public:
    Taking(Yard& yard, store::YardStore& records, const exchange::Manifest& manifest, QDir from,
           TakenBundle& taken, std::vector<QString>& moved)
        : yard_(yard),
          records_(records),
          manifest_(manifest),
          from_(std::move(from)),
          taken_(taken),
          moved_(moved) {}

    void ride(const RideInBundle& read) {
        if (all_known(read)) {
            ++taken_.known;
            return;
        }
        const store::Ride ride = take_ride(yard_, records_, read.facts);
        for (const ClipInBundle& c : read.clips) clip(c, ride);
        store::Parcel parcel;
        parcel.at = now_iso(yard_);
        parcel.sender = manifest_.sender;
        parcel.sha256 = manifest_.sha256;
        parcel.ride = ride.id;
        parcel.words = read.said.empty() ? "{}" : read.said;
        records_.add(parcel);
        ++taken_.rides;
    }

  private:
    /// All its films are here already with that rider in them: it came in before, or is our own.
    bool all_known(const RideInBundle& read) {
        const std::string who = rider_in(read.facts);
        return !read.clips.empty() && std::ranges::all_of(read.clips, [&](const ClipInBundle& c) {
            const auto there = records_.rides.clip_with_hash(c.film.sha256);
            return there &&
                   (who.empty() || std::ranges::any_of(records_.rides.places(there->id), [&](auto& s) {
                        const auto ride = records_.rides.ride(s.ride);
                        const auto rider = ride ? records_.people.rider(ride->rider) : std::nullopt;
                        return rider && same_name(rider->name, who);
                    }));
        });
    }

    store::Clip keep_film(const ClipInBundle& read, const store::Ride& ride) {
        const QString film = from_.filePath(QString::fromStdString(read.film.name));
        store::Clip c;
        c.hash = read.film.sha256;
        const QString to =
            "clips/" + QString::fromStdString(c.hash.substr(0, 16)) + "." + QFileInfo(film).suffix();
        make_private_folder(yard_.folder().filePath("clips"));
        // In one step, over what a taking in that was killed may have left under that name.
        std::error_code error;
        std::filesystem::rename(film.toStdString(), yard_.folder().filePath(to).toStdString(), error);
        if (error)
            throw core::Refused(to.toStdString() + ": cannot be kept in the yard's folder; make room there");
        moved_.push_back(yard_.folder().filePath(to));
        c.path = to.toStdString();
        c.bytes = QFileInfo(yard_.folder().filePath(to)).size();
        c.recorded_at = read.facts.value("recorded_at", ride.day);
        c.told_by = store::ToldBy::coach;
        c.added_on = yard_.today_iso();
        c.duration_s = std::max(0.0, read.facts.value("duration_s", 0.0));
        c.frames = std::max(0, read.facts.value("frames", 0));
        c.capture.filmed_fps = std::max(0.0, read.facts.value("filmed_fps", 0.0));
        c.id = records_.add(c);
        if (!read.stretches.empty()) records_.rides.put_stretches(c.id, read.stretches);
        ++taken_.clips;
        return c;
    }

    /// The place it had with the sender, or the next that is free.
    int free_place(store::ClipId clip, int wanted) {
        const auto places = records_.rides.places(clip);
        const auto taken = [&](int n) {
            return std::ranges::any_of(places, [&](const store::Slot& s) { return s.slot == n; });
        };
        while (taken(wanted)) ++wanted;
        return wanted;
    }

    void clip(const ClipInBundle& read, const store::Ride& ride) {
        const auto there = records_.rides.clip_with_hash(read.film.sha256);
        const store::Clip c = there ? *there : keep_film(read, ride);
        if (there) ++taken_.known;
        const int place = free_place(c.id, read.place);
        records_.put(store::Slot{c.id, place, ride.id});
        for (const exchange::MarkedMoment& m : read.marks) {
            store::Moment moment;
            moment.clip = c.id;
            moment.slot = place;
            moment.frame = m.frame;
            moment.time_s = m.time_s.value_or(0);
            moment.phase = m.phase;
            moment.figure = m.figure;
            moment.field = m.field;
            records_.add(moment);
            ++taken_.moments;
        }
        for (const exchange::EventRow& row : read.events) {
            store::Event e;
            e.ride = ride.id;
            e.clip = c.id;
            e.slot = place;
            e.time_s = row.time_s;
            e.event = row.event;
            e.detail = row.detail;
            records_.add(e);
        }
    }

    Yard& yard_;
    store::YardStore& records_;
    const exchange::Manifest& manifest_;
    QDir from_;
    TakenBundle& taken_;
    std::vector<QString>& moved_;
};

}  // namespace

struct UnpackedBundle::Content {
    std::vector<RideInBundle> rides;
};

UnpackedBundle::UnpackedBundle(const QString& file, const QString& yard_folder,
                               const core::FigureErrors& errors, Job& job)
    : folder_(yard_folder + "/" + kUnpackedFolder), content_(std::make_unique<Content>()) {
    manifest_ =
        exchange::unpack_bundle(file.toStdString(), folder_.path().toStdString(), {}, [&](double share) {
            job.progress(share);
            return job.stopped().load();
        });
    Reading reading(manifest_, QDir(folder_.path()), errors, job);
    try {
        for (const exchange::BundleEntry& e : manifest_.files) {
            if (is_ride(e.name)) content_->rides.push_back(reading.ride(e.name.substr(0, e.name.size() - 5)));
        }
    } catch (const json::exception&) {
        throw core::Refused("bundle: a ride in it cannot be read; ask the sender for a new one");
    }
    if (content_->rides.empty())
        throw core::Refused("bundle: there is no ride in it; ask the sender for a new one");
}
UnpackedBundle::~UnpackedBundle() = default;

TakenBundle take_bundle(Yard& yard, const UnpackedBundle& bundle) {
    TakenBundle taken;
    const exchange::Manifest& manifest = bundle.manifest_;
    taken.sender = manifest.sender;
    if (yard.records().leaving.parcel_known(manifest.sha256))
        throw core::Refused("bundle: it was taken in before; its rides are in the yard");
    std::vector<QString> moved;
    try {
        yard.quietly([&](store::YardStore& records) {
            Taking taking(yard, records, manifest, QDir(bundle.folder_.path()), taken, moved);
            for (const RideInBundle& ride : bundle.content_->rides) taking.ride(ride);
            if (taken.rides == 0) throw core::Refused("bundle: all of it is in the yard already");
        });
    } catch (const std::exception& e) {
        for (const QString& to : moved) QFile::remove(to);
        if (dynamic_cast<const json::exception*>(&e))
            throw core::Refused("bundle: a ride in it cannot be read; ask the sender for a new one");
        throw;
    }
    return taken;
}

QStringList words_of_parcel(const store::Parcel& parcel) {
    QStringList out;
    const auto add = [&](const std::string& words, const QString& before = {}) {
        if (!words.empty()) out << before + QString::fromStdString(words);
    };
    try {
        const json j = json::parse(parcel.words);
        add(j.value("word", ""));
        for (const json& r : j.value("remarks", json::array())) add(r.value("words", ""));
        for (const json& n : j.value("notes", json::array()))
            add(n.value("words", ""), QObject::tr("frame %1: ").arg(n.value("frame", 0)));
        for (const json& d : j.value("decisions", json::array()))
            add(d.value("fault", ""), QString::fromStdString(d.value("decision", "")) + ": ");
    } catch (const json::exception&) {  // words that cannot be read are not shown
    }
    return out;
}

}  // namespace aspen::app
