#include "app/leaving/bundle_out.hpp"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QTime>
#include <algorithm>
#include <map>
#include <set>
#include <sstream>

#include "app/leaving/bundle_in.hpp"
#include "app/leaving/film_plan.hpp"
#include "app/leaving/frames_out.hpp"
#include "app/leaving/ride_json.hpp"
#include "core/reading/json_reading.hpp"
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
        const std::vector<store::Clip> clips = yard_.records().rides.clips_of(ride.id);
        added_.insert(ride.id);
        const std::string name = put(ride, clips);
        ++plan_.rides;
        put(name + ".said.json", said_of(yard_, ride, clips).dump(1));
        for (const store::Clip& c : clips) {
            for (const store::Slot& s : yard_.records().rides.places(c.id)) beside_[s.ride].push_back(c);
        }
    }
    /// Whoever else rides in these clips, with place, joints and events there; of what was said of them, and
    /// of their other clips, nothing.
    void add_companions() {
        for (const auto& [id, clips] : beside_) {
            const auto ride = yard_.records().rides.ride(id);
            if (ride && !added_.contains(id)) put(*ride, clips);
        }
    }
    BundlePlan take() { return std::move(plan_); }

  private:
    std::string put(const store::Ride& ride, const std::vector<store::Clip>& clips) {
        std::string name = "ride-" + std::to_string(++written_);
        json facts = ride_facts(yard_, ride);
        facts["clips"] = json::array();
        for (std::size_t i = 0; i < clips.size(); ++i)
            facts["clips"].push_back(clip(clips[i], ride, name, i));
        put(name + ".json", facts.dump(1));
        return name;
    }
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
                 {"place", slot},
                 {"stretches", json::array()}};
        if (c.capture.filmed_fps > 0) out["filmed_fps"] = c.capture.filmed_fps;
        if (c.px_per_m > 0) out["px_per_m"] = {c.px_per_m, c.px_per_m_sd};
        for (const core::Stretch& s : yard_.records().rides.stretches(c.id))
            out["stretches"].push_back(to_json(s));
        std::vector<exchange::EventRow> rows;
        for (const store::Event& e : yard_.records().reviews.events(ride.id)) {
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
                {yard_.file_of(c).toStdString(), c.hash, media, faces_to_cover(yard_, c, permit_),
                 QObject::tr("%1, %2").arg(QFileInfo(QString::fromStdString(c.path)).fileName(),
                                           QString::fromStdString(ride.day))});
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
    int written_ = 0;
    std::set<store::RideId> added_;
    std::map<store::RideId, std::vector<store::Clip>> beside_;
};

}  // namespace

std::vector<store::RideId> rides_with_clips(Yard& yard, store::RiderId rider) {
    std::vector<store::RideId> out;
    for (const store::RiddenClip& r : yard.records().rides.ridden_by(rider)) {
        if (std::ranges::find(out, r.ride.id) == out.end()) out.push_back(r.ride.id);
    }
    std::ranges::reverse(out);
    return out;
}

PermitOrLine ask_for_bundle(Yard& yard, const std::vector<store::RideId>& rides) {
    Going going{Use::clip, {}, rides, {}};
    for (const store::RideId r : rides) {
        for (const store::Clip& c : yard.records().rides.clips_of(r)) going.clips.push_back(c.id);
    }
    return ask(yard, going);
}

BundlePlan bundle_of(Yard& yard, const std::vector<store::RideId>& rides, const Permit& permit) {
    Bundling bundling(yard, permit);
    for (const store::RideId id : rides) {
        if (const auto ride = yard.records().rides.ride(id)) bundling.add(*ride);
    }
    bundling.add_companions();
    BundlePlan out = bundling.take();
    if (out.rides == 0) throw core::Refused("bundle: there is no ride with a clip to send");
    out.manifest.kind = rides.size() == 1 ? "ride" : "rider";
    out.manifest.sender = coach_of(yard).toStdString();
    out.manifest.made_at = now_iso(yard);
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
        if (!made.trouble.isEmpty()) return {f.of + ": " + made.trouble};
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

QString Bundles::write(const std::vector<store::RideId>& rides, const QString& file) {
    if (busy()) return tr("A bundle is under way; wait for it.");
    const PermitOrLine asked = ask_for_bundle(yard_, rides);
    if (!asked) return asked.error();
    const Permit permit = *asked;
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
    job_ = yard_.jobs().run(
        JobLane::import, tr("Opening ") + QFileInfo(file).fileName(), this,
        [file, yard_folder = yard_.folder().path(), errors = yard_.knowledge().figure_errors](Job& job) {
            return std::make_shared<const UnpackedBundle>(file, yard_folder, errors, job);
        },
        [this](const Outcome<std::shared_ptr<const UnpackedBundle>>& unpacked) {
            if (!unpacked.value) return emit finished(unpacked.trouble, false);
            try {
                const TakenBundle t = take_bundle(yard_, **unpacked.value);
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
