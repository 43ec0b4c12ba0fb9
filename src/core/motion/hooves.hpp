#pragma once

#include <array>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/body/geometry.hpp"
#include "core/motion/happenings.hpp"

/// Footfalls: when each hoof lands and lifts, from hooves followed or from keys pressed in slow play, and
/// what they say of the gait: beats, lead, limb phase and duty.
namespace aspen::core {

enum class Hoof : unsigned char { left_hind, left_fore, right_hind, right_fore };
inline constexpr std::array kHooves{Hoof::left_hind, Hoof::left_fore, Hoof::right_hind, Hoof::right_fore};
constexpr std::size_t index(Hoof h) { return static_cast<std::size_t>(h); }
constexpr bool is_fore(Hoof h) { return h == Hoof::left_fore || h == Hoof::right_fore; }
constexpr bool is_left(Hoof h) { return h == Hoof::left_hind || h == Hoof::left_fore; }
/// "left_hind" in files, "left hind" on screen.
std::string_view id(Hoof hoof);
std::string_view spoken(Hoof hoof);
std::optional<Hoof> hoof_from(std::string_view id);

/// A hoof on one frame; what is hidden is left out. Pixels with the camera's motion taken out, y down.
struct HoofPoint {
    double time_s = 0;  ///< real
    Hoof hoof{};
    Point at;
};

struct Footfall {
    Hoof hoof{};
    double landing_s = 0;
    std::optional<double> lift_s{};  ///< when it leaves the ground again, where that is known
};

/// Landings and lifts of followed hooves, in time order: a hoof is on the ground while it lies near the
/// lowest it goes, and, where the camera's motion is known, stands still besides. `roll_deg`: of the camera.
std::vector<Footfall> footfalls_of(std::span<const HoofPoint> points, bool camera_known, double roll_deg = 0);
/// Those logged by key: `hoof_on` and `hoof_off` with `hoof=left_hind` and so on in their detail.
std::vector<Footfall> footfalls_of(const std::vector<Happening>& events);

/// What footfalls say of the gait. Shares are of the stride, from the landing of the reference hoof (a hind
/// one where one is known).
struct GaitByHooves {
    Hoof reference{};
    std::vector<double> starts_s{};  ///< landings of the reference: where strides start
    int strides = 0;
    double stride_s = 0;
    std::array<std::optional<double>, 4> landing{};  ///< mean share, 0 … 1
    std::array<std::optional<double>, 4> duty{};     ///< mean share of the stride on the ground
    /// Of the hind feet, % of the stride; and by how much of it the fore foot of the same side lands after
    /// the hind one (Hildebrand 1965, "Symmetrical gaits of horses", Science 150), mean of both sides, with
    /// the standard deviation over the strides.
    std::optional<double> duty_pct{}, limb_phase_pct{};
    double limb_phase_sd_pct = 0;
    /// Of a symmetrical gait after Hildebrand: "trot", "pace", "lateral sequence, single foot" …; "" where
    /// left and right do not come half a stride apart, or no limb phase is known.
    std::string name{};
    std::optional<int> beats{};       ///< of a stride whose four landings are known
    std::optional<bool> left_lead{};  ///< of a gallop or canter: the fore foot that lands last before the gap
};
/// Empty below two whole strides of one hoof.
std::optional<GaitByHooves> gait_by_hooves(std::span<const Footfall> footfalls);
/// What it says in a coach's words, line by line.
std::vector<std::string> in_words(const GaitByHooves& gait);

/// The fore foot of the diagonal on which a rider sits down: the one whose landing lies nearest to the
/// sits, by most of them. Empty with no such landings, or where as many speak for the other.
std::optional<Hoof> sits_on(std::span<const Footfall> footfalls, std::span<const double> sits_s);

/// Hildebrand's name for a symmetrical gait, by the limb phase alone (eighths of the stride, from memory).
std::string_view symmetrical_gait(double limb_phase_pct);

}  // namespace aspen::core
