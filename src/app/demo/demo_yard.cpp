#include "app/demo/demo_yard.hpp"

#include "app/rides/rider_plan.hpp"

#include <QFileInfo>
#include <algorithm>
#include <cmath>
#include <fstream>
#include <nlohmann/json.hpp>
#include <random>

#include "app/files/cache_folder.hpp"
#include "app/review/ride_findings.hpp"
#include "app/rides/follow_plan.hpp"
#include "app/rides/rider_plan.hpp"
#include "app/rides/stride_values.hpp"
#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "media/reading/video_reader.hpp"

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

/// The same with their phases; of a jump its take-off, top and landing.
std::vector<std::pair<int, const char*>> telling_moments(const nlohmann::json& truth,
                                                         const DemoReview& review,
                                                         const media::ClipFacts& facts) {
    std::vector<std::pair<int, const char*>> out;
    if (review.gait == core::Gait::jump) {
        const auto& flight = truth["flights"][0];
        for (const auto& [time, phase] :
             {std::pair{"take_off_s", "take_off"}, {"top_s", "top"}, {"landing_s", "landing"}})
            out.emplace_back(static_cast<int>(std::lround(flight[time].get<double>() * facts.average_fps)),
                             phase);
        return out;
    }
    for (const int frame : telling_frames(truth, review.seat))
        out.emplace_back(frame, review.seat == core::Seat::rising ? "rise_top" : "");
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

namespace {

/// What a coach would do with what was found: accept what is certain, keep the focus, give the first exercise
/// that fits.
void review_ride(Yard& yard, store::RideId id) {
    const auto ride = yard.records().rides.ride(id);
    const core::RideAssessment said = core::assess_ride(ride_data(yard, *ride), yard.knowledge());
    std::vector<Accepted> accepted;
    std::optional<Accepted> focus;
    for (const core::RideFinding& f : said.findings) {
        if (f.found.verdict != core::Verdict::outside) continue;
        store::Finding decided;
        decided.ride = id;
        decided.fault = f.found.fault->id;
        decided.seen = f.seen;
        decided.measured_verdict = "outside";
        decided.measured_severity = f.found.severity;
        decided.decision = store::Decision::accepted;
        decided.decided_on = ride->day;
        decide(yard, decided);
        accepted.push_back({f.found.fault->id, f.seen});
        if (said.focus && said.focus->fault == f.found.fault) focus = accepted.back();
    }
    const core::RiderNeeds needs =
        needs_of(yard.records(), yard.knowledge(), ride->rider, ride->horse, ride->day, &*ride);
    if (focus) {
        for (const core::Offer& offer : yard.knowledge().exercises.offers(focus->fault, needs)) {
            if (!offer.set_aside.empty()) continue;
            prescribe(yard, id, *focus, accepted, *offer.exercise);
            break;
        }
    }
    set_ride_state(yard, id, store::RideState::done);
}

}  // namespace

struct DemoYard::Made {
    IncomingClip incoming;
    std::vector<store::Moment> moments;
    std::vector<DemoReview::Logged> logged;
    double duration_s = 0;
    int frames = 0;
    media::ClipFacts facts;
    std::optional<FollowedStretch> followed;
};

DemoYard::DemoYard(Yard& yard, std::vector<DemoReview> reviews)
    : QObject(&yard), yard_(yard), reviews_(std::move(reviews)) {}

void DemoYard::start() {
    add_people();
    make_next();
}

void DemoYard::add_people() {
    if (!yard_.records().people.riders().empty()) return;
    struct Person {
        const char* name;
        int age;
        const char *school, *level, *goal, *limitations;
    };
    const QDate today = yard_.today();
    yard_.quietly([&](store::YardStore& records) {
        records.settings.set_setting("coach", "Tamsin Quillfeather");
        for (const Person& p :
             {Person{"Bram Oddleif", 41, "stock", "beginner", "ride out without holding on", ""},
              {"Ines Varga-Holt", 34, "classical", "established", "sit the medium trot", "left hip"},
              {"Joss Penhallow", 14, "hunter", "novice", "first hunter class in spring", ""},
              {"Maude Estrell", 27, "jumper", "established", "move up to 1.10 m", ""},
              {"Pell Marrow", 55, "gaited", "novice", "four hours on the trail without a sore back",
               "shoulder"}}) {
            store::Rider r;
            r.name = p.name;
            r.birth_year = today.year() - p.age;
            r.school = p.school;
            r.level = p.level;
            r.goal = p.goal;
            r.id = add_rider(yard_, r);
            set_limitations(yard_, r.id, p.limitations);
            for (const char* use : {"page", "clip"}) {
                if (p.age >= 18) continue;
                store::Consent c{{}, r.id, use, "Guardian of " + r.name, {}};
                c.given_on = today.addDays(-120).toString(Qt::ISODate).toStdString();
                c.until = today.addDays(245).toString(Qt::ISODate).toStdString();
                records.add(c);
            }
        }
        for (const auto& [name, height] : {std::pair{"Bramble Pie", 152},
                                           {"Cobalt", 168},
                                           {"Fig", 157},
                                           {"Old Thunder", 160},
                                           {"Saffron", 165}}) {
            store::Horse horse{{}, name, height, ""};
            if (horse.name == "Cobalt") horse.stiff_side = "left";
            if (horse.name == "Saffron") horse.stage = "green";
            add_horse(yard_, horse);
        }
    });
}

namespace {

DemoYard::Made make(const DemoReview& review, int number, const QString& folder, Job& job) {
    const QString name = QString("demo-%1.mp4").arg(number, 2, 10, QChar('0'));
    const std::filesystem::path file = (folder + "/" + name).toStdString();
    auto truth_file = file;
    truth_file.replace_extension(".truth.json");
    if (!std::filesystem::exists(file) || !std::filesystem::exists(truth_file)) {
        if (!simulate::make_clip(
                review.plan, file, [&job](double share) { job.progress(share); }, &job.stopped()))
            throw media::ReadCancelled{};
    }
    DemoYard::Made made;
    made.incoming = look_at(QString::fromStdString(file.string()), &job.stopped());
    if (!made.incoming.trouble.isEmpty()) throw core::Refused(made.incoming.trouble.toStdString());
    media::VideoReader reader(file, {&job.stopped(), {}});
    made.duration_s = reader.facts().duration_s;
    made.frames = reader.facts().frames;
    if (!review.reviewed) return made;
    std::ifstream in(truth_file);
    const nlohmann::json truth = nlohmann::json::parse(in);
    made.facts = reader.facts();
    made.logged = review.logged;
    for (const auto& flight : truth["flights"]) {
        made.logged.push_back({flight["take_off_s"], "take_off", ""});
        made.logged.push_back({flight["landing_s"], "landing", ""});
    }
    for (const auto& [frame, phase] : telling_moments(truth, review, made.facts)) {
        reader.picture(frame);  // the frame has to be there and decode, as for a coach who looks at it
        store::Moment m;
        m.frame = frame;
        m.time_s = reader.facts().pts_s[static_cast<std::size_t>(frame)];
        m.phase = phase;
        m.figure =
            clicked_figure(points_of(truth["frames"][static_cast<std::size_t>(frame)]), core::View::side,
                           kClickNoisePx, review.plan.ride.seed * 1000 + static_cast<unsigned>(frame));
        made.moments.push_back(std::move(m));
    }
    if (review.followed) {
        FollowPlan plan = plan_to_follow(follow_anchors(made.moments, 0, 0, made.frames - 1),
                                         core::View::side, 0, made.frames - 1);
        plan.file = made.incoming.file;
        plan.hash = made.incoming.hash;
        plan.cache = {cache_folder().toStdString(), made.incoming.hash};
        made.followed = follow(plan, {}, job);
    }
    return made;
}

/// What riders wrote down between their rides, and on which days they ride: two climb, one finds it hard.
void practise(Yard& yard) {
    struct Weeks {
        const char *name, *days;
        std::vector<std::pair<int, int>> rides;  ///< days after it was given, good ones of eight
    };
    yard.quietly([&](store::YardStore& records) {
        for (const store::Rider& rider : records.people.riders()) {
            for (const Weeks& w :
                 {Weeks{"Ines Varga-Holt", "tue thu sat", {{3, 6}, {5, 7}, {8, 7}, {12, 8}, {15, 5}}},
                  {"Joss Penhallow", "wed sat", {{4, 3}, {8, 6}, {11, 7}}},
                  {"Bram Oddleif", "mon fri", {{5, 2}, {9, 5}}},
                  {"Maude Estrell", "tue wed fri sun", {}}}) {
                if (rider.name != w.name || !records.training.practice_of(rider.id).empty()) continue;
                store::RiderPlan plan = records.training.plan_of(rider.id);
                plan.days = w.days;
                records.put(plan);
                const auto shown = plan_for(records, yard.knowledge(), rider.id, yard.today_iso());
                if (!shown || !shown->given) continue;
                for (const auto& [after, good] : w.rides) {
                    store::PracticeEntry e;
                    e.rider = rider.id;
                    if (shown->horse) e.horse = shown->horse->id;
                    e.done.day = core::day_after(shown->given->record.given_on, after);
                    if (e.done.day > yard.today_iso()) continue;
                    e.done.exercise = shown->given->exercise->id;
                    e.done.attempts = 8;
                    e.done.good = good;
                    e.done.guess = good + 1;
                    e.done.feel = good > 5 ? 4 : 3;
                    e.done.by_rider = true;
                    records.add(e);
                }
            }
        }
    });
}

/// What happened beside the corrections, and a clip that was promised and did not come.
void happen(Yard& yard) {
    const auto day = [&](int ago) { return yard.today().addDays(-ago).toString(Qt::ISODate).toStdString(); };
    yard.quietly([&](store::YardStore& records) {
        for (const store::Rider& r : records.people.riders()) {
            const auto lanes = records.work.corrections(r.id);
            if (lanes.empty() || !records.following.milestones_of(r.id).empty() ||
                !records.following.promises_of(r.id).empty())
                continue;
            const store::HorseId horse = lanes.front().horse;
            if (r.name == "Maude Estrell") {
                records.add(store::Milestone{{}, r.id, horse, day(38), "", "saddle", "wider tree"});
                for (const char* gate : {"jump", "two_point"})
                    records.put(store::SignOff{{}, r.id, horse, gate, day(55)});
            } else if (r.name == "Joss Penhallow") {
                for (const char* gate : {"canter", "sits_trot"})
                    records.put(store::SignOff{{}, r.id, horse, gate, day(80)});
                records.add(store::Milestone{{}, r.id, {}, day(45), day(36), "pause", "school trip"});
            } else if (r.name == "Ines Varga-Holt") {
                records.put(store::SignOff{{}, r.id, horse, "no_stirrups", day(30)});
            } else if (r.name == "Pell Marrow") {
                records.add(store::Promise{
                    {},
                    r.id,
                    horse,
                    lanes.front().id,
                    day(32),
                    day(12),
                    "running walk, left side, twenty seconds without stopping\nthe hand and the bit "
                    "in the picture\ncamera square on, still, at the height of the rider's hip",
                    ""});
            }
        }
    });
}

}  // namespace

void DemoYard::make_next() {
    if (done_ == total()) {
        practise(yard_);
        happen(yard_);
        emit finished();
        return;
    }
    // The job's own copy: this object may be gone while a clip is still being painted.
    const DemoReview review = reviews_[static_cast<std::size_t>(done_)];
    yard_.jobs().run(
        JobLane::demo, QString("Painting the demo's clip %1 of %2").arg(done_ + 1).arg(total()), this,
        [review, number = done_, folder = yard_.folder().filePath("clips")](Job& job) {
            return std::make_shared<Made>(make(review, number, folder, job));
        },
        [this, review](const Outcome<std::shared_ptr<Made>>& made) {
            try {
                if (!made.value) throw core::Refused(made.trouble.toStdString());
                record(review, **made.value);
                emit progress(++done_, total());
                make_next();
            } catch (const core::Refused& e) {
                emit failed(QString::fromUtf8(e.what()));
            }
        });
}

/// What the followed joints say, kept as the bench keeps it.
void DemoYard::read_strides(const store::Clip& clip, const Made& made) {
    const auto stretches = yard_.records().rides.stretches(clip.id);
    const auto moments = yard_.records().reviews.moments(clip.id);
    const auto events = yard_.records().reviews.events_in(clip.id);
    const auto ride = yard_.records().rides.ride(yard_.records().rides.places(clip.id).front().ride);
    const auto key = stride_key(clip, 0, stretches, 0, moments, events);
    if (!key || !ride) return;
    const FollowPlan plan =
        plan_to_follow(follow_anchors(moments, 0, 0, made.frames - 1), core::View::side, 0, made.frames - 1);
    const core::MotionSetting setting =
        motion_setting(RiddenIn(yard_.records(), yard_.knowledge(), *ride), stretches, 0, 0, events,
                       {made.facts.width, made.facts.height}, plan.with.trunk_px);
    keep_strides(*key, values_of(motion_report(tracks_of(plan, *made.followed, made.facts.pts_s), setting, {},
                                               yard_.knowledge())));
}

void DemoYard::record(const DemoReview& review, const Made& made) {
    if (yard_.records().rides.clip_with_hash(made.incoming.hash))
        return;  // recorded before the last stop, or in the trash
    auto riders = yard_.records().people.riders();
    auto horses = yard_.records().people.horses();
    const auto rider = std::ranges::find(riders, std::string(review.rider), &store::Rider::name);
    const auto horse = std::ranges::find(horses, std::string(review.horse), &store::Horse::name);
    if (rider == riders.end() || horse == horses.end()) return;  // taken out of the demo by its user
    const QDate day = yard_.today().addDays(-review.days_ago);
    store::Clip clip;
    clip.path = "clips/" + QFileInfo(made.incoming.file).fileName().toStdString();
    clip.hash = made.incoming.hash;
    clip.bytes = made.incoming.bytes;
    clip.duration_s = made.duration_s;
    clip.frames = made.frames;
    clip.recorded_at = day.toString(Qt::ISODate).toStdString() + review.clock;
    clip.told_by = store::ToldBy::container;
    clip.added_on = yard_.today_iso();
    core::Stretches ridden = core::whole_clip();
    core::Stretch& all = ridden.front();
    all.gait = review.gait;
    all.seat = review.seat;
    all.travel = review.plan.camera.travel_left ? core::Travel::left : core::Travel::right;
    if (review.reviewed) {  // the coach drew the upright along a fence post of 0.5 m
        const auto& camera = review.plan.camera;
        const double post_px = 0.5 * camera.height / camera.metres_high;
        all.camera.roll_sd_deg =
            core::roll_sd_from_upright({0, 0}, {0, post_px}, core::click_sd_px(camera.width, camera.height));
        all.camera.roll_marked = true;
    }
    yard_.quietly([&](store::YardStore& records) {
        clip.id = take_in_clip(yard_, clip);
        records.rides.put_stretches(clip.id, ridden);
        const store::RideId own = records.rides.places(clip.id).front().ride;
        auto ride = *records.rides.ride(own);
        ride.day = day.toString(Qt::ISODate).toStdString();
        ride.school = review.school;
        ride.place = review.place;
        ride.own = {review.goal, review.question, review.hurts};
        records.update(ride);
        const store::RideId id = set_pair(yard_, own, rider->id, horse->id, "rider");
        for (store::Moment m : made.moments) {
            m.clip = clip.id;
            add_moment(yard_, m);
        }
        for (const DemoReview::Logged& l : made.logged) {
            store::Event e;
            e.ride = id;
            e.clip = clip.id;
            e.time_s = l.time_s;
            e.event = l.event;
            e.detail = l.detail;
            records.add(e);
        }
        if (made.followed) read_strides(clip, made);
        if (review.reviewed) review_ride(yard_, id);
    });
}

}  // namespace aspen::app

#include "moc_demo_yard.cpp"
