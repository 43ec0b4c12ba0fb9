#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/body/body.hpp"
#include "core/judging/judgement.hpp"
#include "core/motion/happenings.hpp"
#include "core/motion/hooves.hpp"
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
/// A hoof on one frame, display pixels; hidden ones are left out.
struct HoofSeen {
    int frame = 0;
    double time_s = 0;
    Hoof hoof{};
    Point at;
};
struct Tracks {
    std::vector<TrackPoint> points;  ///< by time; a hidden one is not measured
    std::vector<HoofSeen> hooves{};
    std::map<int, CameraAt> camera;  ///< by frame; empty: the camera's motion is not known
};

struct MotionSetting {
    Setting setting;  ///< an empty school: no bands
    bool seat_said = false;
    View view = View::side;
    Travel travel = Travel::right;
    CameraPose camera;
    double time_scale = 1;  ///< real seconds for one of the stream's
    /// Where both smoothing passes have fallen by 3 dB; empty: 6 Hz, unless residual analysis says otherwise.
    std::optional<double> cutoff_hz{};
    /// Clicks of the marks that the joints were followed from, pixels: what they miss is missed in every
    /// stride. 0: the tracks speak for themselves.
    double anchor_sd_px = 0;
    /// How far following pulls each joint with the stride, pixels: common to all strides too.
    double follow_sd_px = 0;
    /// Scale at the rider, from the horse's height or a pole; 0: not known, and no speed is told.
    double px_per_m = 0, px_per_m_sd = 0;
    std::optional<double> change_at_s{};  ///< a marked change of pace or turn, stream time
    /// take_off, landing, diagonal_…, hoof_on, stride_start, stride_off …, stream time
    std::vector<Happening> events{};
    std::vector<std::string> hold{};  ///< what `strides_held` watches; empty: the school's base measures
};

struct MotionMeasure {
    std::string id, unit;
    std::optional<double> value;   ///< empty: not judged, `reason` says why
    std::optional<double> spread;  ///< standard deviation over the strides; empty for what is no mean
    /// Half-width of the 90 % interval / 1.645: of a mean h^2 = (t spread)^2 / m + (1.645 common)^2, m = n (1
    /// - r) / (1 + r) with r the correlation of neighbouring strides, t with m - 1 degrees of freedom; of an
    /// event from drawing the tracks anew.
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

/// What the stride did around something that was logged: a break, a pole, a turn. Means over up to three
/// strides on either side; empty where there are none, or no speed is known.
struct AroundEvent {
    std::string event;
    double time_s = 0;                                    ///< real
    std::optional<double> tempo_before{}, tempo_after{};  ///< strides a minute
    std::optional<double> speed_before{}, speed_after{};  ///< m/s
    double speed_sd = 0;
};

/// One fence: when, and how the rider went over it. Times are real seconds.
struct FenceSeen {
    double take_off_s = 0, landing_s = 0;
    std::string drift{};  ///< left, right or "" as it was logged
    std::vector<MotionMeasure> measures{};
};

/// A jump that the withers show, real seconds.
struct FlightSeen {
    double take_off_s = 0, top_s = 0, landing_s = 0;
};

struct MotionReport {
    std::vector<StrideSpan> strides;  ///< real seconds
    std::string stride_source;        ///< withers, rider, hooves, or "" where there are none
    std::string parity;               ///< diagonal, hoof, unknown, or "" where every lowest point is a stride
    double cutoff_hz = 0;             ///< that the joints were smoothed with
    std::optional<GaitByHooves> hooves{};  ///< where hooves were followed or logged
    std::optional<double> tempo_per_min, tempo_cv_pct;
    /// Of a trot: the once-per-stride part of the withers' bounce as a share of the bounce itself, where it
    /// is a third or more: uneven, and the horse is to be looked at.
    std::optional<double> uneven{};
    std::vector<MotionMeasure> measures;
    std::vector<double> times;  ///< real seconds, even; of the curves
    std::vector<MotionCurve> curves{};
    std::vector<AroundEvent> around{};
    std::vector<FenceSeen> fences{};    ///< each take-off that was logged with the landing after it
    std::vector<FlightSeen> flights{};  ///< seen in the withers' way, logged or not
};

/// Why an uneven trot judges no rise.
inline constexpr const char* kUnevenTrot = "the trot is uneven: have the horse looked at";

const MotionMeasure* find(const MotionReport& report, std::string_view id);

/// Pure. Throws nothing for what cannot be said: it stands in the measures' reasons.
MotionReport motion_of(const Tracks& tracks, const MotionSetting& setting, const Body& body,
                       const Schools& schools);

}  // namespace aspen::core
