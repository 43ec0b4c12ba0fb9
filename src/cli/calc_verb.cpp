#include "cli/calc_verb.hpp"

#include <fmt/format.h>

#include <memory>
#include <nlohmann/json.hpp>
#include <sstream>

#include "app/files/whole_file.hpp"
#include "cli/usage.hpp"
#include "cli/verbs.hpp"
#include "core/arena/click.hpp"
#include "core/arena/ground_work.hpp"
#include "core/arena/letters.hpp"
#include "core/reading/refused.hpp"
#include "core/ride/stirrup.hpp"

namespace aspen::cli {
namespace {

using Json = nlohmann::ordered_json;

/// What a sum answers: what went in, what came out with its unit, and what was taken for granted.
struct Sum {
    Json inputs = Json::object();
    Json results = Json::array();
    std::vector<std::string> assumptions;

    void add(const std::string& what, Json value, const std::string& unit) {
        results.push_back({{"what", what}, {"value", std::move(value)}, {"unit", unit}});
    }
    int write(std::ostream& out, bool json) const {
        if (json) {
            out << Json{{"inputs", inputs}, {"results", results}, {"assumptions", assumptions}}.dump(1)
                << '\n';
            return kDone;
        }
        for (const Json& r : results) {
            const Json& v = r["value"];
            out << fmt::format("{}: {} {}\n", r["what"].get<std::string>(),
                               v.is_number_float() ? fmt::format("{:.2f}", v.get<double>())
                               : v.is_string()     ? v.get<std::string>()
                                                   : v.dump(),
                               r["unit"].get<std::string>());
        }
        for (const std::string& a : assumptions) out << "- " << a << '\n';
        return kDone;
    }
};

template <typename T>
Json maybe(const std::optional<T>& v) {
    return v ? Json(*v) : Json(nullptr);
}

struct CalcSaid {
    bool json = false;
    std::string gait = "trot", kind = "crosses", job = "general", pattern = "strides", out, size = "20x60",
                from, to, at;
    core::PoleWish poles;
    core::GridWish grid;
    core::ClickWish click;
    double tempo = 0, stride = 0, tread_cm = 0, circle = 0;
    int loops = 0;
    std::optional<double> radius;
};

int calc_poles(const CalcSaid& said, std::ostream& out) {
    core::PoleWish wish = said.poles;
    wish.gait = core::pole_gait_from(said.gait);
    const core::PoleRow row = core::pole_row(wish);
    Sum sum;
    sum.inputs = {{"gait", said.gait},
                  {"poles", wish.poles},
                  {"step_m", maybe(wish.step_m)},
                  {"raised_cm", wish.raised_cm},
                  {"circle_radius_m", maybe(wish.circle_radius_m)},
                  {"pole_m", wish.pole_m}};
    sum.add("first_distance", row.first_m, "m");
    sum.add("working_distance", row.working_m, "m");
    for (std::size_t i = 0; i < row.tape_m.size(); ++i)
        sum.add(fmt::format("pole_{}_at", i + 1), row.tape_m[i], "m");
    if (row.inner_m) {
        sum.add("inner_distance", *row.inner_m, "m");
        sum.add("middle_distance", *row.middle_m, "m");
        sum.add("outer_distance", *row.outer_m, "m");
        sum.add("angle_between_poles", *row.angle_deg, "deg");
    }
    sum.add("poles_at_first_visit", row.laid.front(), "");
    sum.assumptions = row.assumptions;
    return sum.write(out, said.json);
}

int calc_grid(const CalcSaid& said, std::ostream& out) {
    core::GridWish wish = said.grid;
    wish.kind = core::grid_kind_from(said.kind);
    const core::Grid g = core::grid(wish);
    Sum sum;
    sum.inputs = {{"kind", said.kind},
                  {"fences", wish.fences},
                  {"canter_in", wish.canter_in},
                  {"withers_cm", maybe(wish.withers_cm)},
                  {"height_cm", maybe(wish.last_height_cm)}};
    if (g.placing_pole_m) sum.add("placing_pole_to_first_fence", *g.placing_pole_m, "m");
    sum.add("bounce", g.bounce_m, "m");
    for (std::size_t i = 0; i < g.fences.size(); ++i) {
        sum.add(fmt::format("fence_{}_at", i + 1), g.fences[i].at_m, "m");
        sum.add(fmt::format("fence_{}_height", i + 1), g.fences[i].height_cm, "cm");
    }
    sum.assumptions = g.assumptions;
    return sum.write(out, said.json);
}

int calc_stirrup(const CalcSaid& said, std::ostream& out) {
    using J = core::StirrupJob;
    const std::pair<const char*, J> jobs[] = {
        {"flat", J::flat}, {"general", J::general}, {"jump", J::jump}, {"gallop", J::gallop}};
    J job = J::general;
    for (const auto& [word, is] : jobs) {
        if (said.job == word) job = is;
    }
    const core::StirrupAdvice a = core::stirrup_advice(job, said.tread_cm);
    Sum sum;
    sum.inputs = {{"job", said.job}, {"tread_above_bone_cm", said.tread_cm}};
    sum.add("holes_up", a.holes, "holes");
    sum.add("leather_shorter_by", a.holes * core::kHoleMm, "mm");
    sum.add("words", a.words, "");
    sum.assumptions = {"foot out of the iron, leg hanging", fmt::format("a hole is {:g} mm", core::kHoleMm),
                       "the same on both sides, checked for equal effect"};
    return sum.write(out, said.json);
}

int calc_click(const CalcSaid& said, std::ostream& out) {
    core::ClickWish wish = said.click;
    wish.pattern = core::click_pattern_from(said.pattern);
    wish.beats = said.gait == "walk" ? 4 : said.gait == "trot" ? 2 : 3;
    const auto all = core::clicks(wish);
    int accents = 0;
    for (const core::Click& c : all) accents += c.accent ? 1 : 0;
    Sum sum;
    sum.inputs = {{"tempo_per_min", wish.tempo_per_min},
                  {"gait", said.gait},
                  {"pattern", said.pattern},
                  {"count", wish.count},
                  {"seconds", wish.seconds}};
    const double beat = 60 / (wish.tempo_per_min * wish.beats);
    const int cycle = said.pattern == "strides" ? wish.beats
                      : said.pattern == "count" ? wish.beats * wish.count
                                                : 3;
    sum.add("beats_per_min", wish.tempo_per_min * wish.beats, "1/min");
    sum.add("beat_every", beat, "s");
    sum.add("accent_every", beat * cycle, "s");
    sum.add("beats", all.size(), "");
    sum.add("accents", accents, "");
    if (!said.out.empty()) {
        const auto samples = core::click_samples(wish);
        std::ostringstream file;
        core::write_wav(file, samples);
        if (const QString line =
                app::write_whole(QString::fromStdString(said.out), QByteArray::fromStdString(file.str()));
            !line.isEmpty())
            throw core::Refused(line.toStdString());
        sum.add("file", said.out, "");
    }
    sum.assumptions = {"the tempo is this horse's own good one, in strides a minute",
                       fmt::format("{} beats a stride in {}", wish.beats, said.gait)};
    return sum.write(out, said.json);
}

int calc_pace(const CalcSaid& said, std::ostream& out) {
    const core::Pace p = core::pace(said.tempo, said.stride);
    Sum sum;
    sum.inputs = {
        {"tempo_per_min", said.tempo}, {"stride_m", said.stride}, {"circle_radius_m", maybe(said.radius)}};
    sum.add("speed", p.metres_per_min / 60, "m/s");
    sum.add("speed", p.metres_per_min, "m/min");
    sum.add("speed", p.km_per_h, "km/h");
    sum.add("speed", p.miles_per_h, "mph");
    if (said.radius) sum.add("lean", core::lean_deg(p, *said.radius), "deg");
    sum.assumptions = {
        "a stride is one whole cycle of the gait: two steps of trot, four beats of walk, one jump of canter"};
    return sum.write(out, said.json);
}

char one_letter(const std::string& text, const char* option) {
    if (text.size() == 1) return text[0];
    throw WrongUsage(fmt::format("{}: must be one letter, not \"{}\"", option, text));
}

int calc_arena(const CalcSaid& said, std::ostream& out) {
    if (said.size != "20x40" && said.size != "20x60") throw WrongUsage("--size: must be 20x40 or 20x60");
    const core::Arena arena(said.size == "20x40" ? 40 : 60);
    Sum sum;
    sum.inputs = {{"size", said.size}};
    const bool moving = said.tempo > 0 && said.stride > 0;
    const auto way = [&](const std::string& what, double metres) {
        sum.add(what, metres, "m");
        if (!moving) return;
        const core::Pace p = core::pace(said.tempo, said.stride);
        sum.add(what + "_strides", core::strides_over(p, metres), "strides");
        sum.add(what + "_time", core::seconds_over(p, metres), "s");
    };
    if (!said.from.empty() || !said.to.empty()) {
        const char from = one_letter(said.from, "--from"), to = one_letter(said.to, "--to");
        sum.inputs["from"] = said.from;
        sum.inputs["to"] = said.to;
        way("line", arena.between(from, to));
    }
    if (said.circle > 0) {
        const core::RiddenCircle c = core::circle_at(arena, one_letter(said.at, "--at"), said.circle);
        sum.inputs["at"] = said.at;
        sum.inputs["circle_m"] = said.circle;
        sum.add("centre", {c.centre.x, c.centre.y}, "m");
        way("circle", c.length_m);
        for (std::size_t i = 0; i < c.touches.size(); ++i)
            sum.add(fmt::format("touch_{}", i + 1), {c.touches[i].x, c.touches[i].y}, "m");
    }
    if (said.loops > 0) {
        sum.inputs["loops"] = said.loops;
        way("serpentine", core::serpentine_m(arena, said.loops));
    }
    if (said.from.empty() && said.to.empty() && said.circle <= 0 && said.loops <= 0) {
        for (const core::ArenaLetter& l : arena.letters())
            sum.add(std::string(1, l.letter), {l.at.x, l.at.y}, "m");
        way("once_round", 2.0 * (core::Arena::kWidthM + arena.length_m()));
    }
    sum.assumptions = {
        "x from A towards C, y from the centre line to the side of K, E, H; letters as in the rule books "
        "(from memory)"};
    return sum.write(out, said.json);
}

}  // namespace

void add_calc(CLI::App& app, std::function<int(std::ostream&)>& work) {
    auto said = std::make_shared<CalcSaid>();
    CLI::App* calc =
        app.add_subcommand("calc", "sums for the ground: poles, grid, stirrup, click, arena, pace");
    calc->require_subcommand(1);
    const auto sum = [&](const char* name, const char* about, int (*does)(const CalcSaid&, std::ostream&)) {
        CLI::App* v = calc->add_subcommand(name, about);
        v->add_flag("--json", said->json, "JSON on standard output");
        v->callback(
            [said, &work, does] { work = [said, does](std::ostream& out) { return does(*said, out); }; });
        return v;
    };
    CLI::App* poles = sum("poles", "poles on the ground or raised, on a line or a circle", calc_poles);
    poles->add_option("--gait", said->gait, "walk, trot or canter");
    poles->add_option("--step", said->poles.step_m, "this horse's step (canter: stride), m");
    poles->add_option("--poles", said->poles.poles, "how many, 1 to 8");
    poles->add_option("--raised", said->poles.raised_cm, "cm");
    poles->add_option("--circle", said->poles.circle_radius_m, "radius of the poles' middle, m");
    poles->add_option("--pole-length", said->poles.pole_m, "m");
    CLI::App* grid = sum("grid", "fences in a row, each a bounce from the one before", calc_grid);
    grid->add_option("--kind", said->kind, "crosses, uprights, rising or middle_highest");
    grid->add_option("--fences", said->grid.fences, "2 to 4");
    grid->add_flag("--canter-in", said->grid.canter_in,
                   "in a very collected canter, else in trot over a pole");
    grid->add_option("--horse-cm", said->grid.withers_cm, "height at the withers");
    grid->add_option("--height", said->grid.last_height_cm, "of the highest fence, cm");
    CLI::App* stirrup = sum("stirrup", "holes up or down for a job", calc_stirrup);
    stirrup->add_option("--job", said->job)->check(CLI::IsMember({"flat", "general", "jump", "gallop"}));
    stirrup
        ->add_option("--tread-above", said->tread_cm, "the tread above the ankle bone, cm; below is negative")
        ->required();
    CLI::App* click = sum("click", "a click track at a tempo", calc_click);
    click->add_option("--tempo", said->click.tempo_per_min, "strides a minute")->required();
    click->add_option("--gait", said->gait)->check(CLI::IsMember({"walk", "trot", "canter"}));
    click->add_option("--pattern", said->pattern, "strides, two_up_one_down or count");
    click->add_option("--count", said->click.count, "strides a count");
    click->add_option("--seconds", said->click.seconds);
    click->add_option("-o", said->out, "write it, as WAV");
    CLI::App* arena = sum("arena", "letters, lines, circles and serpentines", calc_arena);
    arena->add_option("--size", said->size, "20x40 or 20x60");
    arena->add_option("--from", said->from);
    arena->add_option("--to", said->to);
    arena->add_option("--circle", said->circle, "across, m");
    arena->add_option("--at", said->at, "the letter where the circle touches");
    arena->add_option("--loops", said->loops, "of a serpentine");
    CLI::App* speed = sum("pace", "what speed a tempo and a stride give", calc_pace);
    for (CLI::App* v : {arena, speed}) {
        v->add_option("--tempo", said->tempo, "strides a minute")->required(v == speed);
        v->add_option("--stride", said->stride, "m")->required(v == speed);
    }
    speed->add_option("--radius", said->radius, "of a circle ridden at it, m");
}

}  // namespace aspen::cli
