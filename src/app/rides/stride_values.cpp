#include "app/rides/stride_values.hpp"

#include <fmt/format.h>

#include <QCryptographicHash>
#include <QDir>
#include <QFile>
#include <QSaveFile>
#include <algorithm>
#include <map>
#include <mutex>
#include <nlohmann/json.hpp>
#include <set>

#include "app/files/cache_folder.hpp"
#include "app/rides/follow_plan.hpp"
#include "core/judging/sides.hpp"

namespace aspen::app {
namespace {

using nlohmann::json;

constexpr int kStridesVersion = 3;  // of the formulas: another one finds nothing kept
/// How far following pulls a joint along with what lies beside it, each time the same way in the stride:
/// measured on simulated film (docs/accuracy.md, tests/bench/motion_accuracy.cpp).
constexpr double kPulledOfTrunk = 0.007;

/// What lies in the cache, its names read once: most stretches were never followed, and asking the disk for
/// each of a yard of twenty years would be slow. Lanes are judged on several threads.
class Kept {
  public:
    static Kept& of_this_machine() {
        static Kept kept;
        return kept;
    }
    std::optional<std::vector<core::StrideValues>> find(const QString& name) {
        const std::lock_guard guard(mutex_);
        if (const auto at = read_.find(name); at != read_.end()) return at->second;
        if (!names_.contains(name)) return std::nullopt;
        auto values = read(name);
        if (values) read_[name] = *values;
        return values;
    }
    bool keep(const QString& name, const std::vector<core::StrideValues>& values) {
        const std::lock_guard guard(mutex_);
        json out = json::array();
        for (const core::StrideValues& v : values) {
            json by_stride = json::array();
            for (const auto& x : v.by_stride) by_stride.push_back(x ? json(*x) : json(nullptr));
            out.push_back({{"id", v.measure}, {"sd", v.sd}, {"by_stride", by_stride}});
        }
        const QByteArray bytes = QByteArray::fromStdString(out.dump());
        QByteArray& before = bytes_[name];
        if (before == bytes) return false;
        before = bytes;
        read_[name] = values;
        names_.insert(name);
        QSaveFile file(QDir(cache_folder()).filePath(name));
        if (file.open(QIODevice::WriteOnly)) {
            file.write(bytes);
            file.commit();
        }
        return true;
    }

  private:
    Kept() {
        for (const QString& name : QDir(cache_folder()).entryList({"*.strides"}, QDir::Files))
            names_.insert(name);
    }
    std::optional<std::vector<core::StrideValues>> read(const QString& name) {
        QFile file(QDir(cache_folder()).filePath(name));
        if (!file.open(QIODevice::ReadOnly)) return std::nullopt;
        const QByteArray bytes = file.readAll();
        const json in = json::parse(bytes.begin(), bytes.end(), nullptr, false);
        if (!in.is_array()) return std::nullopt;
        try {
            std::vector<core::StrideValues> out;
            for (const json& v : in) {
                core::StrideValues& one = out.emplace_back();
                one.measure = v.at("id");
                one.sd = v.at("sd");
                for (const json& x : v.at("by_stride"))
                    one.by_stride.push_back(x.is_null() ? std::nullopt : std::optional(x.get<double>()));
            }
            bytes_[name] = bytes;
            return out;
        } catch (const json::exception&) {
            return std::nullopt;
        }
    }
    std::mutex mutex_;
    std::set<QString> names_;
    std::map<QString, std::vector<core::StrideValues>> read_;
    std::map<QString, QByteArray> bytes_;
};

QString key_name(const StrideKey& key) {
    const auto sum =
        QCryptographicHash::hash(QByteArray::fromStdString(key.spelled), QCryptographicHash::Sha1);
    return QString::fromStdString(key.hash.substr(0, 16)) + "-" + QString::fromLatin1(sum.toHex().left(16)) +
           ".strides";
}

}  // namespace

std::optional<StrideKey> stride_key(const store::Clip& clip, int slot, const core::Stretches& stretches,
                                    std::size_t place, const std::vector<store::Moment>& moments,
                                    const std::vector<store::Event>& events) {
    const core::Stretch& s = stretches[place];
    if (!s.gait || clip.frames == 0) return std::nullopt;
    const auto [first, last] = core::extent(stretches, place, clip.frames);
    const auto anchors = follow_anchors(moments, slot, first, last);
    if (anchors.empty()) return std::nullopt;
    StrideKey out{clip.hash, fmt::format("{}|{}|{}|{}|{}|{}|{}|{}", kStridesVersion, slot, first, last,
                                         core::word(*s.gait), s.seat ? core::word(*s.seat) : "",
                                         core::word(s.view), core::word(s.travel))};
    const core::CameraPose& c = s.camera;
    out.spelled += fmt::format("|{} {} {} {}|{} {}", c.roll_deg, c.roll_sd_deg, c.yaw_deg, c.yaw_sd_deg,
                               clip.capture.filmed_fps, clip.capture.from_s.value_or(-1));
    for (const store::Event& e : events) {
        const bool counts = e.event.starts_with("diagonal_") || e.event.starts_with("stride_") ||
                            e.event.starts_with("hoof_");
        if (e.clip == clip.id && e.slot == slot && counts)
            out.spelled += fmt::format("|{} {} {}", e.event, e.time_s, e.detail);
    }
    out.spelled += "|" + spelled(anchors);
    return out;
}

core::MotionSetting motion_setting(const RiddenIn& ridden, const core::Stretches& stretches,
                                   std::size_t place, int slot, const std::vector<store::Event>& events,
                                   PictureSize size, double trunk_px) {
    const core::Stretch& s = stretches[place];
    core::MotionSetting out;
    out.setting = ridden.stretch_setting(stretches, place);
    out.seat_said = s.seat.has_value();
    out.view = s.view;
    out.travel = s.travel;
    out.camera = s.camera;
    out.anchor_sd_px = core::click_sd_px(size.width, size.height);
    out.px_per_m = size.px_per_m;
    out.px_per_m_sd = size.px_per_m_sd;
    out.follow_sd_px = kPulledOfTrunk * trunk_px;
    for (const store::Event& e : events) {
        if (e.slot == slot) out.events.push_back({e.time_s, e.event, e.detail});
    }
    return out;
}

core::MotionReport motion_report(core::Tracks tracks, core::MotionSetting in, const core::CaptureMap& real,
                                 const core::Knowledge& known) {
    for (core::TrackPoint& p : tracks.points) p.time_s = real.real_s(p.time_s);
    for (core::Happening& e : in.events) e.time_s = real.real_s(e.time_s);
    return core::motion_of(tracks, in, known.body, known.schools);
}

std::vector<core::StrideValues> values_of(const core::MotionReport& report) {
    std::vector<core::StrideValues> out;
    for (const core::MotionMeasure& m : report.measures) {
        if (m.value && !m.by_stride.empty()) out.push_back({m.id, m.by_stride, m.stride_sd});
    }
    core::StrideValues tempo{"tempo_per_min", {}, 0};
    for (const core::StrideSpan& s : report.strides) tempo.by_stride.emplace_back(60 / (s.end_s - s.start_s));
    if (report.tempo_per_min) out.push_back(std::move(tempo));
    if (report.uneven) out.push_back({std::string(core::kUnevenStrides), {*report.uneven}, 0});
    return out;
}

std::optional<core::Judged> mean_over_strides(const core::RideData& data, const core::SeenIn& seen,
                                              const core::Fault& fault, const core::Schools& schools) {
    const std::string measure(core::leading_measure(fault));
    double sum = 0, sd = 0;
    int n = 0;
    core::Setting setting;
    for (const core::RideStrides& s : data.strides) {
        if (core::seen_for(fault, s.seen) != seen) continue;
        setting = s.setting;
        for (const core::StrideValues& v : s.values) {
            if (v.measure != measure) continue;
            for (const auto& x : v.by_stride) {
                if (!x) continue;
                sum += *x;
                sd = std::max(sd, v.sd);
                ++n;
            }
        }
    }
    if (n == 0) return std::nullopt;
    return core::judge_value({core::find_measure(measure), sum / n, sd, {}}, setting, schools);
}

bool keep_strides(const StrideKey& key, const std::vector<core::StrideValues>& values) {
    return Kept::of_this_machine().keep(key_name(key), values);
}

std::optional<std::vector<core::StrideValues>> kept_strides(const StrideKey& key) {
    return Kept::of_this_machine().find(key_name(key));
}

}  // namespace aspen::app
