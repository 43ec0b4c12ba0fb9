#include "core/training/body_words.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cstdlib>
#include <utility>

namespace aspen::core {
namespace {

/// Its words in small letters, numbers among them; what is no ASCII letter or digit but a letter of some
/// script belongs to its word.
std::vector<std::string> tokens(const std::string& text) {
    std::vector<std::string> out(1);
    for (const char c : text) {
        const auto u = static_cast<unsigned char>(c);
        if (std::isalnum(u) != 0 || u >= 0x80)
            out.back() += static_cast<char>(std::tolower(u));
        else if (!out.back().empty())
            out.emplace_back();
    }
    if (out.back().empty()) out.pop_back();
    return out;
}

bool is_number(const std::string& word) {
    return !word.empty() && word.size() <= 4 &&
           std::ranges::all_of(word, [](unsigned char c) { return std::isdigit(c) != 0; });
}

int number_in(const std::string& word) {
    static const std::map<std::string, int, std::less<>> kSpelt{
        {"two", 2},   {"three", 3}, {"four", 4}, {"five", 5},  {"six", 6},    {"seven", 7},
        {"eight", 8}, {"nine", 9},  {"ten", 10}, {"many", 10}, {"several", 3}};
    const auto it = kSpelt.find(word);
    return it != kSpelt.end() ? it->second : is_number(word) ? std::atoi(word.c_str()) : 0;
}

/// The same day a year later; "" for no day.
std::string year_after(const std::string& day) {
    if (day.size() != 10 || !is_number(day.substr(0, 4))) return {};
    return fmt::format("{:04}{}", std::atoi(day.substr(0, 4).c_str()) + 1, day.substr(4));
}

void put_in(std::vector<std::string>& into, const std::vector<std::string>& what) {
    for (const std::string& one : what) {
        if (std::ranges::find(into, one) == into.end()) into.push_back(one);
    }
}

std::string joined(const std::vector<std::string>& all) {
    std::string out;
    for (const std::string& one : all) out += (out.empty() ? "" : ", ") + one;
    return out;
}

}  // namespace

/// One reading, word by word.
class BodyWords::Reader {
  public:
    Reader(const BodyWords& book, const std::string& since, const std::string& day)
        : book_(book), year_(day.size() >= 4 ? std::atoi(day.substr(0, 4).c_str()) : 0) {
        const std::string over = year_after(since);
        aged_ = !over.empty() && over <= day;
        recent_ = !over.empty() && over > day;
    }

    BodyReading read(const std::vector<std::string>& words) {
        harmless_ = words.empty();
        for (std::size_t at = 0; at < words.size();) at += take(words, at);
        BodyReading out;
        out.parts = parts_;
        if (!holds_.empty())
            out.holds = joined(holds_);
        else if (!unknown_.empty())
            out.holds = "not understood: " + joined(unknown_);
        else if (broken_ && (!aged_ || recent_))
            out.holds = "an operation or a break, not known to be over a year ago";
        else if (replaced_ && recent_)
            out.holds = "an operation within a year";
        else if (parts_.empty() && !harmless_)
            out.holds = "not understood: which part of the body is it";
        out.harmless = out.holds.empty() && parts_.empty();
        return out;
    }

  private:
    /// How many words were taken.
    std::size_t take(const std::vector<std::string>& words, std::size_t at) {
        if (number_in(words[at]) > 0 && at + 1 < words.size() && words[at + 1].starts_with("year")) {
            const bool age = at + 2 < words.size() && words[at + 2] == "old";
            if (!age) (number_in(words[at]) > 1 ? aged_ : recent_) = true;
            return age ? 3 : 2;
        }
        if (is_number(words[at])) {
            const int n = std::atoi(words[at].c_str());
            if (words[at].size() == 4 && n > 1900 && year_ > 0) (n < year_ - 1 ? aged_ : recent_) = true;
            return 1;
        }
        const auto found = book_.by_first_.find(words[at]);
        if (found != book_.by_first_.end()) {
            for (const Phrase& p : found->second) {
                if (p.words.size() > words.size() - at ||
                    !std::equal(p.words.begin(), p.words.end(),
                                words.begin() + static_cast<std::ptrdiff_t>(at)))
                    continue;
                note(p);
                return p.words.size();
            }
        }
        put_in(unknown_, {words[at]});
        return 1;
    }
    void note(const Phrase& p) {
        switch (p.kind) {
            case Kind::plain:
                break;
            case Kind::part:
                put_in(parts_, p.says);
                break;
            case Kind::holds:
                put_in(holds_, p.says);
                break;
            case Kind::broken:
                broken_ = true;
                break;
            case Kind::replaced:
                replaced_ = true;
                break;
            case Kind::recent:
                recent_ = true;
                break;
            case Kind::aged:
                aged_ = true;
                break;
            case Kind::harmless:
                harmless_ = true;
                break;
        }
    }

    const BodyWords& book_;
    int year_;
    bool aged_ = false, recent_ = false, broken_ = false, replaced_ = false, harmless_ = false;
    std::vector<std::string> parts_, holds_, unknown_;
};

void BodyWords::add(const std::string& words, Kind kind, const std::string& says) {
    Phrase p{tokens(words), kind, {}};
    if (p.words.empty()) return;
    if (!says.empty()) p.says.push_back(says);
    auto& there = by_first_[p.words.front()];
    for (Phrase& other : there) {  // one word may name two parts
        if (other.words != p.words) continue;
        if (other.kind == kind) put_in(other.says, p.says);
        return;
    }
    const auto longer = [&](const Phrase& other) { return other.words.size() < p.words.size(); };
    there.insert(std::ranges::find_if(there, longer), std::move(p));
}

BodyWords::BodyWords(const reading::Json& object, const std::string& file) {
    const reading::Entry all(object, file, "body_words");
    const reading::Json& holds = all.object("holds");
    for (const auto& [what, names] : holds.items()) {
        for (const std::string& n :
             reading::Entry(holds, file, "body_words, holds").texts_or_none(what.c_str()))
            add(n, Kind::holds, what);
    }
    // What may never be outvoted stands first: a phrase keeps the kind in which it was named first.
    for (const auto& [field, kind] : {std::pair{"broken", Kind::broken},
                                      {"replaced", Kind::replaced},
                                      {"recent", Kind::recent},
                                      {"aged", Kind::aged}}) {
        for (const std::string& n : all.texts_or_none(field)) add(n, kind, {});
    }
    const reading::Json& parts = all.object("parts");
    for (const auto& [part, names] : parts.items()) {
        parts_.push_back(part);
        for (const std::string& n :
             reading::Entry(parts, file, "body_words, parts").texts_or_none(part.c_str()))
            add(n, Kind::part, part);
    }
    for (const std::string& n : all.texts_or_none("harmless")) add(n, Kind::harmless, {});
    for (const std::string& n : all.texts_or_none("plain")) add(n, Kind::plain, {});
}

BodyReading BodyWords::read(const std::string& words, const std::string& since,
                            const std::string& day) const {
    return Reader(*this, since, day).read(tokens(words));
}

std::vector<std::string> BodyWords::parts() const { return parts_; }

}  // namespace aspen::core
