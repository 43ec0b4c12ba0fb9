#include "exchange/coco.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <nlohmann/json.hpp>
#include <ostream>

#include "core/reading/json_reading.hpp"
#include "core/reading/refused.hpp"
#include "core/ride/ride.hpp"

namespace aspen::exchange {
namespace {

constexpr int kLargestPixel = 100'000;  // no picture is larger, no joint lies further off

using core::Landmark;
using core::Refused;
using core::Visibility;
using Json = nlohmann::json;
using core::reading::Entry;

constexpr int kSideCategory = 1;
constexpr int kFrontalCategory = 2;

Json category(int id, const char* name, core::View view) {
    Json out{{"id", id},
             {"name", name},
             {"supercategory", "person"},
             {"keypoints", Json::array()},
             {"skeleton", Json::array()}};
    const auto list = core::landmarks_of(view);
    for (const Landmark l : list) out["keypoints"].push_back(core::id(l));
    for (const auto& [a, b] : core::segments_of(view)) {
        out["skeleton"].push_back(
            {std::ranges::find(list, a) - list.begin() + 1, std::ranges::find(list, b) - list.begin() + 1});
    }
    return out;
}

Json annotation(const MarkedMoment& m, std::int64_t image) {
    Json keypoints = Json::array(), sd, origin, confirmed;
    double left = 1e300, top = 1e300, right = -1e300, bottom = -1e300;
    int count = 0;
    for (const Landmark l : core::landmarks_of(m.figure.view)) {
        const core::Mark& mark = m.figure[l];
        if (mark.visibility == Visibility::absent) {
            for (int i = 0; i < 3; ++i) keypoints.push_back(0);
            continue;
        }
        ++count;
        keypoints.push_back(mark.at.x);
        keypoints.push_back(mark.at.y);
        keypoints.push_back(static_cast<int>(mark.visibility));
        left = std::min(left, mark.at.x), right = std::max(right, mark.at.x);
        top = std::min(top, mark.at.y), bottom = std::max(bottom, mark.at.y);
        const std::string id(core::id(l));
        sd[id] = mark.sd_px;
        origin[id] = core::word(mark.origin);
        confirmed[id] = mark.confirmed;
    }
    if (count == 0) left = top = right = bottom = 0;
    const core::CameraPose& c = m.figure.camera;
    Json aspen{{"frame", m.frame}, {"view", core::word(m.figure.view)}};
    if (m.time_s) aspen["time_s"] = *m.time_s;
    if (m.real_s) aspen["real_s"] = *m.real_s;
    if (m.figure.travel != core::Travel::unknown) aspen["travel"] = core::word(m.figure.travel);
    if (c.roll_marked) aspen["camera_roll_deg"] = c.roll_deg, aspen["camera_roll_sd_deg"] = c.roll_sd_deg;
    if (c.yaw_marked) aspen["view_yaw_deg"] = c.yaw_deg, aspen["view_yaw_sd_deg"] = c.yaw_sd_deg;
    if (m.gait) aspen["gait"] = core::word(*m.gait);
    if (m.seat) aspen["seat"] = core::word(*m.seat);
    if (m.rein) aspen["rein"] = core::word(*m.rein);
    const auto say = [&](const char* name, const auto& value) {
        if (value) aspen[name] = core::word(*value);
    };
    say("stirrups", m.stirrups), say("reins", m.reins), say("hands", m.hands);
    say("line", m.line), say("mount", m.mount), say("circle_leg", m.circle_leg);
    if (m.circle_radius_m) aspen["circle_radius_m"] = *m.circle_radius_m;
    if (m.field != 0) aspen["field"] = m.field;
    const std::pair<const char*, const std::string*> words[] = {{"school", &m.school},
                                                                {"movement", &m.movement},
                                                                {"phase", &m.phase},
                                                                {"rider_ref", &m.rider_ref},
                                                                {"level", &m.level}};
    for (const auto& [field, text] : words) {
        if (!text->empty()) aspen[field] = *text;
    }
    if (count > 0) aspen["sd_px"] = sd, aspen["origin"] = origin, aspen["confirmed"] = confirmed;
    return {{"id", m.id},
            {"image_id", image},
            {"category_id", m.figure.view == core::View::side ? kSideCategory : kFrontalCategory},
            {"iscrowd", 0},
            {"keypoints", keypoints},
            {"num_keypoints", count},
            {"bbox", {left, top, right - left, bottom - top}},
            {"area", (right - left) * (bottom - top)},
            {"aspen", aspen}};
}

/// Looks a field up in the annotation's own "aspen" and then in its image's.
class Extra {
  public:
    Extra(const Json& annotation, const Json& image, const Entry& where)
        : own_(part(annotation, where)), image_(part(image, where)), where_(where) {}

    const Json* find(const char* field) const {
        if (own_ && own_->contains(field)) return &(*own_)[field];
        if (image_ && image_->contains(field)) return &(*image_)[field];
        return nullptr;
    }
    std::optional<double> number(const char* field) const {
        const Json* j = find(field);
        if (!j) return std::nullopt;
        if (!j->is_number() || !std::isfinite(j->get<double>())) where_.complain(field, "must be a number");
        return j->get<double>();
    }
    std::string text(const char* field) const {
        const Json* j = find(field);
        if (!j) return {};
        if (!j->is_string()) where_.complain(field, "must be a text");
        return j->get<std::string>();
    }
    template <typename T>
    std::optional<T> word(const char* field, std::optional<T> (*from)(std::string_view)) const {
        const std::string w = text(field);
        if (w.empty()) return std::nullopt;
        const auto value = from(w);
        if (!value) where_.complain(field, fmt::format("has the unknown word \"{}\"", w));
        return value;
    }

  private:
    static const Json* part(const Json& of, const Entry& where) {
        const auto it = of.find("aspen");
        if (it == of.end()) return nullptr;
        if (!it->is_object()) where.complain("aspen", "must be an object");
        return &*it;
    }
    const Json* own_;
    const Json* image_;
    const Entry& where_;
};

/// Category id to the landmarks of its key points.
std::map<std::int64_t, std::vector<Landmark>> read_categories(const Entry& top, const std::string& file) {
    std::map<std::int64_t, std::vector<Landmark>> out;
    for (const Json& one : top.array("categories")) {
        const Entry entry(one, file, "category");
        const std::string name = entry.text("name");
        if (name != "rider_side" && name != "rider_frontal") continue;
        std::vector<Landmark> list;
        for (const std::string& word : entry.texts_or_none("keypoints")) {
            const auto l = core::landmark_from(word);
            if (!l) entry.complain("keypoints", fmt::format("has the unknown landmark \"{}\"", word));
            list.push_back(*l);
        }
        out[entry.whole_or("id", 0)] = std::move(list);
    }
    if (out.empty()) top.complain("categories", "holds neither rider_side nor rider_frontal");
    return out;
}

void read_camera(const Extra& extra, const Entry& entry, core::CameraPose& camera) {
    const auto not_negative = [&](const char* field, double otherwise) {
        const double v = extra.number(field).value_or(otherwise);
        if (v < 0) entry.complain(field, "must not be negative");
        return v;
    };
    if (const auto roll = extra.number("camera_roll_deg")) camera.roll_deg = *roll, camera.roll_marked = true;
    if (const auto yaw = extra.number("view_yaw_deg")) camera.yaw_deg = *yaw, camera.yaw_marked = true;
    camera.roll_sd_deg = not_negative("camera_roll_sd_deg", camera.roll_sd_deg);
    camera.yaw_sd_deg = not_negative("view_yaw_sd_deg", camera.yaw_sd_deg);
}

/// What a joint that the program placed and nobody moved is off by, where the file does not say.
void add_errors_of_way(core::Figure& f, const std::vector<Landmark>& unsaid,
                       const core::FigureErrors& errors) {
    const double trunk = core::marked_trunk_px(f);
    for (const Landmark l : unsaid) {
        core::Mark& mark = f[l];
        if (mark.origin == core::Origin::clicked || !(trunk > 0)) continue;
        mark.sd_px = trunk * (mark.origin == core::Origin::laid ? core::kLaidInPlaceSdTrunk
                                                                : errors.of(mark.origin, l));
    }
}

void read_marks(const Entry& entry, const Extra& extra, const std::vector<Landmark>& list, MarkedMoment& m,
                const core::FigureErrors& errors) {
    const Json& keypoints = entry.array("keypoints");
    if (keypoints.size() != 3 * list.size())
        entry.complain("keypoints", fmt::format("must hold {} numbers", 3 * list.size()));
    for (const Json& k : keypoints) {
        if (!k.is_number() || !std::isfinite(k.get<double>()))
            entry.complain("keypoints", "must hold numbers only");
        if (std::abs(k.get<double>()) > kLargestPixel)
            entry.complain("keypoints", fmt::format("has a place more than {} pixels away", kLargestPixel));
    }
    const Json* sd = extra.find("sd_px");
    const Json* origin = extra.find("origin");
    const Json* confirmed = extra.find("confirmed");
    const auto own = [](const Json* table, const std::string& id) {
        return table && table->is_object() && table->contains(id) ? &(*table)[id] : nullptr;
    };
    std::vector<Landmark> unsaid;
    for (std::size_t i = 0; i < list.size(); ++i) {
        const double v = keypoints[3 * i + 2].get<double>();
        if (v != 0 && v != 1 && v != 2) entry.complain("keypoints", "has a visibility other than 0, 1 and 2");
        if (v == 0) continue;
        core::Mark& mark = m.figure[list[i]];
        mark.at = {keypoints[3 * i].get<double>(), keypoints[3 * i + 1].get<double>()};
        mark.visibility = static_cast<Visibility>(static_cast<int>(v));
        mark.sd_px = core::click_sd_px(m.width, m.height);
        const std::string id(core::id(list[i]));
        const Json* own_sd = sd && sd->is_number() ? sd : own(sd, id);
        if (own_sd) {
            if (!own_sd->is_number() || own_sd->get<double>() < 0)
                entry.complain("sd_px", "must be a number not below 0");
            mark.sd_px = own_sd->get<double>();
        }
        if (const Json* o = own(origin, id)) {
            const auto value = o->is_string() ? core::origin_from(o->get<std::string>()) : std::nullopt;
            if (!value) entry.complain("origin", "must be clicked, carried, proposed or laid");
            mark.origin = *value;
            mark.confirmed = *value == core::Origin::clicked || *value == core::Origin::carried;
        }
        if (!own_sd) unsaid.push_back(list[i]);
        const Json* c = confirmed && confirmed->is_boolean() ? confirmed : own(confirmed, id);
        if (c) {
            if (!c->is_boolean()) entry.complain("confirmed", "must be true or false");
            mark.confirmed = c->get<bool>();
        }
    }
    add_errors_of_way(m.figure, unsaid, errors);
}

void check_order(const std::vector<MarkedMoment>& moments, const std::string& file) {
    std::map<std::pair<std::string, int>, double> times;
    for (const MarkedMoment& m : moments) {
        if (!m.time_s) continue;
        const auto [it, fresh] = times.emplace(std::pair{m.file_name, m.frame}, *m.time_s);
        if (!fresh && std::abs(it->second - *m.time_s) > 1e-3) {
            throw Refused(
                fmt::format("{}: frame {} stands with two times, {} s and {} s; correct one of them", file,
                            m.frame, it->second, *m.time_s));
        }
    }
    for (auto it = times.begin(); it != times.end(); ++it) {
        const auto next = std::next(it);
        if (next != times.end() && next->first.first == it->first.first && next->second <= it->second) {
            throw Refused(
                fmt::format("{}: frame {} at {} s comes after frame {} at {} s; correct frame or time", file,
                            next->first.second, next->second, it->first.second, it->second));
        }
    }
}

MarkedMoment read_moment(const Json& one, const Json& image, const std::vector<Landmark>& list,
                         const std::string& file, const core::FigureErrors& errors) {
    const Entry entry(one, file,
                      fmt::format("annotation {}", one.contains("id") ? one["id"].dump() : "without id"));
    const Entry picture(image, file,
                        fmt::format("image of {}", one.contains("id") ? one["id"].dump() : "an annotation"));
    const Extra extra(one, image, entry);
    MarkedMoment m;
    if (one.contains("id") && !core::reading::whole(one["id"]))
        entry.complain("id", "must be a whole number");
    m.id = one.contains("id") ? *core::reading::whole(one["id"]) : 0;
    m.file_name = picture.text_or("file_name", "");
    m.width = picture.whole_or("width", 0);
    m.height = picture.whole_or("height", 0);
    if (m.width <= 0 || m.height <= 0 || m.width > kLargestPixel || m.height > kLargestPixel)
        picture.complain("width/height", fmt::format("must be whole numbers from 1 to {}", kLargestPixel));
    const double frame = extra.number("frame").value_or(0);
    if (frame < 0 || frame != std::floor(frame) || frame > 1e9)
        entry.complain("frame", "must be a whole number from 0");
    m.frame = static_cast<int>(frame);
    m.time_s = extra.number("time_s");
    m.real_s = extra.number("real_s");
    const bool frontal = std::ranges::find(list, Landmark::horse_mid) != list.end();
    m.figure.view = extra.word<core::View>("view", core::view_from)
                        .value_or(frontal ? core::View::rear : core::View::side);
    if (frontal == (m.figure.view == core::View::side))
        entry.complain("view", "does not go with the category");
    m.figure.travel = extra.word<core::Travel>("travel", core::travel_from).value_or(core::Travel::unknown);
    m.gait = extra.word<core::Gait>("gait", core::gait_from);
    m.seat = extra.word<core::Seat>("seat", core::seat_from);
    m.rein = extra.word<core::Rein>("rein", core::rein_from);
    const double field = extra.number("field").value_or(0);
    if (field != 0 && field != 1) entry.complain("field", "must be 0 or 1");
    m.field = static_cast<int>(field);
    m.school = extra.text("school");
    m.movement = extra.text("movement");
    if (!m.movement.empty() && !core::is_movement(m.movement))
        entry.complain("movement", fmt::format("has the unknown word \"{}\"", m.movement));
    m.phase = extra.text("phase");
    if (!m.phase.empty() && !core::is_phase(m.phase))
        entry.complain("phase", fmt::format("has the unknown word \"{}\"", m.phase));
    m.rider_ref = extra.text("rider_ref");
    m.stirrups = extra.word<core::Stirrups>("stirrups", core::from_word<core::Stirrups>);
    m.reins = extra.word<core::ReinsHeld>("reins", core::from_word<core::ReinsHeld>);
    m.hands = extra.word<core::Hands>("hands", core::from_word<core::Hands>);
    m.line = extra.word<core::Line>("line", core::from_word<core::Line>);
    m.mount = extra.word<core::Mount>("mount", core::from_word<core::Mount>);
    m.circle_leg = extra.word<core::CircleLeg>("circle_leg", core::from_word<core::CircleLeg>);
    m.circle_radius_m = extra.number("circle_radius_m");
    if (m.circle_radius_m && !(*m.circle_radius_m > 0))
        entry.complain("circle_radius_m", "must be larger than 0");
    m.level = extra.text("level");
    if (!m.level.empty() && m.level != "beginner" && m.level != "novice" && m.level != "established")
        entry.complain("level", "must be beginner, novice or established");
    read_camera(extra, entry, m.figure.camera);
    read_marks(entry, extra, list, m, errors);
    return m;
}

}  // namespace

core::Setting MarkedMoment::setting() const {
    core::Setting s;
    if (gait && seat) s.school = school;
    s.gait = gait.value_or(core::Gait::walk);
    s.seat = seat.value_or(core::Seat::sitting);
    s.phase = phase;
    s.movement = movement;
    s.stirrups = stirrups;
    s.reins = reins;
    s.hands = hands;
    s.line = line;
    s.mount = mount;
    s.rein = rein;
    s.level = level;
    s.circle_leg = circle_leg ? circle_leg : core::circle_leg_of(rein, figure.travel);
    return s;
}

void write_coco(std::ostream& out, const std::vector<MarkedMoment>& moments) {
    Json json;
    json["info"] = {{"description", "Rider landmarks, Aspen Crest"}, {"version", "1"}};
    json["categories"] = {category(kSideCategory, "rider_side", core::View::side),
                          category(kFrontalCategory, "rider_frontal", core::View::rear)};
    json["images"] = Json::array();
    json["annotations"] = Json::array();
    std::int64_t image = 0;
    for (const MarkedMoment& m : moments) {
        ++image;
        json["images"].push_back(
            {{"id", image}, {"file_name", m.file_name}, {"width", m.width}, {"height", m.height}});
        json["annotations"].push_back(annotation(m, image));
    }
    out << json.dump(1) << '\n';
}

std::vector<MarkedMoment> read_coco(std::istream& in, const std::string& file,
                                    const core::FigureErrors& errors) {
    const Json json = core::reading::parse(in, file);
    const Entry top(json, file, "marks");
    const auto categories = read_categories(top, file);
    std::map<std::int64_t, const Json*> images;
    for (const Json& image : top.array("images")) {
        const Entry entry(image, file, "image");
        const auto id = image.contains("id") ? core::reading::whole(image["id"]) : std::nullopt;
        if (!id) entry.complain("id", "must be a whole number");
        images[*id] = &image;
    }
    std::vector<MarkedMoment> out;
    for (const Json& one : top.array("annotations")) {
        const Entry entry(one, file, "annotation");
        const auto category = categories.find(entry.whole_or("category_id", 0));
        if (category == categories.end())
            entry.complain("category_id", "is neither rider_side nor rider_frontal");
        const auto number = one.contains("image_id") ? core::reading::whole(one["image_id"]) : std::nullopt;
        const auto image = number ? images.find(*number) : images.end();
        if (image == images.end()) entry.complain("image_id", "names no image");
        out.push_back(read_moment(one, *image->second, category->second, file, errors));
    }
    check_order(out, file);
    return out;
}

void check_times(const std::vector<MarkedMoment>& moments, const std::vector<double>& pts_s,
                 const std::string& file) {
    for (const MarkedMoment& m : moments) {
        if (m.frame >= static_cast<int>(pts_s.size()))
            throw Refused(
                fmt::format("{}: frame {} is past the clip's last, {}; choose the marks of this clip", file,
                            m.frame, pts_s.size() - 1));
        if (!m.time_s) continue;
        const auto n = static_cast<std::size_t>(m.frame);
        const double step =
            pts_s.size() > 1 ? (pts_s.back() - pts_s.front()) / static_cast<double>(pts_s.size() - 1) : 1.0;
        const double half = m.field == 1 ? step / 2 : 0;  // the second field is half a frame later
        if (std::abs(pts_s[n] + half - *m.time_s) > step / 2) {
            throw Refused(fmt::format(
                "{}: frame {} is at {:.3f} s in this clip, not at {:.3f} s; choose the marks of this clip",
                file, m.frame, pts_s[n], *m.time_s));
        }
    }
}

}  // namespace aspen::exchange
