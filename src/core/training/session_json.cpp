#include "core/training/session_json.hpp"

#include <sstream>

#include "core/reading/json_reading.hpp"

namespace aspen::core {

std::string as_json(const Session& session) {
    auto blocks = nlohmann::ordered_json::array();
    for (const Block& b : session.blocks) {
        blocks.push_back({{"kind", word(b.kind)},
                          {"gait", word(b.work)},
                          {"rein", b.rein},
                          {"seconds", b.seconds},
                          {"exercise", b.exercise},
                          {"rung", b.rung},
                          {"stirrups", b.stirrups},
                          {"full_seat", b.full_seat},
                          {"words", b.words}});
    }
    return nlohmann::ordered_json{{"blocks", blocks}}.dump();
}

Session session_from(const std::string& json) {
    using reading::Entry;
    std::istringstream in(json);
    const auto all = reading::parse(in, "session");
    Session out;
    for (const auto& one : Entry(all, "session", "file").array("blocks")) {
        const Entry e(one, "session", "block " + std::to_string(out.blocks.size() + 1));
        Block b;
        bool kind = false, work = false;
        for (int k = 0; k <= static_cast<int>(BlockKind::cool_down); ++k) {
            if (word(static_cast<BlockKind>(k)) != e.text("kind")) continue;
            b.kind = static_cast<BlockKind>(k);
            kind = true;
        }
        for (int w = 0; w <= static_cast<int>(Work::jump); ++w) {
            if (word(static_cast<Work>(w)) != e.text("gait")) continue;
            b.work = static_cast<Work>(w);
            work = true;
        }
        if (!kind) e.complain("kind", "is not known");
        if (!work) e.complain("gait", "is not known");
        b.rein = e.text_or("rein", "");
        b.seconds = e.whole_or("seconds", 0);
        if (b.seconds < 1 || b.seconds > 7200) e.complain("seconds", "must be 1 to 7200");
        b.exercise = e.text_or("exercise", "");
        b.rung = e.whole_or("rung", -1);
        b.stirrups = e.flag_or("stirrups", true);
        b.full_seat = e.flag_or("full_seat", false);
        b.words = e.text_or("words", "");
        out.blocks.push_back(std::move(b));
    }
    return out;
}

}  // namespace aspen::core
