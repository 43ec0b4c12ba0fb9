#include <fmt/format.h>

#include <array>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/reading/refused.hpp"
#include "core/telling/telling.hpp"

/// A telling as JSON, its captions and chapters as WebVTT.
namespace aspen::core {
namespace {

using Json = nlohmann::json;

constexpr std::array<std::string_view, 9> kWhat{"picture", "part",  "figure",  "stroke", "wipe",
                                                "beside",  "alone", "chapter", "caption"};
constexpr std::array<std::string_view, 3> kStrokes{"arrow", "circle", "words"};
constexpr double kLongest_s = 3 * 3600;

Json to_json(const Deed& d) {
    using What = Deed::What;
    // A millisecond is a thirtieth of a frame; what is written reads back as the same number.
    Json out{{"t", d.at_s}, {"do", kWhat[static_cast<std::size_t>(d.what)]}};
    if (d.what == What::picture || d.what == What::beside) {
        out["clip"] = d.shown.clip;
        out["frame"] = d.shown.frame;
    }
    if (d.what == What::picture && d.runs) out["runs"] = true;
    if (d.what == What::part) out["part"] = {d.part.x, d.part.y, d.part.share};
    if (d.what == What::figure) out["on"] = d.figure;
    if (d.what == What::stroke) {
        out["kind"] = kStrokes[static_cast<std::size_t>(d.stroke.kind)];
        out["at"] = {d.stroke.a.x, d.stroke.a.y, d.stroke.b.x, d.stroke.b.y};
    }
    const std::string& words = d.what == What::stroke ? d.stroke.words : d.words;
    if (!words.empty()) out["words"] = words;
    return out;
}

template <std::size_t N>
std::size_t place_of_word(const std::array<std::string_view, N>& words, const std::string& word,
                          const char* field) {
    for (std::size_t i = 0; i < N; ++i) {
        if (words[i] == word) return i;
    }
    throw Refused(
        fmt::format("review: \"{}\": \"{}\" is not known; it was not written by this program", field, word));
}

double finite_number(const Json& j) {
    const double out = j.get<double>();
    if (!std::isfinite(out)) throw Refused("review: a number in it is none; record it anew");
    return out;
}

Deed deed_from(const Json& j) {
    Deed d;
    d.at_s = finite_number(j.at("t"));
    d.what = static_cast<Deed::What>(place_of_word(kWhat, j.at("do").get<std::string>(), "do"));
    d.shown = {j.value("clip", std::int64_t{0}), j.value("frame", 0)};
    if (d.shown.frame < 0) throw Refused("review: a frame in it is below 0; record it anew");
    d.runs = j.value("runs", false);
    d.figure = j.value("on", true);
    if (const auto p = j.find("part"); p != j.end()) {
        d.part = {finite_number(p->at(0)), finite_number(p->at(1)), finite_number(p->at(2))};
        if (d.part.share <= 0 || d.part.share > 1)
            throw Refused("review: a part of the picture is none; record it anew");
    }
    const std::string words = j.value("words", "");
    if (d.what == Deed::What::stroke) {
        const auto& at = j.at("at");
        d.stroke = {
            static_cast<Stroke::Kind>(place_of_word(kStrokes, j.at("kind").get<std::string>(), "kind")),
            {finite_number(at.at(0)), finite_number(at.at(1))},
            {finite_number(at.at(2)), finite_number(at.at(3))},
            words};
    } else {
        d.words = words;
    }
    return d;
}

std::string clock(double s) {
    const auto ms = static_cast<long long>(std::llround(std::max(0.0, s) * 1000));
    return fmt::format("{:02}:{:02}:{:02}.{:03}", ms / 3600000, ms / 60000 % 60, ms / 1000 % 60, ms % 1000);
}

/// Cue text may hold no line that is empty or reads "-->", and & and < begin something else.
std::string cue_text(const std::string& words) {
    std::string out;
    for (const char c : words) {
        if (c == '&')
            out += "&amp;";
        else if (c == '<')
            out += "&lt;";
        else if (c == '>')
            out += "&gt;";
        else if (c == '\r' || (c == '\n' && (out.empty() || out.back() == '\n')))
            continue;
        else
            out += c;
    }
    while (!out.empty() && out.back() == '\n') out.pop_back();
    return out;
}

}  // namespace

std::string write_telling(const Telling& t) {
    Json out{
        {"version", 1}, {"recorded_s", t.recorded_s()}, {"cuts", Json::array()}, {"deeds", Json::array()}};
    for (const Cut& c : t.cuts()) out["cuts"].push_back({c.from_s, c.to_s});
    for (const Deed& d : t.deeds()) out["deeds"].push_back(to_json(d));
    return out.dump();
}

Telling read_telling(const std::string& text) {
    try {
        const Json j = Json::parse(text);
        if (j.at("version").get<int>() != 1)
            throw Refused("review: it is of a newer version of this program; update the program");
        Telling out;
        for (const Json& d : j.at("deeds")) out.add(deed_from(d));
        const double recorded = finite_number(j.at("recorded_s"));
        if (recorded < 0 || recorded > kLongest_s)
            throw Refused("review: its length is none; record it anew");
        out.recorded(recorded);
        for (const Json& c : j.at("cuts")) {
            const Cut cut{finite_number(c.at(0)), finite_number(c.at(1))};
            if (cut.from_s < 0 || cut.to_s < cut.from_s || cut.to_s > out.recorded_s() + 1e-9)
                throw Refused("review: a part of it lies outside what was recorded; record it anew");
            out.tell(out.cuts().size(), cut);
        }
        return out;
    } catch (const Json::exception& e) {
        throw Refused(fmt::format("review: cannot be read ({}); record it anew", e.what()));
    }
}

std::string web_vtt(const std::vector<Caption>& captions) {
    std::string out = "WEBVTT\n";
    for (const Caption& c : captions)
        out += fmt::format("\n{} --> {}\n{}\n", clock(c.from_s), clock(c.to_s), cue_text(c.words));
    return out;
}

std::string web_vtt(const std::vector<Chapter>& chapters, double length_s) {
    std::vector<Caption> out;
    for (std::size_t i = 0; i < chapters.size(); ++i)
        out.push_back(
            {chapters[i].at_s, i + 1 < chapters.size() ? chapters[i + 1].at_s : length_s, chapters[i].title});
    return web_vtt(out);
}

}  // namespace aspen::core
