#include <fmt/format.h>

#include <QCryptographicHash>
#include <QDir>
#include <QFile>
#include <QSaveFile>
#include <array>
#include <cmath>
#include <nlohmann/json.hpp>

#include "app/files/cache_folder.hpp"
#include "app/rides/ridden_ground.hpp"

/// What of the ground lies in the cache: what was read of a clip's pictures, and what its ways answer.
namespace aspen::app {
namespace {

using nlohmann::json;

constexpr int kGroundFilmVersion = 1, kGroundAnswersVersion = 1;

QString film_name(const std::string& hash) {
    return QString("%1.ground-%2").arg(QString::fromStdString(hash)).arg(kGroundFilmVersion);
}

void write_json(const QString& name, const json& what) {
    QSaveFile file(QDir(cache_folder()).filePath(name));
    if (!file.open(QIODevice::WriteOnly)) return;
    const std::string bytes = what.dump();
    file.write(bytes.data(), static_cast<qint64>(bytes.size()));
    file.commit();
}

/// Broken or missing: read anew.
std::optional<json> read_json(const QString& name) {
    QFile file(QDir(cache_folder()).filePath(name));
    if (!file.open(QIODevice::ReadOnly)) return std::nullopt;
    json out = json::parse(file.readAll().toStdString(), nullptr, false);
    return out.is_discarded() ? std::nullopt : std::optional(std::move(out));
}

json json_of(const media::GroundFilm& film) {
    json turns = json::array(), parts = json::array();
    for (const auto& h : film.camera.to_first) {
        json one = nullptr;
        if (h) one = std::vector<double>(h->data(), h->data() + h->size());
        turns.push_back(std::move(one));
    }
    for (const auto& all : film.parts) {
        json here = json::array();
        for (const media::PairSeen& p : all)
            here.push_back({p.x, p.y, p.left, p.right, p.top, p.bottom, p.area});
        parts.push_back(std::move(here));
    }
    return {
        {"frames", film.frames}, {"still", film.camera.still}, {"steps", film.camera.steps}, {"turns", turns},
        {"parts", parts},        {"px", film.px_of_picture}};
}

media::GroundFilm film_of(const json& j) {
    media::GroundFilm out;
    out.frames = j.at("frames").get<std::vector<int>>();
    out.camera.still = j.at("still").get<bool>();
    out.camera.steps = j.at("steps").get<std::vector<int>>();
    out.px_of_picture = j.at("px").get<double>();
    for (const json& h : j.at("turns")) {
        out.camera.to_first.emplace_back();
        if (h.is_null()) continue;
        const auto all = h.get<std::array<double, 9>>();
        out.camera.to_first.back() = Eigen::Map<const Eigen::Matrix3d>(all.data());
    }
    for (const json& all : j.at("parts")) {
        out.parts.emplace_back();
        for (const json& p : all) {
            const auto v = p.get<std::array<double, 7>>();
            out.parts.back().push_back({v[0], v[1], v[2], v[3], v[4], v[5], v[6]});
        }
    }
    return out;
}

/// Everything a clip's answers rest on: another mark is another key, and finds nothing.
QString answers_name(const store::Clip& clip, int slot, const GroundMarks& marks) {
    std::string all = fmt::format("{} {} {} {} {} {};", slot, marks.arena.length_m, marks.arena.width_m,
                                  marks.arena.places, marks.arena.height_m, marks.arena.wide_deg);
    for (const store::ArenaMark& m : marks.marks)
        all += fmt::format("{} {} {} {} {} {} {} {} {} {};", static_cast<int>(m.kind), m.slot, m.frame,
                           m.name, m.a.x, m.a.y, m.b.x, m.b.y, m.length_m, m.sd_px);
    for (const store::AskedLine& l : marks.asked)
        all += fmt::format("{} {} {} {} {} {} {};", l.slot, l.kind, l.from_frame, l.to_frame, l.diameter_m,
                           l.at, l.until);
    const QByteArray sum = QCryptographicHash::hash(QByteArray::fromStdString(all), QCryptographicHash::Sha1);
    return QString("%1.ridden-%2-%3")
        .arg(QString::fromStdString(clip.hash))
        .arg(kGroundAnswersVersion)
        .arg(QString::fromLatin1(sum.toHex().left(16)));
}

}  // namespace

std::optional<media::GroundFilm> read_ground_film(const QString& file, const std::string& hash,
                                                  const std::function<bool(double)>& going_on) {
    media::ReaderOptions options;
    options.order_cache = {cache_folder().toStdString(), hash};
    options.quality = media::Quality::quick;
    media::VideoReader reader(file.toStdString(), {}, options);
    auto film = media::read_ground_film(reader, going_on);
    if (film) write_json(film_name(hash), json_of(*film));
    return film;
}

std::optional<media::GroundFilm> kept_ground_film(const std::string& hash) {
    const auto kept = read_json(film_name(hash));
    if (!kept) return std::nullopt;
    try {
        return film_of(*kept);
    } catch (const json::exception&) {
        return std::nullopt;
    }
}

bool keep_ground_answers(const store::Clip& clip, int slot, const GroundMarks& marks,
                         const RiddenGround& ground) {
    json out = json::array();
    for (const RiddenGround::Held& held : ground.held) {
        if (!held.ridden) continue;
        for (const core::GroundEvidence& e : core::evidence_of(*held.ridden, held.figure, ground.way)) {
            // What no fault or answer of the horse is called by yet is said on the plan alone.
            if (e.check == "loses_the_corner" || e.check == "speed_changes_in_the_turn") continue;
            std::size_t best = 0;
            for (std::size_t i = 0; i < ground.way.size(); ++i) {
                if (std::abs(ground.way[i].time_s - e.time_s) < std::abs(ground.way[best].time_s - e.time_s))
                    best = i;
            }
            out.push_back({e.check, ground.frames.empty() ? 0 : ground.frames[best], e.good});
        }
    }
    const QString name = answers_name(clip, slot, marks);
    if (read_json(name) == out) return false;
    write_json(name, out);
    return true;
}

std::vector<store::Answer> answers_by_ground(const store::YardStore& records, const store::Clip& clip,
                                             int slot) {
    std::vector<store::Answer> out;
    // Most clips have no arena: one look at the records, and none at the disk.
    const auto arena = records.grounds.laid(clip.id);
    if (!arena) return out;
    const auto kept = read_json(answers_name(
        clip, slot, {*arena, records.grounds.arena_marks(clip.id), records.grounds.asked_lines(clip.id)}));
    if (!kept || !kept->is_array()) return out;
    for (const json& one : *kept) {
        if (!one.is_array() || one.size() != 3 || !one[0].is_string() || !one[1].is_number_integer() ||
            !one[2].is_boolean())
            continue;
        store::Answer a;
        a.clip = clip.id;
        a.slot = slot;
        a.frame = one[1].get<int>();
        a.check = one[0].get<std::string>();
        a.said = one[2].get<bool>() ? core::CheckAnswer::Said::good : core::CheckAnswer::Said::fault;
        out.push_back(std::move(a));
    }
    return out;
}

}  // namespace aspen::app
