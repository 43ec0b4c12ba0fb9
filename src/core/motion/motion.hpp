#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/body/body.hpp"
#include "core/judging/judgement.hpp"
#include "core/motion/happenings.hpp"
#include "core/motion/strides.hpp"

/// What happens over the strides of a stretch: how far leg, trunk, hand and seat move, when the rise comes,
/// how the hip goes round in canter, how long a position holds. Definitions: docs/measures.md, "Over
/// strides".
namespace aspen::core {

struct TrackPoint {
    int frame = 0;
    double time_s = 0;
    Landmark landmark{};
    Point at;  ///< display pixels
    bool hidden = false;
    double sd_px = 0;  ///< 0: not known
    double confidence = 1;
};
/// Where the background of the first frame lies in this one: p -> scale p + (x, y).
struct CameraAt {
    double x = 0, y = 0, scale = 1;
};
struct Tracks {
    std::vector<TrackPoint> points;  ///< by time; a hidden one is not measured
    std::map<int, CameraAt> camera;  ///< by frame; empty: the camera's motion is not known
};

struct MotionSetting {
    Setting setting;  ///< an empty school: no bands
    bool seat_said = false;
    View view = View::side;
    Travel travel = Travel::right;
    CameraPose camera;
    double time_scale = 1;  ///< real seconds for one of the stream's
    /// Clicks of the marks that the joints were followed from, pixels: what they miss is missed in every
    /// stride. 0: the tracks speak for themselves.
    double anchor_sd_px = 0;
    /// How far following pulls each joint with the stride, pixels: common to all strides too.
    double follow_sd_px = 0;
    /// Scale at the rider, from the horse's height or a pole; 0: not known, and no speed is told.
    double px_per_m = 0, px_per_m_sd = 0;
    std::optional<double> change_at_s{};  ///< a marked change of pace or turn, stream time
    std::vector<Happening> events{};      ///< take_off, landing, diagonal_…, stream time
    std::vector<std::string> hold{};      ///< what `strides_held` watches; empty: the school's base measures
};

struct MotionMeasure {
    std::string id, unit;
    std::optional<double> value;   ///< empty: not judged, `reason` says why
    std::optional<double> spread;  ///< standard deviation over the strides; empty for what is no mean
    double sd = 0;
    int strides = 0;
    std::optional<Band> band{};
    Verdict verdict = Verdict::not_judged;
    std::string reason{};
    std::map<std::string, std::string> words{};  ///< extra: lets_go_first, sense
    std::map<std::string, double> numbers{};     ///< extra: r
    /// One for each of the report's strides, empty where it was not followed; nothing for what is no mean.
    std::vector<std::optional<double>> by_stride{};
    double stride_sd = 0;  ///< standard deviation of the error of one stride's value
};

/// What is measured in moments, and heights against the horse, all along a stretch.
struct MotionCurve {
    std::string id, spoken, unit;
    std::vector<double> values;  ///< on the report's times, NaN where it was not followed
    std::optional<Band> band{};
};

struct MotionReport {
    std::vector<StrideSpan> strides;  ///< real seconds
    std::string stride_source;        ///< withers, rider, or "" where there are none
    std::string parity;               ///< diagonal, unknown, or "" where every lowest point is a stride
    std::optional<double> tempo_per_min, tempo_cv_pct;
    std::vector<MotionMeasure> measures;
    std::vector<double> times;  ///< real seconds, even; of the curves
    std::vector<MotionCurve> curves{};
};

const MotionMeasure* find(const MotionReport& report, std::string_view id);

/// Pure. Throws nothing for what cannot be said: it stands in the measures' reasons.
MotionReport motion_of(const Tracks& tracks, const MotionSetting& setting, const Body& body,
                       const Schools& schools);

}  // namespace aspen::core
