#include "app/leaving/bundle_out.hpp"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QTime>
#include <algorithm>
#include <fstream>
#include <sstream>

#include "app/leaving/frames_out.hpp"
#include "app/leaving/ride_json.hpp"
#include "app/telling/film_plan.hpp"
#include "core/reading/refused.hpp"
#include "exchange/coco.hpp"
#include "exchange/events.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {
namespace {

using nlohmann::json;

constexpr double kFilmsShare = 0.7;

std::string suffix_of(const std::string& path) {
    const QString s = QFileInfo(QString::fromStdString(path)).suffix().toLower();
    const bool plain = !s.isEmpty() && s.size() < 6 && std::ranges::all_of(s, [](QChar c) {
        return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9');
    });
    return plain ? s.toStdString() : "film";
}

class Bundling {
  public:
    Bundling(Yard& yard, const Permit& permit) : yard_(yard), permit_(permit) {}

    void add(const store::Ride& ride) {
        const std::vector<store::Clip> clips = yard_.records().clips_of(ride.id);
        const std::string name = "ride-" + std::to_string(++plan_.rides);
        json facts = ride_facts(yard_, ride);
        facts["clips"] = json::array();
        for (std::size_t i = 0; i < clips.size(); ++i)
            facts["clips"].push_back(clip(clips[i], ride, name, i));
        put(name + ".json", facts.dump(1));
        put(name + ".said.json", said_of(yard_, ride, clips).dump(1));
    }
    BundlePlan take() { return std::move(plan_); }

  private:
    void put(const std::string& name, std::string bytes) {
        plan_.parts.push_back({name, std::move(bytes), {}});
    }

    json clip(const store::Clip& c, const store::Ride& ride, const std::string& name, std::size_t i) {
        const int slot = slot_of(yard_, c.id, ride.rider);
        const std::string media = "media/" + c.hash.substr(0, 16) + "." + suffix_of(c.path);
        const std::string own = name + "-clip-" + std::to_string(i + 1);
        json out{{"media", media},
                 {"name", QFileInfo(QString::fromStdString(c.path)).fileName().toStdString()},
                 {"recorded_at", c.recorded_at},
                 {"duration_s", c.duration_s},
                 {"frames", c.frames},
                 {"stretches", json::array()}};
        if (c.capture.filmed_fps > 0) out["filmed_fps"] = c.capture.filmed_fps;
        if (c.px_per_m > 0) out["px_per_m"] = {c.px_per_m, c.px_per_m_sd};
        for (const core::Stretch& s : yard_.records().stretches(c.id)) out["stretches"].push_back(to_json(s));
        std::vector<exchange::EventRow> rows;
        for (const store::Event& e : yard_.records().events(ride.id)) {
            if (e.clip == c.id && e.slot == slot) rows.push_back({e.time_s, e.event, e.detail});
        }
        if (!rows.empty()) {
            std::ostringstream csv;
            exchange::write_events(csv, rows);
            out["events"] = own + ".events.csv";
            put(own + ".events.csv", csv.str());
        }
        auto film = std::ranges::find(plan_.films, media, &FilmForBundle::name);
        if (film == plan_.films.end()) {
            plan_.films.push_back(
                {yard_.file_of(c).toStdString(), c.hash, media, faces_to_cover(yard_, c, permit_)});
            film = std::prev(plan_.films.end());
        }
        BundlePlan::Marks marks{own + ".marks.json", static_cast<std::size_t>(film - plan_.films.begin()),
                                marks_of(yard_, c, ride, slot, media)};
        if (!marks.moments.empty()) {
            out["marks"] = marks.name;
            plan_.marks.push_back(std::move(marks));
        }
        return out;
    }
    Yard& yard_;
    const Permit& permit_;
    BundlePlan plan_;
};

constexpr qint64 kLongestText = qint64{64} << 20;

std::string read_whole(const QString& file) {
    if (QFileInfo(file).size() > kLongestText)
        throw core::Refused("bundle: a ride in it is too long to be one; ask the sender for a new one");
    std::ifstream in(file.toStdString(), std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

/// Takes one ride in; within a transaction.
class Taking {
  public:
    Taking(Yard& yard, const exchange::Manifest& manifest, QDir from, TakenBundle& taken,
           std::vector<std::pair<QString, QString>>& moved)
        : yard_(yard), manifest_(manifest), from_(std::move(from)), taken_(taken), moved_(moved) {}

    void ride(const std::string& name) {
        const json facts = json::parse(read_whole(file(name + ".json")));
        if (all_known(facts)) {
            ++taken_.known;
            return;
        }
        const store::Ride ride = take_ride(yard_, facts);
        for (const json& c : facts.at("clips")) clip(c, ride);
        store::Parcel parcel;
        parcel.at = yard_.now_iso();
        parcel.sender = manifest_.sender;
        parcel.sha256 = manifest_.sha256;
        parcel.ride = ride.id;
        const std::string said = named(name + ".said.json") ? read_whole(file(name + ".said.json")) : "{}";
        parcel.words = json::parse(said).dump();
        yard_.records().add(parcel);
        ++taken_.rides;
    }

  private:
    bool named(const std::string& name) const {
        return std::ranges::any_of(manifest_.files,
                                   [&](const exchange::BundleEntry& e) { return e.name == name; });
    }
    /// Only what the manifest names is ever opened; its sum was checked when it was unpacked, and is what a
    /// clip is known by.
    const exchange::BundleEntry& entry(const std::string& name) const {
        const auto it = std::ranges::find(manifest_.files, name, &exchange::BundleEntry::name);
        if (it == manifest_.files.end())
            throw core::Refused("bundle: \"" + name + "\" is named in it and missing; ask the sender");
        return *it;
    }
    QString file(const std::string& name) const {
        return from_.filePath(QString::fromStdString(entry(name).name));
    }

    /// All its films are here already: it came in before, or is our own.
    bool all_known(const json& facts) {
        const auto& clips = facts.at("clips");
        return !clips.empty() && std::ranges::all_of(clips, [&](const json& c) {
            return yard_.records().clip_with_hash(entry(c.at("media").get<std::string>()).sha256).has_value();
        });
    }

    void clip(const json& j, const store::Ride& ride) {
        const QString film = file(j.at("media").get<std::string>());
        store::Clip c;
        c.hash = entry(j.at("media").get<std::string>()).sha256;
        if (yard_.records().clip_with_hash(c.hash)) {
            ++taken_.known;
            return;
        }
        media::check_opens(film.toStdString());
        const QString to =
            "clips/" + QString::fromStdString(c.hash.substr(0, 16)) + "." + QFileInfo(film).suffix();
        yard_.folder().mkpath("clips");
        if (!QFile::rename(film, yard_.folder().filePath(to)) &&
            !QFile::copy(film, yard_.folder().filePath(to)))
            throw core::Refused(to.toStdString() + ": cannot be kept in the yard's folder; make room there");
        moved_.emplace_back(film, yard_.folder().filePath(to));
        c.path = to.toStdString();
        c.bytes = QFileInfo(yard_.folder().filePath(to)).size();
        c.recorded_at = j.value("recorded_at", ride.day);
        c.told_by = store::ToldBy::coach;
        c.added_on = yard_.today_iso();
        c.duration_s = std::max(0.0, j.value("duration_s", 0.0));
        c.frames = std::max(0, j.value("frames", 0));
        c.capture.filmed_fps = std::max(0.0, j.value("filmed_fps", 0.0));
        c.id = yard_.records().add(c);
        yard_.records().put(store::Slot{c.id, 0, ride.id});
        core::Stretches stretches;
        for (const json& s : j.at("stretches")) stretches.push_back(stretch_from(s));
        const bool rising =
            std::ranges::adjacent_find(stretches, [](const core::Stretch& a, const core::Stretch& b) {
                return a.first >= b.first;
            }) == stretches.end();
        if (!stretches.empty() && stretches.front().first == 0 && rising)
            yard_.records().put_stretches(c.id, stretches);
        marks(j, c);
        events(j, c, ride);
        ++taken_.clips;
    }

    void marks(const json& j, const store::Clip& c) {
        if (!j.contains("marks")) return;
        const std::string name = j.at("marks").get<std::string>();
        std::ifstream in(file(name).toStdString());
        for (const exchange::MarkedMoment& m :
             exchange::read_coco(in, name, yard_.knowledge().figure_errors)) {
            if (m.frame < 0 || (c.frames > 0 && m.frame >= c.frames))
                throw core::Refused(
                    "bundle: a marked moment lies outside its clip; ask the sender for a new one");
            store::Moment moment;
            moment.clip = c.id;
            moment.frame = m.frame;
            moment.time_s = m.time_s.value_or(0);
            moment.phase = m.phase;
            moment.figure = m.figure;
            moment.field = m.field;
            yard_.records().add(moment);
            ++taken_.moments;
        }
    }
    void events(const json& j, const store::Clip& c, const store::Ride& ride) {
        if (!j.contains("events")) return;
        const std::string name = j.at("events").get<std::string>();
        std::ifstream in(file(name).toStdString());
        for (const exchange::EventRow& row : exchange::read_events(in, name)) {
            store::Event e;
            e.ride = ride.id;
            e.clip = c.id;
            e.time_s = row.time_s;
            e.event = row.event;
            e.detail = row.detail;
            yard_.records().add(e);
        }
    }

    Yard& yard_;
    const exchange::Manifest& manifest_;
    QDir from_;
    TakenBundle& taken_;
    std::vector<std::pair<QString, QString>>& moved_;
};

}  // namespace

std::vector<store::RideId> rides_with_clips(Yard& yard, store::RiderId rider) {
    std::vector<store::RideId> out;
    for (const store::RiddenClip& r : yard.records().ridden_by(rider)) {
        if (std::ranges::find(out, r.ride.id) == out.end()) out.push_back(r.ride.id);
    }
    std::ranges::reverse(out);
    return out;
}

PermitOrLine ask_for_bundle(Yard& yard, const std::vector<store::RideId>& rides) {
    Going going{Use::clip, {}, rides, {}};
    for (const store::RideId r : rides) {
        for (const store::Clip& c : yard.records().clips_of(r)) going.clips.push_back(c.id);
    }
    return ask(yard, going);
}

BundlePlan bundle_of(Yard& yard, const std::vector<store::RideId>& rides, const Permit& permit) {
    Bundling bundling(yard, permit);
    for (const store::RideId id : rides) {
        if (const auto ride = yard.records().ride(id)) bundling.add(*ride);
    }
    BundlePlan out = bundling.take();
    if (out.rides == 0) throw core::Refused("bundle: there is no ride with a clip to send");
    out.manifest.kind = rides.size() == 1 ? "ride" : "rider";
    out.manifest.sender = yard.coach().toStdString();
    out.manifest.made_at = yard.now_iso();
    return out;
}

BundleMade write_bundle(const BundlePlan& plan, const Permit& permit, const QString& file, Job& job) {
    std::vector<exchange::BundlePart> parts = plan.parts;
    QTemporaryDir folder(QFileInfo(file).absolutePath() + "/.bundle-XXXXXX");
    double done = 0;
    for (const FilmForBundle& f : plan.films) {
        // Written anew even where no face is covered: its sound, its place and what else lies in the file
        // were not agreed to.
        const std::filesystem::path film =
            folder.filePath(QString::fromStdString(f.hash.substr(0, 16)) + ".mp4").toStdString();
        const CoveredFilm made = write_covered(f.file, film, f.faces, permit, job, [&](double share) {
            job.progress(kFilmsShare * (done + share) / static_cast<double>(plan.films.size()));
        });
        if (!made.trouble.isEmpty()) return {made.trouble};
        parts.push_back({f.name, {}, film});
        done += 1;
    }
    for (BundlePlan::Marks m : plan.marks) {
        const media::ClipFacts facts =
            media::VideoReader(plan.films[m.film].file, {&job.stopped(), {}}).facts();
        for (exchange::MarkedMoment& moment : m.moments) {
            moment.width = facts.width;
            moment.height = facts.height;
        }
        std::ostringstream text;
        exchange::write_coco(text, m.moments);
        parts.push_back({m.name, text.str(), {}});
    }
    exchange::write_bundle(file.toStdString(), plan.manifest, parts, [&](double share) {
        job.progress(kFilmsShare + (1 - kFilmsShare) * share);
        return job.stopped().load();
    });
    return {{}, sum_of(file)};
}

TakenBundle take_bundle(Yard& yard, const exchange::Manifest& manifest, const QString& folder) {
    TakenBundle taken;
    taken.sender = manifest.sender;
    if (yard.records().parcel_known(manifest.sha256))
        throw core::Refused("bundle: it was taken in before; its rides are in the yard");
    std::vector<std::pair<QString, QString>> moved;
    try {
        yard.quietly([&] {
            Taking taking(yard, manifest, QDir(folder), taken, moved);
            for (const exchange::BundleEntry& e : manifest.files) {
                const bool ride = e.name.starts_with("ride-") && e.name.ends_with(".json") &&
                                  std::ranges::count(e.name, '-') == 1 &&
                                  std::ranges::count(e.name, '.') == 1;
                if (ride) taking.ride(e.name.substr(0, e.name.size() - 5));
            }
            if (taken.rides == 0 && taken.known == 0)
                throw core::Refused("bundle: there is no ride in it; ask the sender for a new one");
            if (taken.rides == 0) throw core::Refused("bundle: all of it is in the yard already");
        });
    } catch (const std::exception& e) {
        for (const auto& [from, to] : moved) QFile::remove(to);
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

QString Bundles::write(const std::vector<store::RideId>& rides, const QString& file) {
    if (busy()) return tr("A bundle is under way; wait for it.");
    const PermitOrLine asked = ask_for_bundle(yard_, rides);
    if (const auto* line = std::get_if<QString>(&asked)) return *line;
    const Permit permit = std::get<Permit>(asked);
    const Antechamber room(file);
    if (const QString line = room.trouble(); !line.isEmpty()) return line;
    try {
        job_ = yard_.jobs().run(
            JobLane::write, tr("Making a bundle"), this,
            [plan = bundle_of(yard_, rides, permit), permit, room](Job& job) {
                return write_bundle(plan, permit, room.inside(), job);
            },
            [this, permit, room, n = rides.size()](const Outcome<BundleMade>& made) {
                QString trouble = room.said(made.value ? made.value->trouble : made.trouble);
                if (trouble.isEmpty())
                    trouble = leave(yard_, permit,
                                    {"bundle", tr("%1 rides").arg(n).toStdString(), room.file(), true,
                                     made.value->sha256},
                                    room);
                if (!trouble.isEmpty()) return emit finished(trouble, false);
                emit finished(tr("Saved: %1, %2 rides.").arg(room.file()).arg(n), true);
            });
    } catch (const core::Refused& e) {
        return QString::fromUtf8(e.what());
    }
    return {};
}

QString Bundles::open(const QString& file) {
    if (busy()) return tr("A bundle is under way; wait for it.");
    struct Unpacked {
        std::shared_ptr<QTemporaryDir> folder;
        exchange::Manifest manifest;
    };
    job_ = yard_.jobs().run(
        JobLane::import, tr("Opening ") + QFileInfo(file).fileName(), this,
        [file, yard_folder = yard_.folder().path()](Job& job) {
            Unpacked out{std::make_shared<QTemporaryDir>(yard_folder + "/.bundle-XXXXXX"), {}};
            out.manifest = exchange::unpack_bundle(file.toStdString(), out.folder->path().toStdString(), {},
                                                   [&](double share) {
                                                       job.progress(share);
                                                       return job.stopped().load();
                                                   });
            return out;
        },
        [this](const Outcome<Unpacked>& unpacked) {
            if (!unpacked.value) return emit finished(unpacked.trouble, false);
            try {
                const TakenBundle t =
                    take_bundle(yard_, unpacked.value->manifest, unpacked.value->folder->path());
                emit finished(
                    tr("From %1: %2 rides, %3 clips, %4 marked moments. Their words stand apart from yours.")
                        .arg(QString::fromStdString(t.sender))
                        .arg(t.rides)
                        .arg(t.clips)
                        .arg(t.moments),
                    true);
            } catch (const core::Refused& e) {
                emit finished(QString::fromUtf8(e.what()), false);
            }
        });
    return {};
}

}  // namespace aspen::app

#include "moc_bundle_out.cpp"
