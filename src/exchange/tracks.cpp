#include "exchange/tracks.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <istream>
#include <map>
#include <ostream>

#include "core/reading/refused.hpp"
#include "exchange/csv.hpp"

namespace aspen::exchange {
namespace {

constexpr std::size_t kMostTrackRows = 5'000'000;
constexpr double kMostPx = 100'000;
constexpr const char* kNeeded[] = {"frame", "time_s", "landmark", "x", "y", "confidence"};
constexpr const char* kOptional[] = {"sd_px", "hidden", "cam_x", "cam_y", "cam_scale"};

class Reading {
  public:
    Reading(std::istream& in, const std::string& name) : in_(in), name_(name) {}

    core::Tracks tracks() {
        if (!next()) refuse("is empty; it starts with frame,time_s,landmark,x,y,confidence");
        if (line_.starts_with("\xEF\xBB\xBF")) line_.erase(0, 3);
        read_header();
        core::Tracks out;
        std::map<int, double> times;
        while (next()) {
            if (line_.empty()) continue;
            if (out.points.size() == kMostTrackRows)
                refuse(fmt::format("more than {} rows; split the file", kMostTrackRows));
            read_row(out, times);
        }
        std::ranges::stable_sort(out.points, {}, &core::TrackPoint::time_s);
        return out;
    }

  private:
    bool next() {
        ++number_;
        return next_csv_line(in_, line_, name_);
    }
    [[noreturn]] void refuse(const std::string& what) const {
        throw core::Refused(fmt::format("{}: line {}: {}", name_, number_, what));
    }
    void read_header() {
        const auto fields = csv_fields(line_);
        for (std::size_t i = 0; i < fields.size(); ++i) {
            const bool known =
                std::ranges::find(kNeeded, fields[i], [](const char* c) { return std::string(c); }) !=
                    std::end(kNeeded) ||
                std::ranges::find(kOptional, fields[i], [](const char* c) { return std::string(c); }) !=
                    std::end(kOptional);
            if (!known) refuse(fmt::format("has the unknown column \"{}\"; see docs/formats.md", fields[i]));
            if (!column_.emplace(fields[i], i).second)
                refuse(fmt::format("has the column \"{}\" twice", fields[i]));
        }
        for (const char* c : kNeeded) {
            if (!column_.contains(c)) refuse(fmt::format("lacks the column \"{}\"", c));
        }
    }
    bool has(const char* column) const { return column_.contains(column); }
    double number(const std::vector<std::string>& fields, const char* column) const {
        const std::string& text = fields[column_.at(column)];
        double value = 0;
        const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
        if (error != std::errc() || end != text.data() + text.size() || !std::isfinite(value))
            refuse(fmt::format("{} \"{}\" is no number", column, text));
        return value;
    }
    void read_row(core::Tracks& out, std::map<int, double>& times) {
        const auto fields = csv_fields(line_);
        if (fields.size() != column_.size())
            refuse(fmt::format("has {} fields instead of {}", fields.size(), column_.size()));
        core::TrackPoint p;
        const double frame = number(fields, "frame");
        if (frame != std::floor(frame) || frame < 0 || frame > 1e8)
            refuse(fmt::format("frame {} is no whole number from 0 on", frame));
        p.frame = static_cast<int>(frame);
        p.time_s = number(fields, "time_s");
        if (const auto [at, fresh] = times.emplace(p.frame, p.time_s);
            !fresh && std::abs(at->second - p.time_s) > 1e-6)
            refuse(fmt::format("frame {} has another time than before", p.frame));
        const std::string& word = fields[column_.at("landmark")];
        p.at = {number(fields, "x"), number(fields, "y")};
        if (std::abs(p.at.x) > kMostPx || std::abs(p.at.y) > kMostPx)
            refuse(fmt::format("a point lies farther than {} pixels off", kMostPx));
        const double confidence = p.confidence = number(fields, "confidence");
        if (confidence < 0 || confidence > 1) refuse("confidence lies between 0 and 1");
        p.hidden = confidence <= 0;
        if (has("sd_px") && !fields[column_.at("sd_px")].empty()) p.sd_px = number(fields, "sd_px");
        if (p.sd_px < 0) refuse("sd_px lies from 0 on");
        if (has("hidden") && !fields[column_.at("hidden")].empty()) p.hidden |= number(fields, "hidden") != 0;
        read_camera(fields, p.frame, out);
        const auto landmark = core::landmark_from(word);
        if (!landmark) {
            const auto hoof = word.ends_with("_hoof")
                                  ? core::hoof_from(std::string_view(word).substr(0, word.size() - 5))
                                  : std::nullopt;
            if (hoof) {
                if (!p.hidden) out.hooves.push_back({p.frame, p.time_s, *hoof, p.at});
                return;
            }
            refuse(fmt::format("landmark \"{}\" is not known; see docs/formats.md", word));
        }
        p.landmark = *landmark;
        out.points.push_back(p);
    }
    void read_camera(const std::vector<std::string>& fields, int frame, core::Tracks& out) const {
        if (!has("cam_x") || !has("cam_y")) return;
        if (fields[column_.at("cam_x")].empty()) return;
        core::CameraAt camera{number(fields, "cam_x"), number(fields, "cam_y"), 1};
        if (has("cam_scale") && !fields[column_.at("cam_scale")].empty())
            camera.scale = number(fields, "cam_scale");
        if (!(camera.scale > 0)) refuse("cam_scale lies above 0");
        out.camera[frame] = camera;
    }

    std::istream& in_;
    const std::string& name_;
    std::string line_;
    std::size_t number_ = 0;
    std::map<std::string, std::size_t> column_;
};

}  // namespace

void write_tracks(std::ostream& out, const core::Tracks& tracks) {
    out << "frame,time_s,landmark,x,y,confidence,sd_px,hidden,cam_x,cam_y,cam_scale\n";
    const auto camera = [&](int frame) {
        const auto at = tracks.camera.find(frame);
        if (at == tracks.camera.end()) return std::string(",,,\n");
        return fmt::format(",{:.3f},{:.3f},{:.6f}\n", at->second.x, at->second.y, at->second.scale);
    };
    for (const core::TrackPoint& p : tracks.points)
        out << fmt::format("{},{:.4f},{},{:.2f},{:.2f},{:.3f},{:.2f},{}", p.frame, p.time_s,
                           core::id(p.landmark), p.at.x, p.at.y, p.confidence, p.sd_px, p.hidden ? 1 : 0)
            << camera(p.frame);
    for (const core::HoofSeen& h : tracks.hooves)
        out << fmt::format("{},{:.4f},{}_hoof,{:.2f},{:.2f},1,,0", h.frame, h.time_s, core::id(h.hoof),
                           h.at.x, h.at.y)
            << camera(h.frame);
}

core::Tracks read_tracks(std::istream& in, const std::string& name) { return Reading(in, name).tracks(); }

}  // namespace aspen::exchange
