#include "app/rides/ridden_ground.hpp"

#include <Eigen/Dense>
#include <QObject>
#include <algorithm>
#include <cmath>
#include <sstream>

#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

/// The middle of a pair's silhouette above the ground: seen from its side the horse's body is most of it,
/// from its end the rider. Measured on drawn pairs (tests/simulate/gallery_test.cpp); the coach's own marks
/// say more.
constexpr double kMiddleSideM = 1.02, kMiddleEndM = 1.28, kEndShape = 0.35, kSideShape = 0.85;
constexpr double kMiddleSdM = 0.10;      // of another horse and rider
constexpr double kMiddleEachSdM = 0.08;  // from picture to picture
constexpr double kSilhouettePx = 1.5;    // pixels that were looked at
constexpr double kTurnDriftPx = 0.4;     // display pixels a step from picture to picture

double middle_of(const media::PairSeen& p) {
    const double shape = (p.right - p.left) / std::max(1.0, p.bottom - p.top);
    const double side = std::clamp((shape - kEndShape) / (kSideShape - kEndShape), 0.0, 1.0);
    return kMiddleEndM + (kMiddleSideM - kMiddleEndM) * side;
}

struct Carried {
    double x = 0, y = 0, grown = 1;
};
/// Through a homography, and how much larger an error becomes there.
std::optional<Carried> carried_through(const Eigen::Matrix3d& h, double x, double y) {
    const auto at = [&](double px, double py) { return Eigen::Vector3d(h * Eigen::Vector3d(px, py, 1)); };
    const Eigen::Vector3d p = at(x, y), dx = at(x + 1, y), dy = at(x, y + 1);
    constexpr double kLeastDepth =
        0.05;  // of the reference's: beyond that it stands square beside the camera
    if (p.z() < kLeastDepth || dx.z() < kLeastDepth || dy.z() < kLeastDepth) return std::nullopt;
    const Eigen::Vector2d a = p.head<2>() / p.z();
    return Carried{a.x(), a.y(),
                   std::max((dx.head<2>() / dx.z() - a).norm(), (dy.head<2>() / dy.z() - a).norm())};
}

/// How many steps a frame hangs on the first one by.
int steps_to(const media::GroundFilm* film, int frame) {
    if (!film || film->camera.still || film->frames.empty()) return 0;
    const auto at = std::ranges::lower_bound(film->frames, frame);
    const auto n = std::min<std::ptrdiff_t>(at - film->frames.begin(), std::ssize(film->frames) - 1);
    return film->camera.steps[static_cast<std::size_t>(n)];
}

class Laying {
  public:
    Laying(const GroundMarks& marks, const ClipSeen& clip, int slot, const media::GroundFilm* film)
        : marks_(marks), clip_(clip), slot_(slot), film_(film) {}

    RiddenGround done() {
        out_.arena = arena_of(marks_.arena);
        if (film_) {
            out_.still = film_->camera.still;
            const Eigen::Matrix3d middle = middle_of_turns().inverse();
            for (std::size_t i = 0; !out_.still && i < film_->frames.size(); ++i) {
                if (film_->camera.to_first[i])
                    out_.turns.emplace_back(film_->frames[i],
                                            of_one_size(middle * *film_->camera.to_first[i]));
            }
        }
        lay();
        if (!out_.laid) return std::move(out_);
        film_ ? follow_silhouettes() : follow_marks();
        // Held as they are: their error is read from how they scatter.
        core::add_speeds(out_.way);
        hold();
        out_.way = core::smoothed(std::move(out_.way));
        return std::move(out_);
    }

  private:
    static Eigen::Matrix3d of_one_size(const Eigen::Matrix3d& h) { return h / std::cbrt(h.determinant()); }

    /// Of all pictures the one from which the others are turned least: seen from the end of a long pan the
    /// other end lies beside the camera, where a picture has no place.
    Eigen::Matrix3d middle_of_turns() const {
        const Eigen::Vector3d centre(clip_.width / 2.0, clip_.height / 2.0, 1);
        Eigen::Matrix3d best = Eigen::Matrix3d::Identity();
        double most = -2;
        constexpr std::size_t kEvery = 4;
        for (std::size_t r = 0; r < film_->frames.size(); r += kEvery) {
            const auto& from = film_->camera.to_first[r];
            if (!from) continue;
            double least = 2;  // the cosine of the widest turn
            for (const auto& h : film_->camera.to_first) {
                if (h) least = std::min(least, (of_one_size(from->inverse() * *h) * centre).z());
            }
            if (least > most) most = least, best = *from;
        }
        return best;
    }

    void lay() {
        std::vector<core::GroundMark> places;
        std::vector<core::GroundLength> lengths;
        for (const store::ArenaMark& m : marks_.marks) {
            const auto turn = out_.to_laid(m.frame);
            if (m.kind == store::ArenaMarkKind::horse || !turn) continue;
            const double drift = kTurnDriftPx * std::sqrt(static_cast<double>(steps_to(film_, m.frame)));
            const auto a = carried_through(*turn, m.a.x, m.a.y);
            if (!a) continue;
            const double sd = std::hypot(m.sd_px, drift) * a->grown;
            if (m.kind == store::ArenaMarkKind::place) {
                places.push_back({out_.arena.at(m.name), a->x, a->y, sd});
            } else if (const auto b = carried_through(*turn, m.b.x, m.b.y)) {
                lengths.push_back({a->x, a->y, b->x, b->y, m.length_m, sd});
            }
        }
        if (places.size() < 2) {
            out_.trouble = places.empty()
                               ? QObject::tr("nothing of the arena is marked yet")
                               : QObject::tr("one place is marked; a second one gives a first guess");
            return;
        }
        core::CameraSaid said;
        said.picture_width_px = clip_.width;
        said.picture_height_px = clip_.height;
        if (marks_.arena.height_m > 0) said.height_m = marks_.arena.height_m;
        constexpr double kHeightShare = 0.07, kSaidWideSd = 2;
        said.height_sd_m = kHeightShare * marks_.arena.height_m;
        if (marks_.arena.wide_deg > 0) said.wide_deg = marks_.arena.wide_deg, said.wide_sd_deg = kSaidWideSd;
        said.roll_deg = clip_.camera.roll_marked ? clip_.camera.roll_deg : 0;
        said.roll_sd_deg = clip_.camera.roll_sd_deg;
        try {
            out_.laid = core::lay_ground(places, lengths, said);
            out_.guessed = places.size() < 4;
            const core::GroundPoint first = places.front().at;
            const double deep = (out_.laid->homography() * Eigen::Vector3d(first.x, first.y, 1)).z();
            out_.depth_sign = deep < 0 ? -1 : 1;
        } catch (const core::Refused& e) {
            out_.trouble = QString::fromUtf8(e.what());
        }
    }

    double time_of(int frame) const {
        const auto last = static_cast<int>(clip_.times_s.size()) - 1;
        return last < 0 ? 0 : clip_.times_s[static_cast<std::size_t>(std::clamp(frame, 0, last))];
    }

    void add(int frame, core::WayPoint p, double each_sd_m) {
        try {
            p.place = out_.laid->place(p.x, p.y, p.sd_px, p.height_m, std::hypot(p.height_sd_m, each_sd_m));
        } catch (const core::Refused&) {
            return;  // above the horizon: no place on the ground
        }
        constexpr double kFarthestM = 15;  // outside the arena
        const core::GroundPoint g = p.place.at;
        if (g.x < -kFarthestM || g.x > out_.arena.length_m() + kFarthestM ||
            std::abs(g.y) > out_.arena.width_m() / 2 + kFarthestM)
            return;
        p.time_s = time_of(frame);
        out_.way.push_back(p);
        out_.frames.push_back(frame);
    }

    void follow_marks() {
        std::vector<store::ArenaMark> horse;
        for (const store::ArenaMark& m : marks_.marks) {
            if (m.kind == store::ArenaMarkKind::horse && m.slot == slot_) horse.push_back(m);
        }
        std::ranges::sort(horse, {}, &store::ArenaMark::frame);
        for (const store::ArenaMark& m : horse) {
            core::WayPoint p;
            p.x = m.a.x, p.y = m.a.y, p.sd_px = m.sd_px;
            add(m.frame, p, 0);
        }
    }

    std::size_t picture_of(int frame) const {
        const auto& all = film_->frames;
        const auto at = std::ranges::lower_bound(all, frame);
        if (at == all.end()) return all.size() - 1;
        if (at == all.begin()) return 0;
        const auto n = static_cast<std::size_t>(at - all.begin());
        return *at - frame <= frame - all[n - 1] ? n : n - 1;
    }

    /// How much higher than usual this pair's middle is: what the coach's marks under the horse say of it.
    std::pair<double, double> height_by_marks(const std::vector<std::optional<media::PairSeen>>& pair) const {
        double sum = 0, weight = 1 / (kMiddleSdM * kMiddleSdM);
        if (!out_.laid->camera()) return {0, kMiddleSdM};
        const Eigen::Vector2d camera = out_.laid->camera()->head<2>();
        for (const store::ArenaMark& m : marks_.marks) {
            if (m.kind != store::ArenaMarkKind::horse || m.slot != slot_) continue;
            const auto turn = out_.to_laid(m.frame);
            const std::size_t k = picture_of(m.frame);
            if (!turn || !pair[k] || std::abs(film_->frames[k] - m.frame) > 3 || !film_->camera.to_first[k])
                continue;
            const auto foot = carried_through(*turn, m.a.x, m.a.y);
            const auto middle = carried_through(*out_.to_laid(film_->frames[k]), pair[k]->x, pair[k]->y);
            if (!foot || !middle) continue;
            const core::GroundPlace low = out_.laid->place(foot->x, foot->y, m.sd_px * foot->grown),
                                    high = out_.laid->place(middle->x, middle->y, kSilhouettePx);
            const double near = (Eigen::Vector2d(low.at.x, low.at.y) - camera).norm(),
                         far = (Eigen::Vector2d(high.at.x, high.at.y) - camera).norm();
            if (far <= near) continue;
            const double height = out_.laid->camera()->z() * (1 - near / far);
            const double sd = std::hypot(kMiddleEachSdM, out_.laid->camera()->z() / far * low.sd_m);
            sum += (height - middle_of(*pair[k])) / (sd * sd);
            weight += 1 / (sd * sd);
        }
        return {sum / weight, std::sqrt(1 / weight)};
    }

    void follow_silhouettes() {
        std::vector<media::PairHint> hints;
        for (const store::ArenaMark& m : marks_.marks) {
            if (m.kind == store::ArenaMarkKind::horse && m.slot == slot_)
                hints.push_back({picture_of(m.frame), m.a.x, m.a.y});
        }
        const auto pair = media::pair_among(film_->parts, hints);
        const auto [higher, height_sd] = height_by_marks(pair);
        out_.height_sd_m = height_sd;
        out_.by_pictures = true;
        for (std::size_t i = 0; i < pair.size(); ++i) {
            if (!pair[i] || !film_->camera.to_first[i]) continue;
            const media::PairSeen& seen = *pair[i];
            // Cut off by the picture's edge, its middle is another's.
            constexpr double kEdge = 3;
            if (seen.left < kEdge || seen.top < kEdge || seen.right > clip_.width - kEdge ||
                seen.bottom > clip_.height - kEdge)
                continue;
            const auto at = carried_through(*out_.to_laid(film_->frames[i]), seen.x, seen.y);
            if (!at) continue;
            core::WayPoint p;
            p.x = at->x, p.y = at->y;
            p.sd_px =
                at->grown * std::hypot(kSilhouettePx * film_->px_of_picture,
                                       kTurnDriftPx * std::sqrt(static_cast<double>(film_->camera.steps[i])));
            p.height_m = middle_of(seen) + higher;
            p.height_sd_m = height_sd;
            add(film_->frames[i], p, kMiddleEachSdM);
        }
    }

    void hold() {
        for (const store::AskedLine& asked : marks_.asked) {
            if (asked.slot != slot_) continue;
            RiddenGround::Held held{asked, {}, std::nullopt, {}};
            try {
                held.figure = figure_of(asked, out_.arena, clip_.times_s);
                held.ridden = core::hold_against(held.figure, out_.way, {*out_.laid}, out_.arena);
            } catch (const core::Refused& e) {
                held.trouble = QString::fromUtf8(e.what());
            }
            out_.held.push_back(std::move(held));
        }
    }

    const GroundMarks& marks_;
    const ClipSeen& clip_;
    int slot_;
    const media::GroundFilm* film_;
    RiddenGround out_;
};

}  // namespace

core::ArenaFrame arena_of(const store::LaidArena& arena) {
    std::map<std::string, core::GroundPoint> own;
    std::istringstream all(arena.places);
    for (std::string one; std::getline(all, one, ';');) {
        std::istringstream words(one);
        std::string name;
        core::GroundPoint at;
        if (!(words >> name >> at.x >> at.y))
            throw core::Refused(QObject::tr("places \"%1\": must be a name and two numbers of metres")
                                    .arg(QString::fromStdString(one))
                                    .toStdString());
        own[name] = at;
    }
    return {arena.length_m, arena.width_m, std::move(own)};
}

core::AskedFigure figure_of(const store::AskedLine& asked, const core::ArenaFrame& arena,
                            const std::vector<double>& times_s) {
    core::AskedFigure out;
    const auto kind = std::ranges::find(core::kFigureKinds, asked.kind,
                                        [](core::FigureKind k) { return std::string(core::word(k)); });
    if (kind == std::end(core::kFigureKinds))
        throw core::Refused(QObject::tr("figure \"%1\": is no kind that is known")
                                .arg(QString::fromStdString(asked.kind))
                                .toStdString());
    out.kind = *kind;
    const auto time = [&](int frame) {
        const auto last = static_cast<int>(times_s.size()) - 1;
        return last < 0 ? 0 : times_s[static_cast<std::size_t>(std::clamp(frame, 0, last))];
    };
    out.from_s = time(asked.from_frame);
    out.to_s = time(asked.to_frame);
    if (asked.diameter_m > 0) out.diameter_m = asked.diameter_m;
    if (out.kind == core::FigureKind::wall) out.side = asked.at;
    if (out.kind == core::FigureKind::diagonal || out.kind == core::FigureKind::corner)
        out.from = arena.at(asked.at);
    if (out.kind == core::FigureKind::diagonal) out.until = arena.at(asked.until);
    if (out.kind == core::FigureKind::circle && out.diameter_m && !asked.at.empty()) {
        const core::GroundPoint at = arena.at(asked.at);
        // A circle touches the track at its letter and lies inwards of it; one about a letter of the centre
        // line has it in its middle.
        const double r = *out.diameter_m / 2;
        core::GroundPoint centre = at;
        if (at.x <= 0)
            centre.x += r;
        else if (at.x >= arena.length_m())
            centre.x -= r;
        else if (std::abs(at.y) >= arena.width_m() / 2)
            centre.y += at.y > 0 ? -r : r;
        out.centre = centre;
    }
    return out;
}

std::optional<Eigen::Matrix3d> RiddenGround::to_laid(int frame) const {
    if (turns.empty()) return Eigen::Matrix3d(Eigen::Matrix3d::Identity());
    const auto after = std::ranges::lower_bound(turns, frame, {}, &std::pair<int, Eigen::Matrix3d>::first);
    if (after == turns.end()) return turns.back().second;
    if (after == turns.begin() || after->first == frame) return after->second;
    const auto before = after - 1;
    const double share = static_cast<double>(frame - before->first) / (after->first - before->first);
    return Eigen::Matrix3d((1 - share) * before->second + share * after->second);
}

int RiddenGround::nearest(int frame, double frames_a_second) const {
    const auto away = [&](int f) { return std::abs(f - frame); };
    const auto best = std::ranges::min_element(frames, {}, away);
    constexpr double kNearS = 0.5;
    if (best == frames.end() || away(*best) > kNearS * frames_a_second) return -1;
    return static_cast<int>(best - frames.begin());
}

RiddenGround ridden_ground(const GroundMarks& marks, const ClipSeen& clip, int slot,
                           const media::GroundFilm* film) {
    return Laying(marks, clip, slot, film).done();
}

}  // namespace aspen::app
