#include "cli/verbs.hpp"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <algorithm>
#include <array>
#include <charconv>
#include <fstream>
#include <iostream>
#include <nlohmann/json.hpp>

#include "app/files/cache_folder.hpp"
#include "app/files/data_files.hpp"
#include "cli/calc_verb.hpp"
#include "cli/happenings_json.hpp"
#include "cli/judgement_json.hpp"
#include "cli/motion_verb.hpp"
#include "cli/painter.hpp"
#include "cli/training_verbs.hpp"
#include "cli/usage.hpp"
#include "cli/yard_at.hpp"
#include "core/arena/ground_reading.hpp"
#include "core/motion/happening_words.hpp"
#include "core/reading/json_reading.hpp"
#include "core/reading/refused.hpp"
#include "core/ride/ride.hpp"
#include "exchange/coco.hpp"
#include "exchange/events.hpp"
#include "media/reading/video_reader.hpp"
#include "media/writing/png.hpp"

namespace aspen::cli {
namespace {

using Json = nlohmann::ordered_json;
using core::Refused;

/// What was said on the command line; each verb reads its own part.
struct Said {
    std::string file, number, out, school, gait, seat, words, level, checks;
    std::vector<std::string> in_work;
    std::optional<double> tempo;
    MotionSaid motion;
    bool json = false, hash = false;
};

/// What decoding once settled of an odd clip is kept, so that a script asking frame after frame pays for it
/// once.
media::ReaderOptions remembering() {
    return {std::size_t{64} << 20, media::OrderCache(app::cache_folder().toStdString(), {})};
}

int frames(const Said& said, std::ostream& out) {
    const media::VideoReader reader(said.file, {}, remembering());
    const media::ClipFacts& f = reader.facts();
    if (!said.json) {
        out << fmt::format("{} frames, {} x {}, {:.3f} s, {:.3f} frames a second{}\n", f.frames, f.width,
                           f.height, f.duration_s, f.average_fps, f.variable_rate ? ", variable rate" : "");
        return kDone;
    }
    out << Json{{"frames", f.frames},
                {"width", f.width},
                {"height", f.height},
                {"rotation_deg", f.rotation_deg},
                {"duration_s", f.duration_s},
                {"average_fps", f.average_fps},
                {"variable_rate", f.variable_rate},
                {"time_source", media::word(f.time_source)},
                {"pts_s", f.pts_s}}
               .dump(1)
        << '\n';
    return kDone;
}

int frame(const Said& said, std::ostream& out) {
    int n = -1;
    const std::string& text = said.number;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), n);
    if (error != std::errc() || end != text.data() + text.size() || n < 0)
        throw WrongUsage("frame number must be a whole number from 0, not \"" + text + "\"");
    if (!said.hash && said.out.empty()) throw WrongUsage("say -o out.png or --hash");
    media::VideoReader reader(said.file, {}, remembering());
    if (n >= reader.facts().frames) {
        throw Refused(
            fmt::format("{}: has no frame {}; its last is {}", said.file, n, reader.facts().frames - 1));
    }
    if (!said.out.empty()) media::write_png(reader.picture(n), said.out);
    if (said.hash) out << reader.native_md5(n) << '\n';
    return kDone;
}

void override_setting(exchange::MarkedMoment& m, const Said& said, const core::Knowledge& knowledge) {
    if (const std::string s = said.school; !s.empty()) m.school = s;
    if (const std::string g = said.gait; !g.empty()) {
        m.gait = core::gait_from(g);
        if (!m.gait) throw WrongUsage("unknown gait \"" + g + "\"");
    }
    if (const std::string t = said.seat; !t.empty()) {
        m.seat = core::seat_from(t);
        if (!m.seat) throw WrongUsage("unknown seat \"" + t + "\"");
    }
    if (!m.school.empty() && !knowledge.schools.find(m.school)) {
        throw Refused(
            fmt::format("annotation {}: school \"{}\" is not known; `schools` lists them", m.id, m.school));
    }
}

core::RideMoment ride_moment(const exchange::MarkedMoment& m) {
    core::RideMoment out;
    out.figure = m.figure;
    out.setting = m.setting();
    out.seen = {m.gait, m.seat,
                m.figure.view == core::View::side ? std::string(core::word(m.figure.travel)) : std::string()};
    return out;
}

/// The moment of a frame, else the last before it, else the first.
std::size_t moment_at(const std::vector<exchange::MarkedMoment>& marked, int frame) {
    std::optional<std::size_t> best;
    for (std::size_t i = 0; i < marked.size(); ++i) {
        if (marked[i].frame <= frame && (!best || marked[i].frame > marked[*best].frame)) best = i;
    }
    return best.value_or(0);
}

/// The coach's answers: each belongs to the annotation of its frame, else to the last before it, else to the
/// first.
std::vector<core::CheckAnswer> read_checks(const std::string& file,
                                           const std::vector<exchange::MarkedMoment>& marked,
                                           const core::Knowledge& known) {
    std::ifstream in(file);
    if (!in) throw Refused(file + ": cannot be opened; check the path");
    const auto json = core::reading::parse(in, file);
    std::vector<core::CheckAnswer> out;
    for (const auto& one : core::reading::Entry(json, file, "file").array("checks")) {
        const core::reading::Entry entry(one, file, "check");
        core::CheckAnswer answer;
        answer.id = entry.text("id");
        if (!known.faults.find(answer.id) && !known.checks.find(answer.id) &&
            !known.strengths.find(answer.id))
            entry.complain("id", fmt::format("\"{}\" is not known; `faults` lists what is", answer.id));
        const std::string said = entry.text("answer");
        using S = core::CheckAnswer::Said;
        if (said != "good" && said != "fault" && said != "cannot_see")
            entry.complain("answer", "must be good, fault or cannot_see");
        answer.said = said == "good" ? S::good : said == "fault" ? S::fault : S::cannot_see;
        answer.moment = moment_at(marked, static_cast<int>(entry.whole_or("frame", 0)));
        out.push_back(std::move(answer));
    }
    return out;
}

/// ID[@GAIT/SEAT[/SIDE]].
core::InWork in_work_from(const std::string& said, const core::Knowledge& knowledge) {
    const auto at = said.find('@');
    core::InWork out(said.substr(0, at));
    if (!knowledge.faults.find(out.fault))
        throw WrongUsage("--in-work: \"" + out.fault + "\" is not a fault; `faults` lists them");
    if (at == std::string::npos) return out;
    std::vector<std::string> parts{""};
    for (const char c : said.substr(at + 1)) {
        if (c == '/')
            parts.emplace_back();
        else
            parts.back().push_back(c);
    }
    const auto wrong = [&] {
        return WrongUsage("--in-work: \"" + said.substr(at + 1) +
                          "\" must be GAIT/SEAT or GAIT/SEAT/left|right");
    };
    if (parts.size() < 2 || parts.size() > 3) throw wrong();
    out.gait = core::gait_from(parts[0]);
    out.seat = core::seat_from(parts[1]);
    if (parts.size() == 3) out.side = parts[2];
    if (!out.gait || !out.seat || (parts.size() == 3 && out.side != "left" && out.side != "right"))
        throw wrong();
    return out;
}

int measure(const Said& said, std::ostream& out, bool assessed) {
    std::ifstream in(said.file);
    if (!in) throw Refused(said.file + ": cannot be opened; check the path");
    const auto knowledge = app::shipped_knowledge();
    Json annotations = Json::array();
    core::RideData ride;
    auto marked = exchange::read_coco(in, said.file, knowledge->figure_errors);
    for (exchange::MarkedMoment& m : marked) {
        override_setting(m, said, *knowledge);
        const auto judged = core::judge(m.figure, m.setting(), knowledge->body, knowledge->schools);
        annotations.push_back({{"id", m.id}, {"frame", m.frame}, {"measures", measures_json(judged)}});
        ride.moments.push_back(ride_moment(m));
        if (ride.level.empty()) ride.level = m.level;
    }
    Json all{{"annotations", annotations}};
    if (assessed) {
        if (!said.level.empty()) ride.level = said.level;
        for (const std::string& one : said.in_work) ride.in_work.push_back(in_work_from(one, *knowledge));
        if (!said.checks.empty() && !marked.empty())
            ride.checks = read_checks(said.checks, marked, *knowledge);
        all.update(assessment_json(core::assess_ride(ride, *knowledge), ride, *knowledge));
    }
    out << all.dump(1) << '\n';
    return kDone;
}

int events(const Said& said, std::ostream& out) {
    std::ifstream in(said.file);
    if (!in) throw Refused(said.file + ": cannot be opened; check the path");
    std::vector<core::Happening> all;
    for (const exchange::EventRow& row : exchange::read_events(in, said.file))
        all.push_back({row.time_s, row.event, row.detail});
    const core::HappeningReport report = core::sum_up(std::move(all));
    if (said.json) {
        out << happenings_json(report, said.tempo).dump(1) << '\n';
        return kDone;
    }
    for (const std::string& line : core::in_words(report, said.tempo)) out << line << '\n';
    return kDone;
}

int schools(const Said&, std::ostream& out) {
    out << schools_json(*app::shipped_knowledge()).dump(1) << '\n';
    return kDone;
}

int faults(const Said&, std::ostream& out) {
    out << faults_json(*app::shipped_knowledge()).dump(1) << '\n';
    return kDone;
}

/// Opens the records of a yard's folder; never makes any.
int rides(const Said& said, std::ostream& out) {
    store::YardStore yard = yard_at(said.file);
    Json all = Json::array();
    const auto name = [](const std::string& n) { return n.empty() ? Json(nullptr) : Json(n); };
    for (const store::RideLine& line : yard.rides.all_rides()) {
        if (!said.json) {
            out << fmt::format("{}  {}  {}  {} clips\n", line.ride.day, line.rider.empty() ? "?" : line.rider,
                               line.horse.empty() ? "?" : line.horse, line.clips);
            continue;
        }
        all.push_back({{"id", line.ride.id.value},
                       {"rider", name(line.rider)},
                       {"horse", name(line.horse)},
                       {"day", line.ride.day},
                       {"clips", line.clips},
                       {"focus", name(line.focus)}});
    }
    if (said.json) out << Json{{"rides", all}}.dump(1) << '\n';
    return kDone;
}

int search(const Said& said, std::ostream& out) {
    store::YardStore yard = yard_at(said.file);
    static const char* kinds[] = {"rider", "horse", "ride", "note", "remark", "finding"};
    Json hits = Json::array();
    for (const store::Hit& h : yard.search.places(said.words, 200)) {
        const char* kind = kinds[static_cast<int>(h.kind)];
        if (said.json)
            hits.push_back({{"kind", kind},
                            {"id", h.id},
                            {"text", h.text},
                            {"day", h.day.empty() ? Json(nullptr) : Json(h.day)}});
        else
            out << fmt::format("{} {}  {}  {}\n", kind, h.id, h.day, h.text);
    }
    if (said.json) out << Json{{"hits", hits}}.dump(1) << '\n';
    return kDone;
}

/// The arena laid into the picture, the way of the horse, and its figures.
int ground(const Said& said, std::ostream& out) {
    std::ifstream in(said.file);
    if (!in) throw core::Refused(said.file + ": cannot be read; check the name");
    const core::GroundSaid all = core::say_ground(core::read_ground(in, said.file));
    if (said.json) {
        core::write_ground(all, out);
        return kDone;
    }
    for (const auto& c : all.camera)
        out << fmt::format("frame {}: {} marks, off by {:.1f} px\n", c.frame, c.points, c.residual_px);
    for (const core::RiddenFigure& f : all.figures) {
        out << word(f.kind);
        if (f.diameter_m)
            out << fmt::format("  {:.1f} ± {:.1f} m across, square by {:.1f} ± {:.1f} m", *f.diameter_m,
                               *f.diameter_sd_m, *f.square_m, *f.square_sd_m);
        if (f.off_m) out << fmt::format("  off by {:.1f} ± {:.1f} m", *f.off_m, *f.off_sd_m);
        if (f.sway_m) out << fmt::format("  sways {:.1f} m", *f.sway_m);
        out << '\n';
    }
    return kDone;
}

/// The verbs with their options. What a verb does waits in `work` until all has been read.
using Verb = int (*)(const Said&, std::ostream&);

/// Adds verbs that share what was said on the line.
class Adding {
  public:
    Adding(CLI::App& app, Said& said, std::function<int(std::ostream&)>& work)
        : app_(app), said_(said), work_(work) {}
    CLI::App& verb(const char* name, const char* about, Verb does) {
        CLI::App* v = app_.add_subcommand(name, about);
        v->add_flag("--json", said_.json, "JSON on standard output");
        v->callback([&said = said_, &work = work_, does] {
            work = [&said, does](std::ostream& out) { return does(said, out); };
        });
        return *v;
    }

    void clips() {
        verb("frames", "frames, size, rate and the time of every frame", frames)
            .add_option("VIDEO", said_.file)
            ->required();
        CLI::App& one = verb("frame", "exactly frame N, counted from 0", frame);
        one.add_option("VIDEO", said_.file)->required();
        one.add_option("N", said_.number)->required();
        one.add_option("-o", said_.out, "write the picture, as PNG");
        one.add_flag("--hash", said_.hash, "MD5 of the decoded picture in the stream's own format");
    }

    void judging() {
        const auto marks = [this](CLI::App& v) {
            v.add_option("MARKS.json", said_.file)->required();
            v.add_option("--school", said_.school, "judge by this school");
            v.add_option("--gait", said_.gait, "in this gait");
            v.add_option("--seat", said_.seat, "in this seat");
        };
        marks(verb("measure", "every measure with its error and verdict",
                   [](const Said& s, std::ostream& out) { return measure(s, out, false); }));
        CLI::App& assess = verb(
            "assess",
            "the same over the whole file: faults, causes, focus, what is good, what could not be judged",
            [](const Said& s, std::ostream& out) { return measure(s, out, true); });
        marks(assess);
        assess
            .add_option("--in-work", said_.in_work,
                        "faults in work, foremost first: ID or ID@GAIT/SEAT or ID@GAIT/SEAT/SIDE")
            ->delimiter(',');
        assess.add_option("--level", said_.level, "of the rider")
            ->check(CLI::IsMember({"beginner", "novice", "established"}));
        assess.add_option("--checks", said_.checks, "what the coach's eye answered, as JSON");
    }

    void over_time() {
        CLI::App& happened =
            verb("events", "what was logged: counts, delays, runs, laps, attempts, leads", events);
        happened.add_option("EVENTS.csv", said_.file)->required();
        happened.add_option("--tempo", said_.tempo, "strides a minute, to say runs in strides")
            ->check(CLI::PositiveNumber);
        CLI::App& moves = verb("motion", "measures over strides from followed landmarks",
                               [](const Said& s, std::ostream& out) {
                                   MotionSaid moving = s.motion;
                                   moving.json = s.json;
                                   return motion(moving, out);
                               });
        add_motion_options(moves, said_.motion);
        verb("ground", "where the horse went on the ground, held against what was asked", ground)
            .add_option("GROUND.json", said_.file)
            ->required();
    }

    void lists() {
        verb("schools", "the schools as shipped", schools);
        verb("faults", "the faults and their causes as shipped", faults);
        verb("rides", "the rides of a yard's folder, newest first", rides)
            .add_option("YARD", said_.file)
            ->required();
        CLI::App& find =
            verb("search", "where the words stand: riders, horses, rides, notes, faults", search);
        find.add_option("YARD", said_.file)->required();
        find.add_option("WORDS", said_.words)->required();
    }

  private:
    CLI::App& app_;
    Said& said_;
    std::function<int(std::ostream&)>& work_;
};

void add_verbs(CLI::App& app, Said& said, std::function<int(std::ostream&)>& work) {
    Adding add(app, said, work);
    add.clips();
    add.judging();
    add.over_time();
    add.lists();
    add_calc(app, work);
    add_training(app, work);
    // Listed here, done by the program that paints.
    for (const auto& [name, about] :
         {std::pair{"report", "a rider's page: PDF or HTML by the file's ending, or the message"},
          {"export", "a bundle for another yard, or a table as CSV"},
          {"read", "what is found of a rider without a mark: stretches and figures"},
          {"follow", "one rider's marked joints followed through the clip, as tracks"}})
        app.add_subcommand(name, about)->prefix_command();
}

}  // namespace

int run(const std::vector<std::string>& arguments, std::ostream& out, std::ostream& err) {
    CLI::App app{
        "Measures and judges marked frames of a rider, reads clips frame by frame, and reads a yard's "
        "records.",
        "aspen-crest-cli"};
    app.footer("Exit: 0 done, 2 wrong usage, 3 input refused, 4 failed midway.");
    app.require_subcommand(1);
    Said said;
    std::function<int(std::ostream&)> work;
    add_verbs(app, said, work);
    const std::string verb = arguments.empty() ? "aspen-crest-cli" : arguments[0];
    static constexpr std::array kPainted{"report", "export", "read", "follow"};
    const bool bundle = verb == "import" && std::ranges::any_of(arguments, [](const std::string& a) {
                            return a.ends_with(".zip");
                        });
    if (bundle || std::ranges::find(kPainted, verb) != kPainted.end())
        return have_painted(arguments, out, err);
    try {
        app.parse(std::vector<std::string>(arguments.rbegin(), arguments.rend()));
        const int code = work(out);
        if (out.flush(); !out) {
            err << "standard output: cannot be written; check where it goes\n";
            return kFailed;
        }
        return code;
    } catch (const CLI::CallForHelp&) {
        out << (app.get_subcommands().empty() ? app.help("", CLI::AppFormatMode::All) : app.help());
        return kDone;
    } catch (const CLI::ParseError& e) {
        err << verb << ": " << e.what() << "; see --help\n";
        return kWrongUsage;
    } catch (const WrongUsage& e) {
        err << verb << ": " << e.what() << "; see --help\n";
        return kWrongUsage;
    } catch (const Refused& e) {
        err << e.what() << '\n';
        return kRefused;
    } catch (const std::exception& e) {
        err << verb << ": failed midway (" << e.what() << "); nothing was written\n";
        return kFailed;
    }
}

}  // namespace aspen::cli
