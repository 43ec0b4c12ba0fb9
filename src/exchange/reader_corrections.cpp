#include "exchange/reader_corrections.hpp"

#include <fmt/format.h>

#include <cmath>
#include <ostream>

#include "core/reading/json_reading.hpp"

namespace aspen::exchange {
namespace {

using core::reading::Entry;
using core::reading::Json;

constexpr int kVersion = 1;
constexpr auto kKind = "reader_corrections";
constexpr double kFurthest = 0.5;  // trunk lengths; further off another joint was meant
constexpr int kMostFigures = 1'000'000;
constexpr std::size_t kMostRiders = 10'000;

core::Corrected corrected_in(const Entry& at) {
    const core::Corrected out{{at.number("forward"), at.number("up")}, at.whole_or("figures", 0)};
    for (const auto& [field, value] : {std::pair{"forward", out.mean.f}, std::pair{"up", out.mean.u}}) {
        if (!std::isfinite(value) || std::abs(value) > kFurthest)
            at.complain(field, fmt::format("is not within {} trunk lengths", kFurthest));
    }
    if (out.n < 1 || out.n > kMostFigures) at.complain("figures", "is no number of figures from 1 on");
    return out;
}

}  // namespace

void write_corrections(std::ostream& out, const YardsCorrections& corrections) {
    Json riders = Json::array();
    for (const core::RiderCorrections& rider : corrections.riders) {
        Json joints = Json::object();
        for (const auto& [l, c] : rider)
            joints[std::string(core::id(l))] = {{"forward", c.mean.f}, {"up", c.mean.u}, {"figures", c.n}};
        riders.push_back(joints);
    }
    out << Json{{"kind", kKind}, {"version", kVersion}, {"yard", corrections.yard}, {"riders", riders}}.dump(
               2)
        << '\n';
}

YardsCorrections read_corrections(std::istream& in, const std::string& file) {
    const Json json = core::reading::parse(in, file);
    const Entry whole(json, file, "corrections");
    if (whole.text("kind") != kKind) whole.complain("kind", "is not reader_corrections; choose another file");
    if (whole.whole_or("version", 0) != kVersion)
        whole.complain("version", fmt::format("is not {}; it comes from a newer program", kVersion));
    YardsCorrections out{whole.text("yard"), {}};
    if (out.yard.empty()) whole.complain("yard", "is empty");
    const Json& riders = whole.array("riders");
    if (riders.size() > kMostRiders) whole.complain("riders", "are too many");
    for (const Json& one : riders) {
        const std::string name = fmt::format("rider {}", out.riders.size() + 1);
        const Entry rider(one, file, name);
        core::RiderCorrections& joints = out.riders.emplace_back();
        for (const auto& [id, at] : one.items()) {
            const auto landmark = core::landmark_from(id);
            if (!landmark) rider.complain(id, "is no landmark");
            joints[*landmark] = corrected_in(Entry(at, file, name + ", " + id));
        }
    }
    return out;
}

}  // namespace aspen::exchange
