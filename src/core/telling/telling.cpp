#include "core/telling/telling.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

constexpr double kWorthAChapter_s = 1;
constexpr double kLettersPerS = 17, kShortestRead_s = 2;
constexpr double kLongestStep_s = 1;  // a picture that stood longer was not running
constexpr double kSliver_s = 1e-6;    // parts shorter than this are none

/// Where between two pictures a clip that runs stands.
int between(const Deed& a, const Deed& b, double raw_s) {
    const double step = b.at_s - a.at_s;
    if (!a.runs || a.shown.clip != b.shown.clip || step <= 0 || step > kLongestStep_s) return a.shown.frame;
    const double share = (raw_s - a.at_s) / step;
    const int by = static_cast<int>(std::floor(share * std::abs(b.shown.frame - a.shown.frame)));
    return a.shown.frame + (b.shown.frame >= a.shown.frame ? by : -by);
}

void apply(Scene& scene, const Deed& d) {
    using What = Deed::What;
    switch (d.what) {
        case What::picture:
            scene.shown = d.shown;
            return;
        case What::part:
            scene.part = d.part;
            return;
        case What::figure:
            scene.figure = d.figure;
            return;
        case What::stroke:
            scene.strokes.push_back(d.stroke);
            return;
        case What::wipe:
            scene.strokes.clear();
            return;
        case What::beside:
            scene.beside = d.shown;
            return;
        case What::alone:
            scene.beside.reset();
            return;
        case What::chapter:
            scene.chapter = d.words;
            return;
        case What::caption:
            scene.caption = d.words;
            return;
    }
}

}  // namespace

double Telling::length_s() const {
    double out = 0;
    for (const Cut& c : cuts_) out += c.length_s();
    return out;
}

void Telling::add(Deed deed) {
    if (!std::isfinite(deed.at_s) || deed.at_s < 0 || (!deeds_.empty() && deed.at_s < deeds_.back().at_s))
        throw Refused(
            fmt::format("review: what was done at {:.3f} s comes too late; record it anew", deed.at_s));
    recorded_s_ = std::max(recorded_s_, deed.at_s);
    deeds_.push_back(std::move(deed));
}

void Telling::recorded(double until_s) { recorded_s_ = std::max(recorded_s_, until_s); }

void Telling::tell(std::size_t index, Cut take) {
    if (take.length_s() < kSliver_s) return;
    cuts_.insert(cuts_.begin() + static_cast<std::ptrdiff_t>(std::min(index, cuts_.size())), take);
}

double Telling::raw_at(double told_s) const {
    double before = 0;
    for (const Cut& c : cuts_) {
        if (told_s < before + c.length_s()) return c.from_s + std::max(0.0, told_s - before);
        before += c.length_s();
    }
    return cuts_.empty() ? 0 : cuts_.back().to_s;
}

Scene Telling::scene(double raw_s) const {
    Scene out;
    const Deed* picture = nullptr;
    const auto end = std::ranges::upper_bound(deeds_, raw_s, {}, [](const Deed& d) { return d.at_s; });
    for (auto d = deeds_.begin(); d != end; ++d) {
        apply(out, *d);
        if (d->what == Deed::What::picture) picture = &*d;
    }
    const auto next =
        std::find_if(end, deeds_.end(), [](const Deed& d) { return d.what == Deed::What::picture; });
    if (picture && next != deeds_.end()) out.shown.frame = between(*picture, *next, raw_s);
    return out;
}

std::size_t Telling::leave_out(double from_s, double to_s) {
    std::vector<Cut> kept;
    std::size_t place = 0;
    double before = 0;
    for (const Cut& c : cuts_) {
        const double length = c.length_s();
        const double from = std::clamp(from_s - before, 0.0, length),
                     to = std::clamp(to_s - before, 0.0, length);
        if (from > kSliver_s || to <= from) {
            const Cut head{c.from_s, to <= from ? c.to_s : c.from_s + from};
            kept.push_back(head);
            if (before < from_s) place = kept.size();
        }
        if (to > from && length - to > kSliver_s) kept.push_back({c.from_s + to, c.to_s});
        before += length;
    }
    cuts_ = std::move(kept);
    return place;
}

void Telling::shorten(double from_s, double to_s, double to_length_s) {
    const double too_much = to_s - from_s - to_length_s;
    if (too_much <= 0) return;
    leave_out(from_s + to_length_s / 2, from_s + to_length_s / 2 + too_much);
}

std::vector<Chapter> Telling::chapters() const {
    std::vector<Chapter> out;
    double before = 0;
    const auto say = [&](double at, const std::string& title) {
        if (title.empty() || (!out.empty() && out.back().title == title)) return;
        if (out.empty() && at >= kWorthAChapter_s) out.push_back({0, "First look"});
        out.push_back({out.empty() ? 0 : at, title});
    };
    for (const Cut& c : cuts_) {
        say(before, scene(c.from_s).chapter);
        for (const Deed& d : deeds_) {
            if (d.what == Deed::What::chapter && d.at_s > c.from_s && d.at_s < c.to_s)
                say(before + d.at_s - c.from_s, d.words);
        }
        before += c.length_s();
    }
    return out;
}

double reading_time_s(const std::string& words) {
    // Letters, not bytes: what continues a letter in UTF-8 is none.
    const auto letters = std::ranges::count_if(words, [](char c) { return (c & 0xC0) != 0x80; });
    return std::max(kShortestRead_s, static_cast<double>(letters) / kLettersPerS);
}

std::vector<Caption> Telling::captions(const std::vector<NoteOnFrame>& notes) const {
    std::vector<Caption> out;
    std::vector<bool> said(notes.size(), false);
    std::vector<const Deed*> pictures;
    for (const Deed& d : deeds_) {
        if (d.what == Deed::What::picture) pictures.push_back(&d);
    }
    double before = 0;
    const auto read = [&](double at, const std::string& words) {
        if (words.empty()) return;
        out.push_back({at, at + reading_time_s(words), words});
    };
    // When a note's frame is first shown in a cut: where a clip stands on it, or runs through it.
    const auto come_to = [&](const Cut& c, double told_before, std::size_t note) {
        for (std::size_t i = 0; i < pictures.size(); ++i) {
            const Deed& a = *pictures[i];
            const Deed* b = i + 1 < pictures.size() ? pictures[i + 1] : nullptr;
            const double from = std::max(a.at_s, c.from_s), to = std::min(b ? b->at_s : recorded_s_, c.to_s);
            if (to <= from || notes[note].at.clip != a.shown.clip) continue;
            double at = from;
            if (b && between(a, *b, b->at_s) != a.shown.frame) {
                const double share = static_cast<double>(notes[note].at.frame - a.shown.frame) /
                                     (b->shown.frame - a.shown.frame);
                at = a.at_s + share * (b->at_s - a.at_s);
                if (share < 0 || share >= 1 || at < from || at >= to) continue;
            } else if (notes[note].at.frame != a.shown.frame) {
                continue;
            }
            said[note] = true;
            return read(told_before + at - c.from_s, notes[note].words);
        }
    };
    for (const Cut& c : cuts_) {
        std::string caption = scene(c.from_s).caption;
        if (out.empty() || out.back().words != caption) read(before, caption);
        const auto d0 = std::ranges::lower_bound(deeds_, c.from_s, {}, [](const Deed& d) { return d.at_s; });
        for (auto d = d0; d != deeds_.end() && d->at_s < c.to_s; ++d) {
            if (d->what == Deed::What::caption && d->at_s > c.from_s)
                read(before + d->at_s - c.from_s, d->words);
        }
        for (std::size_t n = 0; n < notes.size(); ++n) {
            if (!said[n]) come_to(c, before, n);
        }
        before += c.length_s();
    }
    std::ranges::stable_sort(out, {}, &Caption::from_s);
    for (std::size_t i = 0; i < out.size(); ++i) {
        out[i].to_s = std::min(out[i].to_s, before);
        if (i + 1 < out.size()) out[i].to_s = std::min(out[i].to_s, out[i + 1].from_s);
    }
    std::erase_if(out, [](const Caption& c) { return c.to_s - c.from_s < kSliver_s; });
    return out;
}

Telling telling_of(const std::vector<ToTell>& all, double fps) {
    constexpr double kSlow = 0.5;
    Telling out;
    double now = 0;
    const auto add = [&](Deed::What what, auto set) {
        Deed d;
        d.at_s = now;
        d.what = what;
        set(d);
        out.add(std::move(d));
    };
    for (const ToTell& t : all) {
        add(Deed::What::chapter, [&](Deed& d) { d.words = t.title; });
        add(Deed::What::caption, [](Deed&) {});
        add(Deed::What::part, [](Deed&) {});
        const int from = std::max(0, t.at.frame - static_cast<int>(std::lround(t.run_in_s * fps)));
        // A picture every half second of running, so that none of it counts as standing still.
        for (double f = from; f < t.at.frame; f += kSlow * fps / 2) {
            add(Deed::What::picture, [&](Deed& d) {
                d.shown = {t.at.clip, static_cast<int>(std::lround(f))};
                d.runs = true;
            });
            now += (std::min<double>(t.at.frame, f + kSlow * fps / 2) - f) / (kSlow * fps);
        }
        add(Deed::What::picture, [&](Deed& d) { d.shown = t.at; });
        add(Deed::What::part, [&](Deed& d) { d.part = t.part; });
        add(Deed::What::caption, [&](Deed& d) { d.words = t.words; });
        now += reading_time_s(t.words);
    }
    out.recorded(now);
    out.tell(0, {0, now});
    return out;
}

}  // namespace aspen::core
