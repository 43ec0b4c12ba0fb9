#include "app/demo_yard.hpp"

#include <QFileInfo>
#include <algorithm>
#include <cmath>
#include <fstream>
#include <nlohmann/json.hpp>
#include <random>

#include "core/refused.hpp"
#include "media/video_reader.hpp"

namespace aspen::app {
namespace {

constexpr double kClickNoisePx = 2.0;
constexpr int kMomentsPerReview = 3;

std::map<std::string, simulate::TruePoint> points_of(const nlohmann::json& frame) {
    std::map<std::string, simulate::TruePoint> out;
    for (const auto& [name, p] : frame["landmarks"].items()) out[name] = {p[0], p[1], p[2].get<int>() == 1};
    return out;
}

/// Frames a coach would stop on: the top of the rise in rising trot, else about one a second in the same
/// phase.
std::vector<int> telling_frames(const nlohmann::json& truth, core::Seat seat) {
    const double wanted = seat == core::Seat::rising ? 0.44 : 0.10;
    std::vector<std::pair<double, int>> by_stride;
    std::map<int, std::pair<double, int>> best;
    int n = 0;
    for (const auto& frame : truth["frames"]) {
        const double phase = frame["phase"].get<double>() - wanted;
        const int stride = static_cast<int>(std::lround(phase));
        const double off = std::abs(phase - stride);
        if (n > 3 && (!best.contains(stride) || off < best[stride].first)) best[stride] = {off, n};
        ++n;
    }
    std::vector<int> out;
    for (const auto& [stride, hit] : best) {
        if (hit.first < 0.06) out.push_back(hit.second);
    }
    while (static_cast<int>(out.size()) > kMomentsPerReview)
        out.erase(out.begin() + static_cast<std::ptrdiff_t>(out.size() / 2));
    return out;
}

}  // namespace

core::Figure clicked_figure(const std::map<std::string, simulate::TruePoint>& truth, core::View view,
                            double sd_px, unsigned seed) {
    std::mt19937 engine(seed);
    std::normal_distribution<double> noise(0.0, sd_px);
    core::Figure figure;
    figure.view = view;
    for (const core::Landmark l : core::landmarks_of(view)) {
        const auto it = truth.find(std::string(core::id(l)));
        if (it == truth.end()) continue;
        core::Mark& mark = figure[l];
        mark.at = {it->second.x + noise(engine), it->second.y + noise(engine)};
        mark.visibility = it->second.hidden ? core::Visibility::hidden : core::Visibility::seen;
        mark.sd_px = sd_px;
    }
    return figure;
}

struct DemoYard::Made {
    IncomingClip incoming;
    std::vector<store::Moment> moments;
    double duration_s = 0;
};

DemoYard::DemoYard(Yard& yard, std::vector<DemoReview> reviews)
    : QObject(&yard), yard_(yard), reviews_(std::move(reviews)), folder_(yard.folder().filePath("clips")) {}

DemoYard::~DemoYard() {
    stop_ = true;
    if (thread_.joinable()) thread_.join();
}

void DemoYard::start() {
    add_people();
    thread_ = std::thread([this] { work(); });
}

void DemoYard::add_people() {
    if (!yard_.records().riders().empty()) return;
    const QDate today = yard_.today();
    const std::string said = today.addDays(-120).toString(Qt::ISODate).toStdString();
    const std::string until = today.addDays(245).toString(Qt::ISODate).toStdString();
    const int year = today.year();
    yard_.without_undo([&] {
        yard_.records().set_setting("coach", "Tamsin Quillfeather");
        yard_.add_rider({{},
                         "Bram Oddleif",
                         year - 41,
                         "stock",
                         "beginner",
                         "ride out without holding on",
                         "",
                         "",
                         "",
                         ""});
        yard_.add_rider({{},
                         "Ines Varga-Holt",
                         year - 34,
                         "classical",
                         "established",
                         "sit the medium trot",
                         "hip",
                         "",
                         "",
                         ""});
        yard_.add_rider({{},
                         "Joss Penhallow",
                         year - 14,
                         "hunter",
                         "novice",
                         "first hunter class in spring",
                         "",
                         "Guardian of Joss Penhallow",
                         said,
                         until});
        yard_.add_rider(
            {{}, "Maude Estrell", year - 27, "jumper", "established", "move up to 1.10 m", "", "", "", ""});
        yard_.add_rider({{},
                         "Pell Marrow",
                         year - 55,
                         "gaited",
                         "novice",
                         "four hours on the trail without a sore back",
                         "shoulder",
                         "",
                         "",
                         ""});
        for (const auto& [name, height] : {std::pair{"Bramble Pie", 152},
                                           {"Cobalt", 168},
                                           {"Fig", 157},
                                           {"Old Thunder", 160},
                                           {"Saffron", 165}}) {
            yard_.add_horse({{}, name, height, ""});
        }
    });
}

DemoYard::Made DemoYard::make(const DemoReview& review, int number) {
    const QString name = QString("demo-%1.mp4").arg(number, 2, 10, QChar('0'));
    const std::filesystem::path file = (folder_ + "/" + name).toStdString();
    auto truth_file = file;
    truth_file.replace_extension(".truth.json");
    if (!std::filesystem::exists(file) || !std::filesystem::exists(truth_file)) {
        if (!simulate::make_clip(review.plan, file, {}, &stop_)) throw media::ReadCancelled{};
    }
    Made made{look_at(QString::fromStdString(file.string())), {}, 0};
    if (!made.incoming.trouble.isEmpty()) throw core::Refused(made.incoming.trouble.toStdString());
    media::VideoReader reader(file, {&stop_, {}});
    made.duration_s = reader.facts().duration_s;
    if (!review.reviewed) return made;
    std::ifstream in(truth_file);
    const nlohmann::json truth = nlohmann::json::parse(in);
    for (const int frame : telling_frames(truth, review.seat)) {
        reader.picture(frame);  // the frame has to be there and decode, as for a coach who looks at it
        store::Moment m;
        m.frame = frame;
        m.time_s = reader.facts().pts_s[static_cast<std::size_t>(frame)];
        if (review.seat == core::Seat::rising) m.phase = "rise_top";
        m.figure =
            clicked_figure(points_of(truth["frames"][static_cast<std::size_t>(frame)]), core::View::side,
                           kClickNoisePx, review.plan.ride.seed * 1000 + static_cast<unsigned>(frame));
        made.moments.push_back(std::move(m));
    }
    return made;
}

void DemoYard::work() {
    int number = 0;
    for (const DemoReview& review : reviews_) {
        if (stop_) return;
        try {
            auto made = std::make_shared<Made>(make(review, number++));
            QMetaObject::invokeMethod(this, [this, &review, made] {
                try {
                    record(review, *made);
                    emit progress(++done_, total());
                    if (done_ == total()) emit finished();
                } catch (const std::exception& e) {
                    emit failed(QString::fromUtf8(e.what()));
                }
            });
        } catch (const media::ReadCancelled&) {
            return;
        } catch (const std::exception& e) {
            QMetaObject::invokeMethod(this,
                                      [this, line = QString::fromUtf8(e.what())] { emit failed(line); });
            return;
        }
    }
}

void DemoYard::record(const DemoReview& review, const Made& made) {
    if (yard_.records().clip_with_hash(made.incoming.hash))
        return;  // recorded before the last stop, or in the trash
    auto riders = yard_.records().riders();
    auto horses = yard_.records().horses();
    const auto rider = std::ranges::find(riders, std::string(review.rider), &store::Rider::name);
    const auto horse = std::ranges::find(horses, std::string(review.horse), &store::Horse::name);
    if (rider == riders.end() || horse == horses.end()) return;  // taken out of the demo by its user
    store::Clip clip;
    clip.path = "clips/" + QFileInfo(made.incoming.file).fileName().toStdString();
    clip.hash = made.incoming.hash;
    clip.bytes = made.incoming.bytes;
    clip.duration_s = made.duration_s;
    clip.filmed_on = yard_.today().addDays(-review.days_ago).toString(Qt::ISODate).toStdString();
    clip.added_on = yard_.today().toString(Qt::ISODate).toStdString();
    clip.context = {rider->id,
                    horse->id,
                    review.school,
                    review.gait,
                    review.seat,
                    core::View::side,
                    review.plan.camera.travel_left ? core::Travel::left : core::Travel::right,
                    {},
                    {}};
    if (review.reviewed) {  // the coach drew the upright along a fence post of 0.5 m
        const double post_px = 0.5 * review.plan.camera.height / review.plan.camera.metres_high;
        clip.context.camera.roll_sd_deg = core::roll_sd_from_upright(
            {0, 0}, {0, post_px}, core::click_sd_px(review.plan.camera.width, review.plan.camera.height));
        clip.context.camera.roll_marked = true;
    }
    yard_.without_undo([&] {
        clip.id = yard_.add_clip(clip);
        if (!review.reviewed) return;
        std::vector<std::vector<core::FoundFault>> each;
        for (store::Moment m : made.moments) {
            m.clip = clip.id;
            yard_.add_moment(m);
            m.figure.travel = clip.context.travel;
            m.figure.camera = clip.context.camera;
            each.push_back(core::assess(m.figure, {review.school, review.gait, review.seat, m.phase, {}},
                                        yard_.knowledge())
                               .faults);
        }
        const auto found = yard_.knowledge().faults.merge(each);
        std::vector<std::string> accepted, in_work;
        for (const core::FoundFault& f : found) {
            if (f.verdict != core::Verdict::outside) continue;
            yard_.decide(
                {clip.id, f.fault->id, "outside", f.severity, store::Decision::accepted, {}, clip.filmed_on});
            accepted.push_back(f.fault->id);
        }
        for (const store::Correction& c : yard_.records().corrections(rider->id)) {
            if (c.focus) in_work.push_back(c.fault);
        }
        const auto focus = core::choose_focus(found, yard_.knowledge().faults.causes_among(found), in_work);
        const core::RiderNeeds needs{rider->level, {rider->limitations}};
        if (focus) {
            for (const core::Offer& offer : yard_.knowledge().exercises.offers(focus->fault->id, needs)) {
                if (!offer.set_aside.empty()) continue;
                yard_.prescribe(clip.id, focus->fault->id, accepted, *offer.exercise);
                break;
            }
        }
        yard_.set_clip_state(clip.id, store::ClipState::done);
    });
}

}  // namespace aspen::app
