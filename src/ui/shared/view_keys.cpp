#include "ui/shared/view_keys.hpp"

namespace aspen::ui {
namespace {

struct ViewKey {
    const char* view;
    const char* id;
    const char* keys;  ///< several are separated by blanks
};

constexpr ViewKey kViewKeys[] = {
    {"rides", "open_ride", "Enter Return Space"},
    {"rides", "take_proposed", "Y"},
    {"rides", "join_rides", "J"},
    {"rides", "split_ride", "S"},
    {"rides", "promise", "P"},
    {"rides", "unpromise", "Shift+P"},
    {"rides", "trash_ride", "Del"},
    {"rides", "set_clock", "C"},
    {"rides", "edit_horse", "H"},
    {"rides", "search", "/"},
    {"riders", "show_rider", "Enter Return"},
    {"riders", "edit_rider", "E"},
    {"prescribe", "give", "G"},
    {"prescribe", "page", "S"},
    {"prescribe", "pick_1", "1"},
    {"prescribe", "pick_2", "2"},
    {"prescribe", "pick_3", "3"},
    {"prescribe", "choose_again", "A"},
    {"prescribe", "write_down", "L"},
    {"prescribe", "take_back_ride", "Shift+L"},
    {"prescribe", "take_away", "X"},
    {"prescribe", "take_in_log", "I"},
    {"prescribe", "log_page", "P"},
    {"prescribe", "calendar", "C"},
    {"prescribe", "fridge_page", "F"},
    {"prescribe", "shorter_ride", ","},
    {"prescribe", "longer_ride", "."},
    {"prescribe", "plan_again", "O"},
    {"prescribe", "arena_there", "N"},
    {"prescribe", "helper_there", "H"},
    {"prescribe", "ride_lesson", "T"},
    {"prescribe", "exercises", "E"},
    {"lesson", "clock", "Space"},
    {"lesson", "next_block", "Right PgDown"},
    {"lesson", "block_before", "Left PgUp"},
    {"lesson", "end_lesson", "End"},
    {"lesson", "absent", "F6"},
    {"lesson", "other_horse", "F7"},
    {"lesson", "turn_up", "Up"},
    {"lesson", "turn_down", "Down"},
    {"lesson", "fence_jumped", "F5"},
    {"lesson", "on_left_rein", "F2"},
    {"lesson", "on_right_rein", "F3"},
    {"lesson", "unannounced", "F4"},
    {"lesson", "lunge_sheet", "F8"},
    {"lesson", "clicks", "F10"},
    {"lesson", "clicks_faster", "Alt+Up"},
    {"lesson", "clicks_slower", "Alt+Down"},
    {"lesson", "camera", "F12"},
    {"lesson", "later", "]"},
    {"lesson", "sooner", "["},
    {"lesson", "keep_half_minute", "Backspace"},
    {"lesson", "whole_screen", "F11"},
    {"lesson", "new_lesson", "Insert"},
    {"arena", "sum_poles", "1"},
    {"arena", "sum_fan", "2"},
    {"arena", "sum_grid", "3"},
    {"arena", "sum_circle", "4"},
    {"arena", "sum_pace", "5"},
    {"arena", "sum_line", "6"},
    {"arena", "arena_size", "Z"},
    {"arena", "next_horse", "H"},
    {"arena", "next_gait", "G"},
    {"arena", "next_kind", "K"},
    {"arena", "play_clicks", "Space"},
    {"arena", "save_clicks", "W"},
    {"arena", "save_drawing", "S"},
    {"review", "copy_frame", "Ctrl+C"},
    {"review", "copy_bare_frame", "Ctrl+Shift+C"},
    {"review", "save_frame", "Ctrl+S"},
    {"review", "save_stretch", "Ctrl+Shift+S"},
    {"everywhere", "find_action", "Ctrl+K"},
    {"everywhere", "find_words", "Ctrl+F"},
    {"everywhere", "add_clips", "Ctrl+O"},
    {"everywhere", "undo", "Ctrl+Z"},
    {"everywhere", "redo", "Ctrl+Y Ctrl+Shift+Z"},
    {"everywhere", "save_marks", "Ctrl+E"},
    {"everywhere", "take_marks", "Ctrl+I"},
    {"everywhere", "theme", "F9"},
    {"everywhere", "all_keys", "F1 ?"},
    {"everywhere", "leave", "Ctrl+Q"},
};

}  // namespace

QList<QKeySequence> view_keys(const QString& id) {
    QList<QKeySequence> out;
    for (const ViewKey& k : kViewKeys) {
        if (id != k.id) continue;
        for (const QString& one : QString(k.keys).split(' ')) out << QKeySequence(one);
    }
    return out;
}

QList<std::pair<QString, QString>> view_key_ids() {
    QList<std::pair<QString, QString>> out;
    for (const ViewKey& k : kViewKeys) out << std::pair(QString(k.id), QString(k.view));
    return out;
}

}  // namespace aspen::ui
